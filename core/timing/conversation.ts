/**
 * A simulated conversation: the teacher's turns with gaps to speak in, played as one continuous run. A turn is a
 * stretch of some recording, so turns recorded one by one and turns cut out of one track are the same thing, and
 * widening a gap never touches what is said.
 */
import { heardAtMs, type PlacedTake } from './takeClock';

const UNPLACED: PlacedTake = { clock: null, gateMs: null };

export interface Turn {
  id: string;
  recordingId: string;
  /** The stretch of the recording that is played, in ms. */
  fromMs: number;
  toMs: number;
  /** Time to speak after the turn; 0 for none. */
  gapMs: number;
}

/** A turn or a gap in the run. */
export interface RunPart {
  turnId: string;
  /** Place of the turn, from 0. */
  index: number;
  startMs: number;
  endMs: number;
}

export interface Run {
  turns: RunPart[];
  gaps: RunPart[];
  lengthMs: number;
  /** Sum of the gaps: the most that somebody says. */
  speakingMs: number;
}

/** From the beginning of the recording to the first sample of the run: both start on one clock, this far apart. */
export const RUN_LEAD_MS = 250;

/** Lays turns and gaps end to end. Gaps of no length are left out. */
export function runOf(turns: readonly Turn[]): Run {
  const run: Run = { turns: [], gaps: [], lengthMs: 0, speakingMs: 0 };
  turns.forEach(({ id, fromMs, toMs, gapMs }, index) => {
    const spoken = Math.max(0, toMs - fromMs);
    run.turns.push({ turnId: id, index, startMs: run.lengthMs, endMs: run.lengthMs + spoken });
    run.lengthMs += spoken;
    if (gapMs <= 0) return;
    run.gaps.push({ turnId: id, index, startMs: run.lengthMs, endMs: run.lengthMs + gapMs });
    run.lengthMs += gapMs;
    run.speakingMs += gapMs;
  });
  return run;
}

/** How long the recording of a run is. */
export function takeLengthMs(turns: readonly Turn[]): number {
  return RUN_LEAD_MS + runOf(turns).lengthMs;
}

/** Where each gap's answer lies in the recording of the run, in ms from its beginning. */
export function answersIn(turns: readonly Turn[], take: PlacedTake = UNPLACED): RunPart[] {
  return runOf(turns).gaps.map(g => ({
    ...g,
    startMs: heardAtMs(take, g.startMs, RUN_LEAD_MS),
    endMs: heardAtMs(take, g.endMs, RUN_LEAD_MS),
  }));
}

/** What sounds, or who speaks, at a moment of the run; null before it and after it. */
export function partAt(run: Run, ms: number): (RunPart & { kind: 'turn' | 'gap' }) | null {
  const within = (p: RunPart) => ms >= p.startMs && ms < p.endMs;
  const turn = run.turns.find(within);
  if (turn) return { ...turn, kind: 'turn' };
  const gap = run.gaps.find(within);
  return gap ? { ...gap, kind: 'gap' } : null;
}

/** What makes a conversation impossible, with the turn to mend; empty when it can be played. */
export function conversationProblems(turns: readonly Turn[]): string[] {
  const problems: string[] = [];
  if (turns.length === 0) return ['The conversation has no turn yet. Record one, or bring a track.'];
  turns.forEach((turn, i) => {
    if (turn.toMs <= turn.fromMs) problems.push(`Turn ${i + 1} ends before it begins. Move its edges apart.`);
    const before = turns[i - 1];
    if (before && before.recordingId === turn.recordingId && turn.fromMs < before.toMs)
      problems.push(`Turns ${i} and ${i + 1} overlap on the track. Move an edge, or join them.`);
  });
  if (turns.every(t => t.gapMs <= 0))
    problems.push('Nobody gets to answer: give at least one turn a gap after it.');
  return problems;
}
