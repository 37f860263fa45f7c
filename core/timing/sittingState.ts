/** Where a student stands with a release. Worked out from facts and the clock; never stored. */

export type SittingState = 'notOpened' | 'underWay' | 'handedIn' | 'marked' | 'feedbackGiven' | 'answered';

/** How many students of a release have handed in, whatever came of it. */
export function handedInOf({
  handedIn,
  marked,
  feedbackGiven,
  answered,
}: Pick<Record<SittingState, number>, 'handedIn' | 'marked' | 'feedbackGiven' | 'answered'>): number {
  return handedIn + marked + feedbackGiven + answered;
}

/** Whether a student has their work back; what is answered had feedback before. */
export function isBack(state: SittingState): boolean {
  return state === 'feedbackGiven' || state === 'answered';
}

/** What a sitting remembers of what came back to its student. */
export interface Back {
  feedbackAt: Date | null;
  askedAgainAt: Date | null;
  notesShownAt: Date | null;
}

/** Whether the student has it back. Feedback may be set for a time that is still to come. */
export function isFeedbackGiven({ feedbackAt }: Pick<Back, 'feedbackAt'>, nowMs: number): boolean {
  return feedbackAt !== null && feedbackAt.getTime() <= nowMs;
}

/** Whether a student may hear notes: after the feedback, when it is to be recorded again, or when a teacher lets them before. */
export function showsNotes(sitting: Back, nowMs: number): boolean {
  return isFeedbackGiven(sitting, nowMs) || sitting.askedAgainAt !== null || sitting.notesShownAt !== null;
}

/** The times of a release. Instants in ms since 1970 (UTC). */
export interface ReleaseTimes {
  opensAtMs: number;
  dueAtMs: number;
  /** When late work is no longer taken; null for never. Without late work the due time closes. */
  closesAtMs: number | null;
  lateAccepted: boolean;
  /** Kept out of sight until a teacher shows it by hand. */
  hidden: boolean;
}

/** What a teacher has granted one student beside the times of everybody. */
export interface Exception {
  /** An extension; null for none. */
  dueAtMs: number | null;
  excused: boolean;
  /** Sittings beyond those that the release allows. */
  extraSittings: number;
}

export const NO_EXCEPTION: Exception = { dueAtMs: null, excused: false, extraSittings: 0 };

export interface SittingFacts {
  handedInAtMs: number | null;
  /** When it was due, where a later sitting was allowed since and the time with it. */
  dueWasMs?: number | null;
  feedbackAtMs: number | null;
  /** True when every item has a finished mark. */
  marked: boolean;
  /** To be recorded again. */
  askedAgain?: boolean;
  /** A teacher lets it count as handed in in time. */
  lateAccepted?: boolean;
  /** Answers that the feedback asks for, and how many of them are given. */
  asked?: number;
  replied?: number;
}

export interface Standing {
  state: SittingState;
  /** Handed in after the due time. */
  late: boolean;
  /** Due time passed with nothing handed in. */
  missing: boolean;
  excused: boolean;
  /** What counts is to be recorded again, and nothing newer is handed in yet. */
  askedAgain: boolean;
}

/**
 * The times as they hold for one student: an extension moves the due time, and the closing with it. Where everybody's due
 * time was moved beyond it since, theirs is everybody's.
 */
export function timesFor(release: ReleaseTimes, exception: Exception): ReleaseTimes {
  if (exception.dueAtMs === null || exception.dueAtMs <= release.dueAtMs) return release;
  const { dueAtMs } = exception;
  const { closesAtMs } = release;
  return { ...release, dueAtMs, closesAtMs: closesAtMs === null ? null : Math.max(closesAtMs, dueAtMs) };
}

/**
 * Where one student stands: the one place where states are decided.
 * @param release   the times of everybody
 * @param exception what this student was granted
 * @param sitting   the sitting that counts; null before the assessment was opened
 */
export function standingAt(
  release: ReleaseTimes,
  exception: Exception,
  sitting: SittingFacts | null,
  nowMs: number,
): Standing {
  const { dueAtMs } = timesFor(release, exception);
  const { excused } = exception;
  const missing = !excused && nowMs > dueAtMs;
  if (!sitting) return { state: 'notOpened', late: false, missing, excused, askedAgain: false };
  const { handedInAtMs, feedbackAtMs, marked } = sitting;
  if (handedInAtMs === null) return { state: 'underWay', late: false, missing, excused, askedAgain: false };
  const { asked = 0, replied = 0 } = sitting;
  const back = asked > 0 && replied >= asked ? 'answered' : 'feedbackGiven';
  const state = feedbackAtMs !== null && nowMs >= feedbackAtMs ? back : marked ? 'marked' : 'handedIn';
  const late = handedInAtMs > (sitting.dueWasMs ?? dueAtMs) && !sitting.lateAccepted;
  return { state, late, missing: false, excused, askedAgain: sitting.askedAgain ?? false };
}

/** A recording that began this shortly after closing still counts: clocks and clicks are not exact. */
export const CLOSING_GRACE_MS = 5_000;

/** The last instant at which work is taken; Infinity where late work is taken for ever. */
export function closingMs({ dueAtMs, closesAtMs, lateAccepted }: ReleaseTimes): number {
  return lateAccepted ? (closesAtMs === null ? Infinity : Math.max(closesAtMs, dueAtMs)) : dueAtMs;
}

/** Whether a recording that began at an instant is taken, however long its bytes were on their way. */
export function takesRecordingBegunAt(times: ReleaseTimes, beganAtMs: number): boolean {
  return beganAtMs <= closingMs(times) + CLOSING_GRACE_MS;
}

export type Openness = 'notYet' | 'open' | 'lateOpen' | 'closed';

/** Whether a release takes recordings at an instant. What is not yet open is invisible to students. */
export function opennessAt(times: ReleaseTimes, nowMs: number): Openness {
  if (times.hidden || nowMs < times.opensAtMs) return 'notYet';
  if (nowMs <= times.dueAtMs) return 'open';
  return nowMs <= closingMs(times) ? 'lateOpen' : 'closed';
}

/** One of a student's sittings with a release. */
export interface SittingInLine {
  /** From 1, in the order in which they were begun. */
  number: number;
  handedInAtMs: number | null;
  /** Left out of account by a teacher; its recordings stay. */
  setAside?: boolean;
}

/**
 * The sitting that counts: the last one handed in, so that another try costs nothing before it is handed in
 * itself; while none is, the last begun. One that was set aside never counts.
 */
export function countingSitting<T extends SittingInLine>(sittings: readonly T[]): T | null {
  const ordered = sittings.filter(s => !s.setAside).sort((a, b) => b.number - a.number);
  return ordered.find(s => s.handedInAtMs !== null) ?? ordered[0] ?? null;
}

/** The sitting that a student goes on with; null where all are handed in. */
export function openSitting<T extends SittingInLine>(sittings: readonly T[]): T | null {
  return sittings.find(s => s.handedInAtMs === null && !s.setAside) ?? null;
}

/**
 * Whether a student may begin (another) sitting.
 * @param allowed sittings that the release allows everybody; 0 for no limit
 */
export function mayBegin(
  sittings: readonly SittingInLine[],
  allowed: number,
  { extraSittings }: Exception,
): boolean {
  if (openSitting(sittings)) return false;
  return allowed === 0 || sittings.length < allowed + extraSittings;
}
