/**
 * What happens automatically to an item while it is answered: pure, so that each moment can be tried. Whoever runs the item
 * (the page, with its microphone) does what is said here, when it is said.
 */
import type { ItemEvent, ItemState, Phase } from './itemRun';
import type { StartsBy } from './startingPoints';

/** The policy of an item that decides how it goes on. */
export interface StepPolicy {
  prepareMs: number;
  /** `itself`: the answer begins automatically; `student`: when the student says so. */
  startsBy: StartsBy;
}

/** What the page that runs an item knows of it. */
export interface Running {
  /** This page set going what runs now, or has taken it up (`isTakenUp`). */
  isLive: boolean;
  /** A recorder is there. */
  mayRecord: boolean;
  /** A take is being recorded on this page. */
  hasTake: boolean;
  /** When the prompt that sounds here ends, to the sample; null where none does, or nobody knows it before. */
  promptEndsAtMs: number | null;
}

export type Step = { does: 'record' | 'stop'; atMs: number };

/**
 * What the clock does next, and when; null where it waits for somebody.
 * @returns `record` with the instant at which the answer begins, or `stop` with the one at which it ends; in ms since 1970,
 * 0 for what is due already
 */
export function nextStep(policy: StepPolicy, state: ItemState, running: Running): Step | null {
  if (running.hasTake) {
    if (state.phase === 'record' && state.endsAtMs !== null) return { does: 'stop', atMs: state.endsAtMs };
    // The clock has passed the limit before anybody looked.
    return state.phase === 'review' ? { does: 'stop', atMs: 0 } : null;
  }
  if (policy.startsBy !== 'itself' || !running.isLive || !running.mayRecord) return null;
  switch (state.phase) {
    case 'prompt':
    case 'heard':
      // Right after the prompt, without a gap: known only where the prompt's own end is.
      return policy.prepareMs === 0 && running.promptEndsAtMs !== null
        ? { does: 'record', atMs: running.promptEndsAtMs }
        : null;
    case 'prepare':
      return { does: 'record', atMs: state.endsAtMs ?? 0 };
    case 'yourTurn':
      return { does: 'record', atMs: 0 };
    default:
      return null;
  }
}

/**
 * A clock that is set or known better moves by less than this. What is apart by more is a device that slept: its own count stood
 * still, and nobody is given the time again in which everybody else would have spoken. In ms.
 */
export const SET_MOST_MS = 5_000;

/**
 * How much of a take is still to come when its time is over by the server's clock. That clock is only known through this device's
 * own, which may be set, or known better, in the middle of an answer; what was recorded is counted by a clock that nobody sets. A
 * device too busy to keep up sounds the teacher's turns late, and what is said after the last of them is late too: it is
 * waited for, as far as a take may be longer than its limit.
 * @param bySoundMs what is still to come by the clock of its sound; null where nothing sounds along
 * @param byCountMs the same by counting the time that passes
 * @param lateMs how much longer than its limit it may become
 * @param overMs how long it has been over by the server's clock
 */
export function stillOwedMs(
  bySoundMs: number | null,
  byCountMs: number,
  { lateMs, overMs }: { lateMs: number; overMs: number },
): number {
  const owedMs = bySoundMs === null ? byCountMs : Math.min(bySoundMs, byCountMs + lateMs);
  return Math.max(0, Math.min(owedMs, SET_MOST_MS - overMs));
}

/**
 * What time it is for a take that runs, so that it is as long by its account as it was recorded.
 * @param countedMs when it began and what was counted since; @param serverMs the server's clock as it is known now; ms since 1970
 */
export function timeOfTake(countedMs: number, serverMs: number): number {
  return Math.abs(serverMs - countedMs) <= SET_MOST_MS ? countedMs : serverMs;
}

/** What follows a prompt that has sounded to its end; null where the student says when to go on. */
export function afterPrompt(policy: StepPolicy, phase: Phase, isLive: boolean): 'prepare' | 'record' | null {
  if (!isLive || (phase !== 'prompt' && phase !== 'heard')) return null;
  if (policy.prepareMs > 0) return 'prepare';
  return policy.startsBy === 'itself' ? 'record' : null;
}

/** Whether a page that comes up finds a recording that no page runs any more: its recorder went with the page before. */
export function isLeftBehind(phase: Phase, running: Pick<Running, 'hasTake'>): boolean {
  return (phase === 'record' || phase === 'paused') && !running.hasTake;
}

/**
 * Whether a page that comes up goes on with what was set going before it: a countdown leads to what it says it leads to. One
 * that ran out while nobody was here waits for its student, who would be recorded unawares.
 */
export function isTakenUp(phase: Phase): boolean {
  return phase === 'prepare';
}

/** What follows a prompt's beginning, in one way or another. */
const AFTER_PROMPT = new Set<ItemEvent['kind']>([
  'promptEnded',
  'promptCut',
  'prepareBegan',
  'recordingBegan',
  'recordingEnded',
]);

/** Whether a page that comes up finds a prompt that was sounding when the page before went away. */
export function isPromptCut(events: readonly ItemEvent[]): boolean {
  const last = events
    .filter(e => e.kind === 'promptBegan' || AFTER_PROMPT.has(e.kind))
    .toSorted((a, b) => a.atMs - b.atMs)
    .at(-1);
  return last?.kind === 'promptBegan';
}
