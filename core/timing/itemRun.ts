/**
 * One item being answered: from the events so far and the time, which phase it is in, what may be done and
 * what comes next. Browser and server ask the same function; it has no clock and keeps nothing.
 */

export type ItemEventKind =
  | 'promptBegan'
  | 'promptEnded'
  /** The page with a sounding prompt went away (a reload, a crash): it was not heard to its end. */
  | 'promptCut'
  | 'prepareBegan'
  | 'prepareSkipped'
  | 'recordingBegan'
  | 'recordingPaused'
  | 'recordingResumed'
  | 'recordingEnded'
  | 'hintOpened'
  /** The student passes on the item, which counts as an answer … */
  | 'passed'
  /** … until they think again. */
  | 'passTakenBack'
  /** Material was gone through. */
  | 'studied';

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
  /** Below this an answer cannot be stopped yet; 0 for none. */
  shortestAnswerMs: number;
  pauseAllowed: boolean;
  /** How many takes a student may record; 0 means as many as they like. */
  takesAllowed: number;
  /** How often the prompt may sound; 0 means as often as they like. */
  hearingsAllowed: number;
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
  /** In the middle of a recording that waits. */
  | 'paused'
  /** At least one take is there. */
  | 'review';

export interface ItemState {
  phase: Phase;
  /** When the phase ends automatically; null where the student decides. */
  endsAtMs: number | null;
  /** Time left in the phase, or in the recording that waits; null where there is no limit. Never below zero. */
  remainingMs: number | null;
  /** Length of the recording under way, pauses left out; 0 when none is. */
  recordedMs: number;
  takesUsed: number;
  /** Takes still allowed; Infinity without a limit. */
  takesLeft: number;
  mayRecord: boolean;
  /** The recording under way is long enough to be stopped. */
  mayStop: boolean;
  hearings: number;
  /** Hearings still allowed; Infinity without a limit. */
  hearingsLeft: number;
  passed: boolean;
  hints: number;
  studied: boolean;
}

/** What may still be used of an allowance after `used`; an allowance of 0 has no limit. */
export function leftOf(allowed: number, used: number): number {
  return allowed === 0 ? Infinity : Math.max(0, allowed - used);
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
  let cuts = 0;
  let hints = 0;
  let passed = false;
  let studied = false;
  /** Of the recording under way: what was recorded before the last pause, and since when it runs again. */
  let recordedBefore = 0;
  let runsSince: number | null = null;

  /** What the clock alone has ended by an instant. */
  const settle = (atMs: number) => {
    if (endsAtMs === null || atMs < endsAtMs) return;
    if (phase === 'prompt') phase = 'heard';
    else if (phase === 'prepare') phase = 'yourTurn';
    else if (phase === 'record') [phase, runsSince, recordedBefore] = ['review', null, 0];
    endsAtMs = null;
  };

  for (const event of ordered) {
    settle(event.atMs);
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
      case 'promptCut':
        // Given back once: whoever reloads again and again has heard it.
        if (hearings > 0 && cuts === 0) hearings -= 1;
        cuts += 1;
        if ((phase === 'prompt' || phase === 'heard') && takesUsed === 0)
          [phase, endsAtMs] = [leftOf(policy.hearingsAllowed, hearings) > 0 ? 'ready' : 'heard', null];
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
        passed = false;
        phase = 'record';
        [recordedBefore, runsSince] = [0, event.atMs];
        endsAtMs = event.atMs + policy.answerLimitMs;
        break;
      case 'recordingPaused':
        if (phase === 'record' && policy.pauseAllowed && runsSince !== null) {
          recordedBefore += event.atMs - runsSince;
          [phase, endsAtMs, runsSince] = ['paused', null, null];
        }
        break;
      case 'recordingResumed':
        if (phase === 'paused') {
          [phase, runsSince] = ['record', event.atMs];
          endsAtMs = event.atMs + policy.answerLimitMs - recordedBefore;
        }
        break;
      case 'recordingEnded':
        if (phase === 'record' || phase === 'paused')
          [phase, endsAtMs, runsSince, recordedBefore] = ['review', null, null, 0];
        break;
      case 'hintOpened':
        hints += 1;
        break;
      case 'passed':
        passed = true;
        break;
      case 'passTakenBack':
        passed = false;
        break;
      case 'studied':
        studied = true;
        break;
    }
  }
  settle(nowMs);
  const recordedMs = recordedBefore + (runsSince === null ? 0 : Math.max(0, nowMs - runsSince));
  const running = phase === 'record' || phase === 'paused';
  const open = leftOf(policy.takesAllowed, takesUsed);
  return {
    phase,
    endsAtMs,
    remainingMs:
      endsAtMs !== null
        ? Math.max(0, endsAtMs - nowMs)
        : phase === 'paused'
          ? Math.max(0, policy.answerLimitMs - recordedMs)
          : null,
    recordedMs,
    takesUsed,
    takesLeft: open,
    mayRecord: !running && open > 0,
    mayStop: running && recordedMs >= policy.shortestAnswerMs,
    hearings,
    hearingsLeft: leftOf(policy.hearingsAllowed, hearings),
    passed,
    hints,
    studied,
  };
}
/** The recorder's own cutting is not sample-exact everywhere; a take this much over its limit still stands. */
export const LIMIT_TOLERANCE_MS = 1_500;

/** True when a recording of `durationMs` keeps to an answer limit. */
export function withinLimit(durationMs: number, answerLimitMs: number): boolean {
  return durationMs <= answerLimitMs + LIMIT_TOLERANCE_MS;
}

/** Where things lie in a recording that went through a recorder's gate, in ms of it. */
export interface ThroughGate {
  /** Where the gate opened. */
  gateMs: number;
  /** After it there is digital silence alone. */
  soundsUntilMs: number;
  /** Stretches in which its device recorded nothing. */
  holes: readonly { fromMs: number; toMs: number }[];
}

/**
 * What of a recording its student had, in ms: from the opening of the gate to the last that was let through. A busy machine
 * stops the recorder later than the gate shuts, and the gate counts what it let through: what the machine lost meanwhile makes
 * the recording longer, and is no time of its student's.
 */
export function answeredMs({ gateMs, soundsUntilMs, holes }: ThroughGate): number {
  const within = (ms: number) => Math.min(Math.max(ms, gateMs), soundsUntilMs);
  return Math.max(
    0,
    holes.reduce((ms, hole) => ms - (within(hole.toMs) - within(hole.fromMs)), soundsUntilMs - gateMs),
  );
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
