/** Where a student stands with a release. Worked out from facts and the clock; never stored. */

export type SittingState = 'notOpened' | 'underWay' | 'handedIn' | 'marked' | 'returned';

export interface ReleaseTimes {
  opensAtMs: number;
  dueAtMs: number;
  lateAccepted: boolean;
}

export interface SittingFacts {
  handedInAtMs: number | null;
  returnedAtMs: number | null;
  /** True when every item has a finished mark. */
  marked: boolean;
}

export interface Standing {
  state: SittingState;
  /** Handed in after the due time. */
  late: boolean;
  /** Due time passed with nothing handed in. */
  missing: boolean;
}

/** Where one student stands. `sitting` is null before the assessment was opened. */
export function standingAt(release: ReleaseTimes, sitting: SittingFacts | null, nowMs: number): Standing {
  if (!sitting) return { state: 'notOpened', late: false, missing: nowMs > release.dueAtMs };
  const { handedInAtMs, returnedAtMs, marked } = sitting;
  if (handedInAtMs === null) return { state: 'underWay', late: false, missing: nowMs > release.dueAtMs };
  const state = returnedAtMs !== null && nowMs >= returnedAtMs ? 'returned' : marked ? 'marked' : 'handedIn';
  return { state, late: handedInAtMs > release.dueAtMs, missing: false };
}

/** A recording that began this shortly after closing still counts: clocks and clicks are not exact. */
export const CLOSING_GRACE_MS = 5_000;

/** Whether a recording that began at an instant is taken, however long its bytes were on their way. */
export function takesRecordingBegunAt(release: ReleaseTimes, beganAtMs: number): boolean {
  return release.lateAccepted || beganAtMs <= release.dueAtMs + CLOSING_GRACE_MS;
}

export type Openness = 'notYet' | 'open' | 'lateOpen' | 'closed';

/** Whether a release takes recordings at an instant. */
export function opennessAt(release: ReleaseTimes, nowMs: number): Openness {
  if (nowMs < release.opensAtMs) return 'notYet';
  if (nowMs <= release.dueAtMs) return 'open';
  return release.lateAccepted ? 'lateOpen' : 'closed';
}
