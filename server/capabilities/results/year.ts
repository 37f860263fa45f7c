import { calledName, filledIn } from '@ecoute/core/feedback/comments';
import { fromHundredths } from '@ecoute/core/scoring/points';
import { isNumbered, reachable, type Choice } from '@ecoute/core/scoring/scheme';
import { recurringOf } from '@ecoute/core/statistics/recurring';
import { countingTake } from '@ecoute/core/timing/itemRun';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { answerKindOf } from '@ecoute/contract/assessment/kinds';
import { carriedBy, carriedPoints } from '@ecoute/contract/assessment/points';
import type { Me } from '@ecoute/contract/people';
import { outlineOf } from '@ecoute/contract/releases';
import type { StudentYear, YearAnswer, YearSitting } from '@ecoute/contract/results';
import type { Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { studentsFrom, type Sat, type StudentStanding } from '../releases/standing';
import { releasesWith, timesOf, type ReleaseRow } from '../releases/store';
import { standings } from '../releases/standings.store';
import { openFeedback } from '../sittings/store';
import * as store from './store';

/** What of a student's work is told: to a teacher of one class, or to the student, who sees what came back to them. */
interface Telling {
  studentId: string;
  /** What comments call them. */
  called: string;
  displayName: string;
  room: { id: string; name: string } | null;
  isOwn: boolean;
}

/** One student of a class over the dates. @throws Trouble notFound for somebody who never was in it */
export async function yearOf(pool: Pool, classId: string, studentId: string): Promise<StudentYear> {
  const room = await store.findClass(pool, classId);
  const student = await store.studentIn(pool, classId, studentId);
  if (!room || !student) throw notFound();
  const { displayName, called } = student;
  return told(pool, {
    studentId,
    displayName,
    called: calledName(displayName, called),
    room: { id: classId, name: room.name },
    isOwn: false,
  });
}

/** A student's own year, in all their classes; of what is not given back yet they hear only themselves. */
export async function ownYear(pool: Pool, student: Me): Promise<StudentYear> {
  return told(pool, {
    studentId: student.id,
    displayName: student.displayName,
    called: calledName(student.displayName, await store.calledOf(pool, student.id)),
    room: null,
    isOwn: true,
  });
}

async function told(pool: Pool, telling: Telling): Promise<StudentYear> {
  const { studentId, room, isOwn } = telling;
  const handedIn = await store.handedInBy(pool, studentId, room?.id ?? null);
  const releaseIds = await store.releasesFor(pool, studentId, room?.id ?? null);
  const ids = [...new Set([...handedIn.map(s => s.releaseId), ...releaseIds])];
  const releases = await releasesWith(pool, ids);
  const rows = await standings(pool, ids, studentId);
  const now = Date.now();
  const standingOf = new Map(
    ids.map(id => [
      id,
      studentsFrom(
        timesOf(releases.get(id)!),
        rows.filter(r => r.releaseId === id),
        now,
      )[0],
    ]),
  );
  // By name nothing is told of what is heard without names.
  const shown = handedIn.filter(s => {
    const release = releases.get(s.releaseId);
    const sat = satIn(standingOf.get(s.releaseId), s.id);
    return release && sat && (isOwn || !release.namesHidden || isReturned(sat, now));
  });
  const shownIds = shown.map(s => s.id);
  const backIds = shown
    .filter(s => isReturned(satIn(standingOf.get(s.releaseId), s.id)!, now))
    .map(s => s.id);
  // Their points are seen here.
  if (isOwn) await openFeedback(pool, backIds);
  const takes = await store.lightTakesOf(pool, shownIds);
  const marks = await store.marksWithWords(pool, isOwn ? backIds : shownIds);
  const notes = await store.notedWords(pool, isOwn ? backIds : shownIds);
  const sums = new Map((await store.sumsOf(pool, ids, studentId)).map(s => [s.sittingId, s]));
  const figures = await store.figuresOf(
    pool,
    takes.filter(t => t.stands).map(t => t.id),
  );
  const sittings = shown.map((s): YearSitting => {
    const release = releases.get(s.releaseId)!;
    const standing = standingOf.get(s.releaseId)!;
    const sat = satIn(standing, s.id)!;
    const isGiven = isReturned(sat, now);
    const seesScores = !isOwn || (isGiven && !release.scoresHeld);
    const seesFigures =
      !isOwn ||
      release.content.evidenceOpens === 'atOnce' ||
      (release.content.evidenceOpens === 'afterReturn' && isGiven);
    const own = {
      takes: takes.filter(t => t.sittingId === s.id),
      marks: seesScores ? marks.filter(m => m.sittingId === s.id) : [],
      figures: seesFigures ? figures : new Map<string, never>(),
    };
    const { content } = release;
    const carries = reachable(content.scoring.kind, carriedPoints(content));
    const isMarked = sat.finished >= sat.answered && !sat.lacksLevel;
    const sum = sums.get(s.id);
    const levelPlace =
      seesScores && content.scoring.kind === 'level' && sum?.level != null ? Number(sum.level) : null;
    return {
      sittingId: s.id,
      releaseId: s.releaseId,
      title: content.title,
      className: release.className,
      at: sat.handedInAt!.toISOString(),
      superseded: standing.counting?.id !== s.id,
      late: standing.counting?.id === s.id && standing.standing.late,
      feedbackGiven: isGiven,
      points: seesScores && isMarked && carries !== null ? fromHundredths(Number(sum?.points ?? 0)) : null,
      carries: carries === null || carries === 0 ? null : fromHundredths(carries),
      level: levelPlace === null ? null : (content.scoring.scale[levelPlace]?.name ?? null),
      outline: outlineOf(content),
      asked: sat.asked,
      replied: sat.replied,
      answers: answersOf(content, release, own),
    };
  });
  // As in the feedback: what was written while names were hidden is filled in once they show.
  const own = (words: string) => filledIn(words, { name: telling.called, time: null });
  const all = [...standingOf.values()].flatMap(s => (s ? [s.standing] : []));
  return {
    studentId,
    studentName: telling.displayName,
    classId: room?.id ?? null,
    className: room?.name ?? null,
    sittings: sittings.sort((a, b) => (a.at < b.at ? -1 : 1)),
    recurring: recurringOf(
      [
        ...marks.map(m => ({
          words: own(m.comment),
          sittingId: m.sittingId,
          at: m.finishedAt.toISOString(),
        })),
        ...notes.map(n => ({ words: own(n.words), sittingId: n.sittingId, at: n.at.toISOString() })),
      ],
      [telling.displayName, telling.called],
    ),
    missing: all.filter(s => s.missing).length,
    excused: all.filter(s => s.excused).length,
  };
}

function satIn(standing: StudentStanding | undefined, sittingId: string): Sat | undefined {
  return standing?.sittings.find(s => s.id === sittingId);
}

function isReturned({ feedbackAt }: Sat, nowMs: number): boolean {
  return feedbackAt !== null && feedbackAt.getTime() <= nowMs;
}

function answersOf(
  content: AssessmentContent,
  { subject }: ReleaseRow,
  own: {
    takes: readonly store.LightTake[];
    marks: Awaited<ReturnType<typeof store.marksWithWords>>;
    figures: Awaited<ReturnType<typeof store.figuresOf>>;
  },
): YearAnswer[] {
  return content.items.flatMap(item => {
    if (item.answerBy === 'nothing') return [];
    const take = countingTake<store.LightTake>(own.takes.filter(t => t.itemId === item.id));
    const mark = own.marks.find(m => m.itemId === item.id);
    if (!take && !mark) return [];
    const points = mark?.pointsHundredths ?? null;
    return [
      {
        itemId: item.id,
        prompt: item.promptText,
        kind: answerKindOf(item, subject),
        tags: [...content.tags, ...item.tags],
        takeId: take?.id ?? null,
        durationMs: take?.durationMs ?? null,
        points: points === null || !isNumbered(content.scoring.kind) ? null : fromHundredths(points),
        carries: isNumbered(content.scoring.kind) ? carriedBy(content, item) : 0,
        shows: shownLevel(content, item, mark?.choices ?? null)?.name ?? null,
        figures: (take && own.figures.get(take.id)) ?? {},
      },
    ];
  });
}

/** The level that one answer shows, where an overall level is given at the end and each answer may show one. */
export function shownLevel(
  { scoring }: AssessmentContent,
  item: Item,
  choices: string | null,
): { place: number; name: string } | null {
  if (scoring.kind !== 'level' || !choices) return null;
  const place = (JSON.parse(choices) as Choice[]).find(c => c.criterionId === item.id)?.level;
  const name = place === undefined ? undefined : scoring.scale[place]?.name;
  return name === undefined ? null : { place: place!, name };
}
