import { fromHundredths, toHundredths } from '@ecoute/core/scoring/points';
import { reachable, type Choice } from '@ecoute/core/scoring/scheme';
import { releaseFigures, type ReleaseFigures } from '@ecoute/core/statistics/release';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { isBack } from '@ecoute/core/timing/sittingState';
import { carriedBy, carriedPoints } from '@ecoute/contract/assessment/points';
import type { Me } from '@ecoute/contract/people';
import type { NumbersAnswer, ReleaseNumbers } from '@ecoute/contract/results';
import { teachesClass } from '../../platform/access/store';
import type { Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { codeNames } from '../releases/names';
import { studentsFrom, type StudentStanding } from '../releases/standing';
import { standings } from '../releases/standings.store';
import { findRelease, timesOf } from '../releases/store';
import { hearingsOf, passedItems } from '../sittings/events.store';
import { LEAST_TOGETHER, notOpened } from './markbook';
import * as store from './store';

const at = (sittingId: string, itemId: string) => `${sittingId} ${itemId}`;

/**
 * One release in numbers, and all its answers for a table that plays.
 * @throws Trouble notAllowed for a coordinator to whom the class's teachers have not opened its figures
 */
export async function numbersOf(pool: Pool, viewer: Me, releaseId: string): Promise<ReleaseNumbers> {
  const release = await findRelease(pool, releaseId);
  const room = release && (await store.findClass(pool, release.classId));
  if (!release || !room) throw notFound();
  const teaches = await teachesClass(pool, viewer.id, release.classId);
  if (!teaches && room.figuresFor === 'nobody') throw notOpened(room.name);
  const { content } = release;
  const nameOf = await codeNames(pool, release);
  const isHidden = (s: StudentStanding) => nameOf !== null && !isBack(s.standing.state);
  const called = (s: StudentStanding) => (isHidden(s) ? nameOf!(s.studentId) : s.displayName);
  const students = studentsFrom(timesOf(release), await standings(pool, [releaseId]), Date.now()).filter(
    s => s.counting?.handedInAt,
  );
  // The order of the alphabet would tell whose a recording is.
  if (nameOf) students.sort((a, b) => (called(a) < called(b) ? -1 : 1));
  const ids = students.map(s => s.counting!.id);
  const [takes, marks, heard, written, passes, sums] = await Promise.all([
    store.takesOfRelease(pool, releaseId),
    store.marksOfRelease(pool, releaseId),
    hearingsOf(pool, ids),
    store.writtenIn(pool, releaseId),
    passedItems(pool, ids),
    store.sumsOf(pool, [releaseId]),
  ]);
  const takesAt = new Map<string, store.LightTake[]>();
  for (const take of takes) {
    const own = takesAt.get(at(take.sittingId, take.itemId));
    if (own) own.push(take);
    else takesAt.set(at(take.sittingId, take.itemId), [take]);
  }
  const markAt = new Map(marks.map(m => [at(m.sittingId, m.itemId), m]));
  const heardAt = new Map(heard.map(h => [at(h.sittingId, h.itemId), Number(h.count)]));
  const passedAt = new Set(passes.map(p => at(p.sittingId, p.itemId)));
  const sumOf = new Map(sums.map(s => [s.sittingId, s]));
  const items = content.items.filter(i => i.answerBy !== 'nothing');
  const criteria = content.scoring.kind === 'rubric' ? (content.scoring.rubric?.criteria ?? []) : [];
  const answers: NumbersAnswer[] = [];
  const choices: Choice[][] = [];
  for (const student of students)
    for (const item of items) {
      const { counting } = student;
      const place = at(counting!.id, item.id);
      const own = takesAt.get(place) ?? [];
      const take = own.length === 0 ? null : countingTake<store.LightTake>(own);
      const isWritten = written.has(place);
      const passed = !take && !isWritten && passedAt.has(place);
      if (!take && !isWritten && !passed) continue;
      const mark = markAt.get(place);
      choices.push(mark?.choices ? (JSON.parse(mark.choices) as Choice[]) : []);
      answers.push({
        sittingId: counting!.id,
        itemId: item.id,
        takeId: take?.id ?? null,
        durationMs: take?.durationMs ?? null,
        points: mark?.pointsHundredths == null ? null : fromHundredths(mark.pointsHundredths),
        passed,
        written: isWritten,
        levels: mark
          ? criteria.map(c => choices.at(-1)!.find(x => x.criterionId === c.id)?.level ?? null)
          : [],
        takes: own.filter(t => t.stands).length,
        hearings: heardAt.get(place) ?? 0,
        // … and so would the moment in which it was handed in.
        handedInAt: isHidden(student) ? null : counting!.handedInAt!.toISOString(),
      });
    }
  const { scoring } = content;
  const isMarked = (s: (typeof students)[number]) =>
    s.standing.state === 'marked' || isBack(s.standing.state);
  const scheme = { kind: scoring.kind, levels: scoring.scale.length, rubric: scoring.rubric };
  const analysed = items.map(i => ({
    id: i.id,
    carries: toHundredths(carriedBy(content, i)),
    answerLimitMs: i.answerLimitMs,
  }));
  const figures = releaseFigures(
    scheme,
    analysed,
    students.map(s => ({
      id: s.counting!.id,
      isMarked: isMarked(s),
      level: scoring.kind === 'level' ? (sumOf.get(s.counting!.id)?.level ?? null) : null,
    })),
    answers.map((a, i) => ({
      ...a,
      points: a.points === null ? null : toHundredths(a.points),
      choices: choices[i]!,
    })),
  );
  const carries = reachable(scoring.kind, carriedPoints(content));
  return {
    releaseId,
    classId: release.classId,
    className: room.name,
    title: content.title,
    dueAt: release.dueAt.toISOString(),
    teaches,
    scheme: scoring.kind,
    carries: carries === null ? null : fromHundredths(carries),
    scale: scoring.kind === 'level' ? scoring.scale.map(l => l.name) : [],
    criteria: criteria.map(c => ({
      id: c.id,
      name: c.name,
      levels: scoring.rubric!.levels.map(l => l.name),
    })),
    items: items.map(i => ({
      id: i.id,
      number: content.items.indexOf(i) + 1,
      prompt: i.promptText,
      carries: carriedBy(content, i),
    })),
    figures: teaches
      ? figures
      : room.figuresFor === 'class' && figures.marked < LEAST_TOGETHER
        ? { ...releaseFigures(scheme, analysed, [], []), handedIn: figures.handedIn, marked: figures.marked }
        : withoutSittings(figures),
    sittings: teaches ? students.map(s => ({ id: s.counting!.id, studentName: called(s) })) : [],
    answers: teaches ? answers : [],
  };
}

/** Figures as a coordinator sees them: how many, and not who. */
function withoutSittings(figures: ReleaseFigures): ReleaseFigures {
  const bare = <T extends { sittingIds: string[] }>(all: readonly T[]) =>
    all.map(one => ({ ...one, sittingIds: [] }));
  return {
    ...figures,
    bars: bare(figures.bars),
    levels: figures.levels && bare(figures.levels),
    items: figures.items.map(i => ({ ...i, bars: bare(i.bars) })),
  };
}
