import { countingTake } from '@ecoute/core/timing/itemRun';
import { isFeedbackGiven } from '@ecoute/core/timing/sittingState';
import { randomUUID } from 'node:crypto';
import { toHundredths } from '@ecoute/core/scoring/points';
import { isChanged, markProblem } from '@ecoute/core/scoring/changes';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type {
  Mark,
  MarkHistory,
  OverallLevel,
  FeedbackResult,
  GiveFeedback,
  SaveLevel,
  SaveMark,
  GivePraise,
  CalledOff,
} from '@ecoute/contract/marking';
import type { RubricChoice } from '@ecoute/contract/judgements';
import type { Me } from '@ecoute/contract/people';
import { isDuplicate, transaction, type Pool, type Queryable } from '../../platform/database';
import { invalid, notFound, Trouble } from '../../platform/trouble';
import { UNTIL_DONE, type JobQueue } from '../../platform/jobs/queue';
import { insertChange } from '../../platform/changes/store';
import { findRelease, hideNames } from '../releases/store';
import { asksOf, countAsks, putAsk } from '../replies/store';
import { refreshFacts } from '../sittings/facts';
import { findSitting } from '../sittings/store';
import {
  finishedItems,
  sittingOfTake,
  takesOfSittings,
  writtenOf,
  type TakeRow,
} from '../sittings/answers.store';
import { alikeWith, findJoint, peopleIn } from '../sittings/joint.store';
import { codeNames } from '../releases/names';
import { insertNamesChange } from '../releases/names.store';
import * as store from './store';
import { choicesIn, markView } from './view';

/** So long after finishing it can be taken back, in ms: longer than the page offers it, for the way there. */
const TAKES_BACK_WITHIN_MS = 60_000;

async function mayTakeBack(
  db: Queryable,
  teacher: Me,
  sitting: { id: string; feedbackAt: Date | null },
  { authorId, finishedAt, itemId }: store.MarkRow,
): Promise<boolean> {
  if (authorId !== teacher.id || Date.now() - finishedAt!.getTime() > TAKES_BACK_WITHIN_MS) return false;
  // Set for a time to come as well: it would be given unfinished then.
  if (sitting.feedbackAt) return false;
  const finishedEver = (await store.marksEver(db, sitting.id)).filter(m => m.itemId === itemId);
  return finishedEver.length === 1;
}

/** Scores, comments and praise of answers, and their return. */
export class Marks {
  constructor(
    private readonly pool: Pool,
    private readonly jobs: JobQueue,
  ) {
    jobs.on('tellFeedback', (payload: Told) => this.tellFeedback(this.pool, payload), UNTIL_DONE);
    jobs.on('mirrorMarks', ({ id }: { id: string }) => this.mirrorJoint(id), UNTIL_DONE);
  }

  /**
   * Keeps points and comment of one answer. While unfinished it is rewritten; a finished mark is superseded. A first finishing
   * is taken back by whoever finished, within a minute, while no feedback is given or set: then it was a slip of the hand.
   * @throws Trouble stale, with the mark that holds, when somebody saved in between; invalid beyond the item's
   * points; notHandedIn; decidedOtherwise
   */
  async save(teacher: Me, sittingId: string, itemId: string, wanted: SaveMark): Promise<Mark> {
    try {
      return await transaction(this.pool, async db => {
        const sitting = await findSitting(db, sittingId, true);
        const release = sitting && (await findRelease(db, sitting.releaseId));
        const item = release?.content.items.find(i => i.id === itemId);
        if (!sitting || !release || !item) throw notFound();
        if (!sitting.handedInAt)
          throw new Trouble('notHandedIn', 'This is not handed in yet. Wait for the hand-in, then mark it.');
        if (sitting.askedAgainAt && wanted.finished)
          throw new Trouble(
            'decidedOtherwise',
            'Its student was asked to record again meanwhile. Undo that, or mark what is handed in next.',
          );
        if (sitting.setAsideAt && wanted.finished)
          throw new Trouble(
            'decidedOtherwise',
            'This was set aside meanwhile. Undo that first if it should count.',
          );
        const points = wanted.points ?? null;
        const hundredths = points === null ? null : toHundredths(points);
        const carried = toHundredths(carriedBy(release.content, item));
        const choices = wanted.choices ?? [];
        if (choices.some(c => !hasLevel(release.content, item, c)))
          throw new Trouble('invalid', 'This rubric has no such level. Reload the page to see it as it is.');
        const holding = await store.findMark(db, sittingId, itemId);
        if ((holding?.revision ?? 0) !== wanted.revision)
          throw new Trouble(
            'stale',
            `${holding?.authorName ?? 'Somebody'} has marked this answer meanwhile. Yours is still in the field: look at both and save again.`,
            { current: holding && markView(holding) },
          );
        const reason = wanted.reason?.trim() ?? '';
        const before = holding?.finishedAt
          ? { points: holding.pointsHundredths, choices: choicesIn(holding) }
          : null;
        const score = { points: hundredths, choices };
        const problem = markProblem(
          before,
          { ...score, reason },
          { scoring: release.content.scoring, carries: carried, finishes: wanted.finished },
        );
        if (problem) throw invalid(problem.field, problem.message);
        const takesBack = !wanted.finished && holding?.finishedAt != null;
        if (takesBack && !(await mayTakeBack(db, teacher, sitting, holding)))
          throw new Trouble(
            'decidedOtherwise',
            'This is finished and counts. Change the score and finish again; what it was before is kept.',
          );
        const isRewritten = holding?.finishedAt === null || takesBack;
        const mark: store.NewMark = {
          id: isRewritten ? holding!.id : randomUUID(),
          sittingId,
          itemId,
          revision: wanted.revision + 1,
          pointsHundredths: hundredths,
          comment: wanted.comment,
          choices: choices.length > 0 ? JSON.stringify(choices) : null,
          // What explained the score goes on explaining it while only the comment changes.
          reason: reason || (before && !isChanged(before, score) ? holding!.reason : ''),
          finishedAt: wanted.finished ? new Date() : null,
          authorId: teacher.id,
        };
        if (isRewritten) await store.rewriteMark(db, mark);
        else {
          if (holding) await store.supersede(db, holding.id);
          await store.insertMark(db, mark);
        }
        await this.mirror(db, sittingId, itemId);
        await refreshFacts(db, [sittingId]);
        // A score of what was recorded again answers it.
        await countAsks(db, sittingId);
        await insertChange(db, {
          kind: 'release',
          subjectId: release.id,
          classId: release.classId,
          personId: null,
        });
        // Who has it back sees what is changed since, without asking.
        if (isFeedbackGiven(sitting, Date.now()))
          await this.tellFeedback(db, {
            releaseId: release.id,
            classId: release.classId,
            studentId: sitting.studentId,
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
   * @throws Trouble invalid for a level that the scale does not have, or without a reason for another one; closed
   * before hand-in; stale, with the level that holds, when somebody gave one in between
   */
  async giveLevel(teacher: Me, sittingId: string, wanted: SaveLevel): Promise<OverallLevel> {
    const level = wanted.level ?? null;
    const reason = wanted.reason?.trim() ?? '';
    return transaction(this.pool, async db => {
      const sitting = await findSitting(db, sittingId, true);
      const release = sitting && (await findRelease(db, sitting.releaseId));
      if (!sitting || !release) throw notFound();
      if (!sitting.handedInAt)
        throw new Trouble(
          'notHandedIn',
          'This is not handed in yet. Wait for the hand-in, then give the level.',
        );
      if (level !== null && level >= release.content.scoring.scale.length)
        throw new Trouble('invalid', 'This scale has no such level. Reload the page to see it as it is.');
      const holding = (await store.levelsOf(db, [sittingId])).get(sittingId) ?? { level: null, revision: 0 };
      if (holding.revision !== wanted.revision)
        throw new Trouble('stale', 'Somebody has given a level meanwhile. Look at it, then choose again.', {
          current: holding,
        });
      if (holding.level === level) return holding;
      if (holding.level !== null && reason === '') {
        const message = 'Say why the level changes: it is kept with the one before.';
        throw new Trouble('invalid', message, { fields: { reason: message } });
      }
      await store.giveLevel(db, { id: randomUUID(), sittingId, level, reason, authorId: teacher.id });
      await this.mirrorLevel(db, sittingId, { level, reason, authorId: teacher.id });
      await refreshFacts(db, [sittingId]);
      await insertChange(db, {
        kind: 'release',
        subjectId: release.id,
        classId: release.classId,
        personId: null,
      });
      return { level, revision: holding.revision + 1 };
    });
  }

  /** Who gave what when, and why. */
  async history(sittingId: string): Promise<MarkHistory> {
    const marks = await store.marksEver(this.pool, sittingId);
    const levels = await store.levelsEver(this.pool, sittingId);
    return {
      marks: marks.map(m => {
        const { points, choices, comment, reason, authorName } = markView(m);
        const at = m.finishedAt!.toISOString();
        return { itemId: m.itemId, points, choices, comment, reason, authorName, at };
      }),
      levels: levels.map(l => ({ ...l, at: l.at.toISOString() })),
    };
  }

  /**
   * What some people answered as one is scored as one: the mark of one answer becomes that of the others who are heard in it,
   * as long as they are not scored apart.
   */
  private async mirror(db: Queryable, sittingId: string, itemId: string): Promise<void> {
    const others = (await alikeWith(db, sittingId)).filter(o => o.itemId === itemId);
    const mark = others.length > 0 ? await store.findMark(db, sittingId, itemId) : null;
    if (!mark) return;
    // What one recorded again on request is one's own.
    const own = (await takesOfSittings(db, [sittingId])).filter(t => t.itemId === itemId);
    if (!countingTake<TakeRow>(own)?.jointId) return;
    for (const other of others) {
      const holding = await store.findMark(db, other.sittingId, itemId);
      if (holding && isSameMark(holding, mark)) continue;
      const { pointsHundredths, comment, choices, reason, finishedAt, authorId } = mark;
      const next: store.NewMark = {
        id: randomUUID(),
        sittingId: other.sittingId,
        itemId,
        revision: (holding?.revision ?? 0) + 1,
        ...{ pointsHundredths, comment, choices, reason, finishedAt, authorId },
      };
      // What was finished stays as history; a finishing that was taken back was none.
      if (holding && (holding.finishedAt === null || finishedAt === null))
        await store.rewriteMark(db, { ...next, id: holding.id });
      else {
        if (holding) await store.supersede(db, holding.id);
        await store.insertMark(db, next);
      }
      await refreshFacts(db, [other.sittingId]);
      await countAsks(db, other.sittingId);
      const sitting = await findSitting(db, other.sittingId);
      const release = sitting && (await findRelease(db, sitting.releaseId));
      if (sitting && release && isFeedbackGiven(sitting, Date.now()))
        await this.tellFeedback(db, {
          releaseId: release.id,
          classId: release.classId,
          studentId: sitting.studentId,
        });
    }
  }

  /** The overall level of one is that of the others, where everything was answered together. */
  private async mirrorLevel(
    db: Queryable,
    sittingId: string,
    given: { level: number | null; reason: string; authorId: string },
  ): Promise<void> {
    const sitting = await findSitting(db, sittingId);
    const release = sitting && (await findRelease(db, sitting.releaseId));
    if (!release?.content.items.every(i => i.together || i.answerBy === 'nothing')) return;
    const others = [...new Set((await alikeWith(db, sittingId)).map(o => o.sittingId))];
    const levels = await store.levelsOf(db, others);
    for (const other of others) {
      if ((levels.get(other)?.level ?? null) === given.level) continue;
      await store.giveLevel(db, { id: randomUUID(), sittingId: other, ...given });
      await refreshFacts(db, [other]);
    }
  }

  /** Job: what is scored of a joint answer is scored for those as well who have it since. */
  private async mirrorJoint(jointId: string): Promise<void> {
    await transaction(this.pool, async db => {
      const of = await findJoint(db, jointId, true);
      const lead = (await peopleIn(db, [jointId])).find(p => p.personId === of?.leadId);
      const sittingId = lead?.takeId ? await sittingOfTake(db, lead.takeId) : null;
      if (!of || of.apart || !sittingId) return;
      // As whoever scores it holds it: what is read here before their score stands would be written over it afterwards.
      await findSitting(db, sittingId, true);
      await this.mirror(db, sittingId, of.itemId);
      const level = (await store.levelsOf(db, [sittingId])).get(sittingId)?.level ?? null;
      const mark = await store.findMark(db, sittingId, of.itemId);
      if (level !== null && mark)
        await this.mirrorLevel(db, sittingId, { level, reason: '', authorId: mark.authorId });
    });
  }

  /** Those of some sittings, and of the others who are heard in what they answered, whose answers are all finished. */
  private async withCompanions(db: Queryable, sittingIds: readonly string[]): Promise<string[]> {
    const others = new Set((await alikeWith(db, ...sittingIds)).map(o => o.sittingId));
    const all = new Set(sittingIds);
    for (const sittingId of [...others].filter(id => !all.has(id))) {
      const other = await findSitting(db, sittingId);
      if (!other || other.askedAgainAt || isFeedbackGiven(other, Date.now())) continue;
      const done = await finishedItems(db, [sittingId]);
      const answered = new Set(
        [
          ...(await takesOfSittings(db, [sittingId])).filter(t => t.stands),
          ...(await writtenOf(db, [sittingId])),
        ].map(a => a.itemId),
      );
      if ([...answered].every(itemId => done.has(`${sittingId} ${itemId}`))) all.add(sittingId);
    }
    return [...all];
  }

  /** Gives a few words of praise for an answer, or takes them back. @throws Trouble invalid beyond what is small */
  async praise(teacher: Me, sittingId: string, itemId: string, wanted: GivePraise): Promise<string[]> {
    return transaction(this.pool, async db => {
      const sitting = await findSitting(db, sittingId, true);
      const release = sitting && (await findRelease(db, sitting.releaseId));
      if (!sitting || !release?.content.items.some(i => i.id === itemId)) throw notFound();
      const words = wanted.words.trim();
      await store.setPraise(db, { id: randomUUID(), sittingId, itemId, words, by: teacher.id }, wanted.given);
      const given = (await store.praiseOf(db, [sittingId])).filter(p => p.itemId === itemId);
      if (given.length > 5)
        throw new Trouble('invalid', 'Five words of praise are enough for one answer. Take one back first.');
      for (const other of (await alikeWith(db, sittingId)).filter(o => o.itemId === itemId))
        await store.setPraise(
          db,
          { id: randomUUID(), sittingId: other.sittingId, itemId, words, by: teacher.id },
          wanted.given,
        );
      return given.map(p => p.words);
    });
  }

  /** Hides the names of whoever has no feedback yet from those who listen, or shows them again. */
  async hideNames(teacher: Me, releaseId: string, hidden: boolean): Promise<void> {
    await transaction(this.pool, async db => {
      const release = await findRelease(db, releaseId);
      if (!release) throw notFound();
      if (release.namesHidden === hidden) return;
      await hideNames(db, releaseId, hidden);
      await insertNamesChange(db, { releaseId, hidden, by: teacher.id });
      await insertChange(db, {
        kind: 'release',
        subjectId: releaseId,
        classId: release.classId,
        personId: null,
      });
    });
  }

  /**
   * Returns sittings whose answers are all finished, at once or at a set time; says which were left alone and why.
   * @throws Trouble invalid for a time that has passed
   */
  async giveFeedback(
    teacher: Me,
    releaseId: string,
    { sittingIds: chosen, at, ask }: GiveFeedback,
  ): Promise<FeedbackResult> {
    const release = await findRelease(this.pool, releaseId);
    if (!release) throw notFound();
    const when = at ? new Date(at) : new Date();
    // A minute for whoever took their time over the dialog.
    if (at && when.getTime() < Date.now() - 60_000)
      throw new Trouble('invalid', 'That time has passed. Choose a later one, or give it now.', {
        fields: { at: 'Choose a later time.' },
      });
    const spoken = release.content.items.filter(i => i.answerBy === 'audio');
    if (ask === 'recordAgain' && spoken.length !== 1)
      throw new Trouble('invalid', 'Say which item is to be recorded again: ask for it on its lane.', {
        fields: { ask: 'Ask for it on a lane.' },
      });
    return transaction(this.pool, async db => {
      const sittingIds = await this.withCompanions(db, chosen);
      const sittings = await store.lockSittings(db, releaseId, sittingIds);
      if (sittings.length !== new Set(sittingIds).size) throw notFound();
      const answers = [
        ...(await takesOfSittings(db, sittingIds)).filter(t => t.stands),
        ...(await writtenOf(db, sittingIds)),
      ];
      const done = await finishedItems(db, sittingIds);
      const levels = await store.levelsOf(db, sittingIds);
      const asked = new Set((await asksOf(db, sittingIds)).map(a => a.sittingId));
      const needsLevel = release.content.scoring.kind === 'level';
      const nameOf = await codeNames(db, release);
      const result: FeedbackResult = {
        given: 0,
        givenIds: [],
        at: at ? when.toISOString() : null,
        unfinished: [],
      };
      for (const sitting of sittings) {
        const items = release.content.items.flatMap((item, i) => {
          const answered = answers.some(a => a.sittingId === sitting.id && a.itemId === item.id);
          return answered && !done.has(`${sitting.id} ${item.id}`) ? [i + 1] : [];
        });
        const level = needsLevel && levels.get(sitting.id)?.level == null;
        // What is to be recorded again gets no feedback as well.
        if (sitting.askedAgainAt) continue;
        if (!sitting.handedInAt || items.length > 0 || level)
          result.unfinished.push({
            sittingId: sitting.id,
            studentName: nameOf ? nameOf(sitting.studentId) : sitting.studentName,
            items,
            level,
          });
        else {
          if (ask && !asked.has(sitting.id)) {
            const itemId = ask === 'recordAgain' ? spoken[0]!.id : null;
            const about = { id: randomUUID(), sittingId: sitting.id, itemId, kind: ask, words: '' };
            await putAsk(db, { ...about, by: teacher.id });
            await countAsks(db, sitting.id);
          }
          await store.returnSitting(db, sitting.id, teacher.id, when);
          const told = { releaseId, classId: release.classId, studentId: sitting.studentId };
          // Its student hears of it when its time has come, and not before.
          if (at) {
            await insertChange(db, {
              kind: 'release',
              subjectId: releaseId,
              classId: release.classId,
              personId: null,
            });
            await this.jobs.add(db, 'tellFeedback', told, { runAfter: when, subjectId: sitting.id });
          } else await this.tellFeedback(db, told);
          result.given += 1;
          result.givenIds.push(sitting.id);
        }
      }
      return result;
    });
  }

  /**
   * Takes feedback back: what is still to come, and what its student has not looked at yet. What they have seen stays.
   * @returns how many there were, and how many stay
   */
  async callOff(releaseId: string, chosen: readonly string[]): Promise<CalledOff> {
    return transaction(this.pool, async db => {
      // What was given to several at once is taken back from them at once.
      const alike = await alikeWith(db, ...chosen);
      const sittingIds = [...new Set([...chosen, ...alike.map(o => o.sittingId)])];
      const sittings = await store.lockSittings(db, releaseId, sittingIds);
      if (sittings.length !== new Set(sittingIds).size) throw notFound();
      const release = await findRelease(db, releaseId);
      let calledOff = 0;
      let opened = 0;
      const now = Date.now();
      for (const { id, feedbackAt, studentId } of sittings)
        if (await store.callOffReturn(db, id)) {
          calledOff += 1;
          if (feedbackAt && feedbackAt.getTime() <= now)
            await this.tellFeedback(db, { releaseId, classId: release!.classId, studentId });
        } else if (feedbackAt) opened += 1;
      await insertChange(db, {
        kind: 'release',
        subjectId: releaseId,
        classId: release!.classId,
        personId: null,
      });
      return { calledOff, opened };
    });
  }

  private async tellFeedback(db: Queryable, { releaseId, classId, studentId }: Told): Promise<void> {
    await insertChange(db, { kind: 'feedback', subjectId: releaseId, classId, personId: studentId });
  }
}

/** Whether two marks say the same. */
function isSameMark(a: store.MarkRow, b: store.MarkRow): boolean {
  return (
    a.pointsHundredths === b.pointsHundredths &&
    a.comment === b.comment &&
    a.choices === b.choices &&
    (a.finishedAt === null) === (b.finishedAt === null)
  );
}

/** Whom feedback concerns. */
interface Told {
  releaseId: string;
  classId: string;
  studentId: string;
}

/**
 * Whether a choice is one that the scheme knows: a level of a criterion; or, where one overall level is given at the
 * end, the level of the scale that the answer to this item shows.
 */
function hasLevel({ scoring }: AssessmentContent, item: Item, { criterionId, level }: RubricChoice): boolean {
  if (scoring.kind === 'level') return criterionId === item.id && level < scoring.scale.length;
  const { rubric } = scoring;
  return rubric !== null && rubric.criteria.some(k => k.id === criterionId) && level < rubric.levels.length;
}
