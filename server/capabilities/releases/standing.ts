import {
  countingSitting,
  openSitting,
  standingAt,
  timesFor,
  type Exception,
  type ReleaseTimes,
  type SittingInLine,
  type Standing,
} from '@ecoute/core/timing/sittingState';
import type { StandingRow } from './standings.store';

export interface Sat extends SittingInLine {
  id: string;
  handedInAt: Date | null;
  feedbackAt: Date | null;
  /** When it was due before a later one was allowed. */
  dueWasMs: number | null;
  /** Why it was recorded again; null where it was not. */
  againFor: string | null;
  askedAgain: boolean;
  lateAccepted: boolean;
  notesShown: boolean;
  /** The student has said something last, and it waits for the teacher. */
  replyWaits: boolean;
  /** One overall level is to be given, and none is yet. */
  lacksLevel: boolean;
  /** Its student has looked at the feedback. */
  opened: boolean;
  asked: number;
  replied: number;
  answered: number;
  finished: number;
  waitingMs: number;
}

/** One student of a release: all their sittings, which of them counts, and where they stand. */
export interface StudentStanding {
  releaseId: string;
  studentId: string;
  displayName: string;
  /** What comments call them, where that was set. */
  called: string | null;
  signInName: string;
  email: string | null;
  remindedAt: Date | null;
  exception: Exception;
  /** Times as they hold for this student. */
  times: ReleaseTimes;
  sittings: Sat[];
  counting: Sat | null;
  /** The one under way, if any. */
  open: Sat | null;
  standing: Standing;
}

/**
 * Students from the rows of one release, in the order of the rows. While somebody goes through it once more, what
 * they handed in before still stands.
 */
export function studentsFrom(
  times: ReleaseTimes,
  rows: readonly StandingRow[],
  nowMs: number,
): StudentStanding[] {
  const found = new Map<string, StandingRow[]>();
  for (const row of rows) {
    const of = found.get(row.studentId);
    if (of) of.push(row);
    else found.set(row.studentId, [row]);
  }
  return [...found.values()].map(own => {
    const { releaseId, studentId, displayName, called, signInName, email, remindedAt, exception } = own[0]!;
    const sittings = own.flatMap(satOf);
    const counting = countingSitting(sittings);
    return {
      releaseId,
      studentId,
      displayName,
      called,
      signInName,
      email,
      remindedAt,
      exception,
      times: timesFor(times, exception),
      sittings,
      counting,
      open: openSitting(sittings),
      standing: standingAt(times, exception, counting && factsOf(counting), nowMs),
    };
  });
}

function satOf(row: StandingRow): Sat[] {
  if (row.sittingId === null) return [];
  const { handedInAt, feedbackAt } = row;
  return [
    {
      id: row.sittingId,
      number: row.number!,
      handedInAtMs: handedInAt?.getTime() ?? null,
      handedInAt,
      feedbackAt,
      dueWasMs: row.dueWas?.getTime() ?? null,
      againFor: row.againFor,
      setAside: Boolean(row.setAside),
      askedAgain: Boolean(row.askedAgain),
      lateAccepted: Boolean(row.lateAccepted),
      notesShown: Boolean(row.notesShown),
      replyWaits: Boolean(row.replyWaits),
      lacksLevel: Boolean(row.lacksLevel),
      opened: Boolean(row.opened),
      asked: Number(row.asked),
      replied: Number(row.replied),
      answered: Number(row.answered),
      finished: Number(row.finished),
      waitingMs: Number(row.waitingMs),
    },
  ];
}

/** The facts that core decides by. */
function factsOf(sat: Sat) {
  const { handedInAtMs, dueWasMs, feedbackAt, answered, finished, askedAgain, lateAccepted, asked, replied } =
    sat;
  return {
    handedInAtMs,
    dueWasMs,
    feedbackAtMs: feedbackAt?.getTime() ?? null,
    marked: finished >= answered && !sat.lacksLevel,
    askedAgain,
    lateAccepted,
    asked,
    replied,
  };
}
