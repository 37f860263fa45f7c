import { randomUUID } from 'node:crypto';
import { isNumbered } from '@ecoute/core/scoring/scheme';
import { fromHundredths, scoreProblem, toHundredths, totalOf } from '@ecoute/core/scoring/points';
import { orderOf } from '@ecoute/core/timing/order';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { timesFor } from '@ecoute/core/timing/sittingState';
import { isSilent } from '@ecoute/core/audio/peaks';
import { carriedBy, forStudents, type AssessmentContent } from '@ecoute/contract/assessments';
import type {
  Lane,
  ListenView,
  Mark,
  ReturnedEntry,
  ReturnedItem,
  ReturnedView,
  ReturnResult,
  RubricChoice,
  SaveMark,
  Used,
} from '@ecoute/contract/marking';
import type { PlacedTake } from '@ecoute/core/timing/takeClock';
import type { Me } from '@ecoute/contract/people';
import type { Receipt } from '@ecoute/contract/sittings';
import { isDuplicate, transaction, type Pool } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import { notesOf } from '../notes/store';
import { insertChange } from '../../platform/changes/store';
import { studentsFrom } from '../releases/standing';
import { exceptionOf, findRelease, standings, timesOf } from '../releases/store';
import { refreshFacts } from '../sittings/facts';
import {
  findSitting,
  judgementsOf,
  receiptsOf,
  sittingsOf,
  takesOfSittings,
  usedIn,
  writtenOf,
  type JudgementRow,
  type SittingRow,
  type TakeRow,
} from '../sittings/store';
import * as store from './store';

export class Marking {
  constructor(private readonly pool: Pool) {}

  /** Everything the lanes of a release need: students in order of name, items in order of the assessment. */
  async listen(releaseId: string): Promise<ListenView> {
    const release = await findRelease(this.pool, releaseId);
    if (!release) throw notFound();
    const now = Date.now();
    const students = studentsFrom(timesOf(release), await standings(this.pool, [releaseId]), now);
    const sat = students.flatMap(s => (s.counting?.handedInAt ? [{ ...s, sittingId: s.counting.id }] : []));
    const ids = sat.map(s => s.sittingId);
    const takes = await takesOfSittings(this.pool, ids);
    const written = await writtenOf(this.pool, ids);
    const judgements = await judgementsOf(this.pool, ids);
    const receipts = await receiptsOf(this.pool, ids);
    const used = await usedIn(this.pool, ids);
    const notes = await notesOf(
      this.pool,
      takes.map(t => t.id),
    );
    const marks = await store.marksOf(this.pool, ids);
    const levels = await store.levelsOf(this.pool, ids);
    const lanes: Lane[] = [];
    for (const item of release.content.items.filter(i => i.answerBy !== 'nothing'))
      for (const s of sat) {
        const own = takes.filter(t => t.sittingId === s.sittingId && t.itemId === item.id);
        const take = countingTake<TakeRow>(own);
        const mark = marks.find(m => m.sittingId === s.sittingId && m.itemId === item.id);
        lanes.push({
          sittingId: s.sittingId,
          studentId: s.studentId,
          studentName: s.displayName,
          itemId: item.id,
          state: s.standing.state,
          late: s.standing.late,
          takeId: take?.id ?? null,
          durationMs: take?.durationMs ?? null,
          silent:
            take?.recording.medium === 'sound' &&
            take.recording.peakDbfs !== null &&
            isSilent(take.recording.peakDbfs),
          medium: take?.recording.medium ?? null,
          fileName: take?.recording.fileName ?? null,
          placed: placedOf(take),
          source: take?.source ?? null,
          wholeMs: take?.recording.wholeMs ?? null,
          title: take?.title ?? '',
          note: take?.note ?? '',
          pictureId: take?.pictureId ?? null,
          judgement: judgementIn(judgements, s.sittingId, item.id),
          overallJudgement: judgementIn(judgements, s.sittingId, s.sittingId),
          takes: own.filter(t => t.stands).length,
          notes: notes.filter(n => n.takeId === take?.id),
          used: usedFor(used, s.sittingId, item.id),
          written: written.find(w => w.sittingId === s.sittingId && w.itemId === item.id)?.text ?? null,
          passed: passedIn(receipts.get(s.sittingId), item.id),
          level: levels.get(s.sittingId) ?? null,
          mark: mark ? markView(mark) : null,
        });
      }
    return {
      releaseId,
      title: release.content.title,
      className: release.className,
      dueAt: release.dueAt.toISOString(),
      content: release.content,
      lanes,
      missing: students
        .filter(s => !s.counting?.handedInAt && !s.standing.excused)
        .map(s => ({ id: s.studentId, displayName: s.displayName })),
    };
  }

  /**
   * Keeps points and comment of one answer. While unfinished it is rewritten; a finished mark is superseded.
   * @throws Trouble stale, with the mark that holds, when somebody saved in between; invalid beyond the item's
   * points; closed before hand-in
   */
  async save(teacher: Me, sittingId: string, itemId: string, wanted: SaveMark): Promise<Mark> {
    try {
      return await transaction(this.pool, async db => {
        const sitting = await findSitting(db, sittingId, true);
        const release = sitting && (await findRelease(db, sitting.releaseId));
        const item = release?.content.items.find(i => i.id === itemId);
        if (!sitting || !release || !item) throw notFound();
        if (!sitting.handedInAt)
          throw new Trouble('closed', 'This is not handed in yet. Wait for the hand-in, then mark it.');
        const points = wanted.points ?? null;
        const hundredths = points === null ? null : toHundredths(points);
        const carried = toHundredths(carriedBy(release.content, item));
        const problem = hundredths === null ? null : scoreProblem(hundredths, carried);
        if (problem) throw new Trouble('invalid', problem, { fields: { points: problem } });
        const needsPoints = wanted.finished && carried > 0 && hundredths === null;
        if (needsPoints) {
          const message = 'Give points before you finish this answer.';
          throw new Trouble('invalid', message, { fields: { points: message } });
        }
        const choices = wanted.choices ?? [];
        const { rubric } = release.content.scoring;
        const unknown = choices.some(
          c => !rubric?.criteria.some(k => k.id === c.criterionId) || c.level >= rubric.levels.length,
        );
        if (unknown)
          throw new Trouble('invalid', 'This rubric has no such level. Reload the page to see it as it is.');
        const holding = await store.findMark(db, sittingId, itemId);
        if ((holding?.revision ?? 0) !== wanted.revision)
          throw new Trouble(
            'stale',
            `${holding?.authorName ?? 'Somebody'} has marked this answer meanwhile. Yours is still in the field: look at both and save again.`,
            { current: holding && markView(holding) },
          );
        const mark: store.NewMark = {
          id: holding?.finishedAt === null ? holding.id : randomUUID(),
          sittingId,
          itemId,
          revision: wanted.revision + 1,
          pointsHundredths: hundredths,
          comment: wanted.comment,
          choices: choices.length > 0 ? JSON.stringify(choices) : null,
          finishedAt: wanted.finished ? new Date() : null,
          authorId: teacher.id,
        };
        if (holding?.finishedAt === null) await store.rewriteMark(db, mark);
        else {
          if (holding) await store.supersede(db, holding.id);
          await store.insertMark(db, mark);
        }
        await refreshFacts(db, [sittingId]);
        await insertChange(db, {
          kind: 'release',
          subjectId: release.id,
          classId: release.classId,
          personId: null,
        });
        return markView((await store.findMark(db, sittingId, itemId))!);
      });
    } catch (error) {
      // Two first marks in the same instant: the second one finds the first on its next try.
      if (isDuplicate(error))
        throw new Trouble('stale', 'Somebody marked this answer in the same moment. Save again to see both.');
      throw error;
    }
  }

  /**
   * Gives the overall level of a sitting.
   * @throws Trouble invalid for a level that the scale does not have; closed before hand-in
   */
  async giveLevel(teacher: Me, sittingId: string, level: number | null): Promise<{ level: number | null }> {
    return transaction(this.pool, async db => {
      const sitting = await findSitting(db, sittingId, true);
      const release = sitting && (await findRelease(db, sitting.releaseId));
      if (!sitting || !release) throw notFound();
      if (!sitting.handedInAt)
        throw new Trouble('closed', 'This is not handed in yet. Wait for the hand-in, then give the level.');
      if (level !== null && level >= release.content.scoring.scale.length)
        throw new Trouble('invalid', 'This scale has no such level. Reload the page to see it as it is.');
      await store.giveLevel(db, { id: randomUUID(), sittingId, level, authorId: teacher.id });
      return { level };
    });
  }

  /** Returns sittings whose answers are all finished; says which were left alone and why. */
  async giveBack(teacher: Me, releaseId: string, sittingIds: readonly string[]): Promise<ReturnResult> {
    const release = await findRelease(this.pool, releaseId);
    if (!release) throw notFound();
    return transaction(this.pool, async db => {
      const sittings = await store.lockSittings(db, releaseId, sittingIds);
      if (sittings.length !== new Set(sittingIds).size) throw notFound();
      const answers = [
        ...(await takesOfSittings(db, sittingIds)).filter(t => t.stands),
        ...(await writtenOf(db, sittingIds)),
      ];
      const done = await store.finishedItems(db, sittingIds);
      const levels = await store.levelsOf(db, sittingIds);
      const needsLevel = release.content.scoring.kind === 'level';
      const result: ReturnResult = { returned: 0, unfinished: [] };
      for (const sitting of sittings) {
        const items = release.content.items.flatMap((item, i) => {
          const answered = answers.some(a => a.sittingId === sitting.id && a.itemId === item.id);
          return answered && !done.has(`${sitting.id} ${item.id}`) ? [i + 1] : [];
        });
        const level = needsLevel && !levels.has(sitting.id);
        if (!sitting.handedInAt || items.length > 0 || level)
          result.unfinished.push({ sittingId: sitting.id, studentName: sitting.studentName, items, level });
        else {
          await store.returnSitting(db, sitting.id, teacher.id);
          await insertChange(db, {
            kind: 'returned',
            subjectId: releaseId,
            classId: release.classId,
            personId: sitting.studentId,
          });
          result.returned += 1;
        }
      }
      return result;
    });
  }

  /** What came back to a student, newest first. */
  async returnedTo(student: Me): Promise<ReturnedEntry[]> {
    const back = (await sittingsOf(this.pool, student.id)).filter(isReturned);
    return Promise.all(
      back.map(async s => {
        const view = await this.returned(s.id);
        const { sittingId, title, className, returnedAt, total } = view;
        return { sittingId, title, className, returnedAt, total };
      }),
    );
  }

  /** One returned sitting as its student sees it. @throws Trouble notFound before the return */
  async returned(sittingId: string): Promise<ReturnedView> {
    const sitting = await findSitting(this.pool, sittingId);
    const release = sitting && (await findRelease(this.pool, sitting.releaseId));
    if (!sitting || !release || !isReturned(sitting)) throw notFound();
    const exception = await exceptionOf(this.pool, release.id, sitting.studentId);
    const { dueAtMs } = exception ? timesFor(timesOf(release), exception) : timesOf(release);
    const takes = await takesOfSittings(this.pool, [sittingId]);
    const written = await writtenOf(this.pool, [sittingId]);
    const judgements = await judgementsOf(this.pool, [sittingId]);
    const marks = await store.marksOf(this.pool, [sittingId]);
    const notes = await notesOf(
      this.pool,
      takes.map(t => t.id),
    );
    const content = {
      ...release.content,
      items: orderOf(release.content.items, release.content.sections, sittingId),
    };
    const items: ReturnedItem[] = content.items.map(item => {
      const take = countingTake<TakeRow>(takes.filter(t => t.itemId === item.id));
      const mark = marks.find(m => m.itemId === item.id && m.finishedAt);
      return {
        itemId: item.id,
        takeId: take?.id ?? null,
        durationMs: take?.durationMs ?? null,
        medium: take?.recording.medium ?? null,
        fileName: take?.recording.fileName ?? null,
        placed: placedOf(take),
        judgement: judgementIn(judgements, sittingId, item.id),
        written: written.find(w => w.itemId === item.id)?.text ?? null,
        passed: passedIn(sitting.receipt ?? undefined, item.id),
        points:
          release.scoresHeld || mark?.pointsHundredths == null ? null : fromHundredths(mark.pointsHundredths),
        choices: release.scoresHeld ? [] : choicesIn(mark),
        comment: mark?.comment ?? '',
        // What is still on its way, or was never heard, is nobody’s feedback.
        notes: notes.filter(n => n.takeId === take?.id && (n.words !== '' || n.voiceState === 'stored')),
        authorName: mark?.authorName ?? null,
      };
    });
    // Held scores are nobody’s before they are shown: not even the sum of none.
    const total = release.scoresHeld ? null : totalFor(content, items);
    const { scoring } = content;
    const level = (await store.levelsOf(this.pool, [sittingId])).get(sittingId);
    return {
      sittingId,
      title: release.content.title,
      className: release.className,
      handedInAt: sitting.handedInAt!.toISOString(),
      returnedAt: sitting.returnedAt!.toISOString(),
      late: sitting.handedInAt!.getTime() > dueAtMs,
      content: forStudents(content),
      items,
      scoresHeld: release.scoresHeld,
      level:
        !release.scoresHeld && scoring.kind === 'level' && level !== undefined
          ? (scoring.scale[level] ?? null)
          : null,
      enough: total && scoring.passMark !== null ? total.given >= scoring.passMark : null,
      total,
    };
  }
}

function judgementIn(
  all: readonly JudgementRow[],
  sittingId: string,
  itemId: string,
): JudgementRow['judgement'] | null {
  return all.find(j => j.sittingId === sittingId && j.itemId === itemId)?.judgement ?? null;
}

function choicesIn(mark: store.MarkRow | undefined): RubricChoice[] {
  return mark?.choices ? (JSON.parse(mark.choices) as RubricChoice[]) : [];
}

function passedIn(receipt: Receipt | undefined, itemId: string): boolean {
  return receipt?.lines.some(l => l.itemId === itemId && l.passed) ?? false;
}

function isReturned(sitting: SittingRow): boolean {
  return sitting.returnedAt !== null && sitting.returnedAt.getTime() <= Date.now();
}

/** The total of a returned sitting: an item without an answer counts as none of its points. */
function totalFor(
  content: AssessmentContent,
  items: readonly ReturnedItem[],
): { given: number; maximum: number } | null {
  const total = totalOf(
    content.items.map((item, i) => ({
      maximum: isNumbered(content.scoring.kind) ? toHundredths(carriedBy(content, item)) : 0,
      given: items[i]!.points === null ? 0 : toHundredths(items[i]!.points!),
    })),
  );
  return total.scored ? { given: fromHundredths(total.given), maximum: fromHundredths(total.maximum) } : null;
}

function markView(mark: store.MarkRow): Mark {
  return {
    revision: mark.revision,
    points: mark.pointsHundredths === null ? null : fromHundredths(mark.pointsHundredths),
    comment: mark.comment,
    choices: choicesIn(mark),
    finished: mark.finishedAt !== null,
    authorName: mark.authorName,
    updatedAt: mark.updatedAt.toISOString(),
  };
}

/** What was used on the way to one answer. */
function usedFor(
  all: readonly (Used & { sittingId: string; itemId: string })[],
  sittingId: string,
  itemId: string,
): Used {
  const own = all.find(u => u.sittingId === sittingId && u.itemId === itemId);
  return { hearings: own?.hearings ?? 0, hints: own?.hints ?? 0, readAlouds: own?.readAlouds ?? 0 };
}

function placedOf(take: TakeRow | null): PlacedTake {
  return { clock: take?.clock ?? null, gateMs: take?.recording.gateMs ?? null };
}
