/**
 * One item being answered: from the events so far and the time, which phase it is in, what may be done and
 * what comes next. Browser and server ask the same function; it has no clock and keeps nothing.
 */

export type ItemEventKind =
  'promptBegan' | 'promptEnded' | 'prepareBegan' | 'prepareSkipped' | 'recordingBegan' | 'recordingEnded';

export interface ItemEvent {
  kind: ItemEventKind;
  /** Instant in ms since 1970 (UTC). */
  atMs: number;
}

/** The policy of an item that matters while it is being answered. */
export interface ItemPolicy {
  promptDurationMs: number | null;
  prepareMs: number;
  answerLimitMs: number;
  /** How many takes a student may record; 0 means as many as they like. */
  takesAllowed: number;
}

export type Phase =
  /** Nothing has begun: the prompt waits. */
  | 'ready'
  /** The prompt is sounding. */
  | 'prompt'
  /** The prompt was heard or read; the student says when to go on. */
  | 'heard'
  | 'prepare'
  /** Preparing is over: the answer begins now. */
  | 'yourTurn'
  | 'record'
  /** At least one take is there. */
  | 'review';

export interface ItemState {
  phase: Phase;
  /** When the phase ends by itself; null where the student decides. */
  endsAtMs: number | null;
  /** Time left in the phase, never below zero; null where the student decides. */
  remainingMs: number | null;
  takesUsed: number;
  /** Takes still allowed; Infinity without a limit. */
  takesLeft: number;
  mayRecord: boolean;
  hearings: number;
}

/** Takes that may still be recorded after `used`; a policy of 0 has no limit. */
export function takesLeft(takesAllowed: number, used: number): number {
  return takesAllowed === 0 ? Infinity : Math.max(0, takesAllowed - used);
}

/**
 * The state of one item at an instant.
 * @param policy  durations in ms
 * @param events  this item's events; any order, duplicates of an instant are harmless
 * @param nowMs   ms since 1970 (UTC), by the server's clock
 */
export function phaseAt(policy: ItemPolicy, events: readonly ItemEvent[], nowMs: number): ItemState {
  const ordered = [...events].sort((a, b) => a.atMs - b.atMs);
  let phase: Phase = 'ready';
  let endsAtMs: number | null = null;
  let takesUsed = 0;
  let hearings = 0;
  for (const event of ordered) {
    switch (event.kind) {
      case 'promptBegan':
        hearings += 1;
        // Hearing the prompt again while looking back at a take does not reopen the item.
        if (phase === 'ready' || phase === 'heard') {
          phase = 'prompt';
          endsAtMs = policy.promptDurationMs === null ? null : event.atMs + policy.promptDurationMs;
        }
        break;
      case 'promptEnded':
        if (phase === 'prompt') [phase, endsAtMs] = ['heard', null];
        break;
      case 'prepareBegan':
        // Preparing happens once; a second event (a reload, a second tab) does not give the time again.
        if (phase === 'ready' || phase === 'prompt' || phase === 'heard') {
          phase = 'prepare';
          endsAtMs = event.atMs + policy.prepareMs;
        }
        break;
      case 'prepareSkipped':
        if (phase === 'prepare') [phase, endsAtMs] = ['yourTurn', null];
        break;
      case 'recordingBegan':
        takesUsed += 1;
        phase = 'record';
        endsAtMs = event.atMs + policy.answerLimitMs;
        break;
      case 'recordingEnded':
        if (phase === 'record') [phase, endsAtMs] = ['review', null];
        break;
    }
  }
  // What the clock alone has ended since the last event.
  if (endsAtMs !== null && nowMs >= endsAtMs) {
    if (phase === 'prompt') phase = 'heard';
    else if (phase === 'prepare') phase = 'yourTurn';
    else if (phase === 'record') phase = 'review';
    endsAtMs = null;
  }
  const left = takesLeft(policy.takesAllowed, takesUsed);
  return {
    phase,
    endsAtMs,
    remainingMs: endsAtMs === null ? null : Math.max(0, endsAtMs - nowMs),
    takesUsed,
    takesLeft: left,
    mayRecord: phase !== 'record' && left > 0,
    hearings,
  };
}

/** The recorder's own cutting is not sample-exact everywhere; a take this much over its limit still stands. */
export const LIMIT_TOLERANCE_MS = 1_500;

/** True when a recording of `durationMs` keeps to an answer limit. */
export function withinLimit(durationMs: number, answerLimitMs: number): boolean {
  return durationMs <= answerLimitMs + LIMIT_TOLERANCE_MS;
}

export interface TakeInLine {
  id: string;
  number: number;
  /** When the student chose this take to count; null where they did not. */
  chosenAtMs: number | null;
  /** False while it has not arrived whole, or was refused. */
  stands: boolean;
}

/** The take that counts: the one chosen last by the student, otherwise the newest that stands. */
export function countingTake<T extends TakeInLine>(takes: readonly T[]): T | null {
  const standing = takes.filter(t => t.stands);
  const chosen = standing
    .filter(t => t.chosenAtMs !== null)
    .sort((a, b) => (b.chosenAtMs ?? 0) - (a.chosenAtMs ?? 0))[0];
  return chosen ?? standing.sort((a, b) => b.number - a.number)[0] ?? null;
}
