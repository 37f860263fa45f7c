import { envelopeOf, soundStretches } from '@ecoute/core/audio/gaps';
import { quietestMs, type Peaks } from '@ecoute/core/audio/peaks';
import type { Turn } from '@ecoute/contract/assessments';

export const USUAL_GAP_MS = 20_000;
/** A silence this long on a track was left there to speak in; its length is kept. */
const MEANT_MS = 5_000;

/** A turn that is a whole recording. */
export function wholeTurn(recordingId: string, durationMs: number, gapMs = USUAL_GAP_MS): Turn {
  return { id: crypto.randomUUID(), recordingId, fromMs: 0, toMs: durationMs, gapMs, says: '' };
}

/** The turns on a track: its silences become gaps. */
export function turnsOnTrack(recordingId: string, peaks: Peaks, shortestGapMs: number): Turn[] {
  const stretches = soundStretches(envelopeOf(peaks), 1000 / peaks.perSecond, { shortestGapMs });
  return stretches.map(({ startMs, endMs }, i) => {
    const silenceMs = (stretches[i + 1]?.startMs ?? endMs) - endMs;
    return {
      id: crypto.randomUUID(),
      recordingId,
      fromMs: startMs,
      toMs: endMs,
      gapMs: silenceMs >= MEANT_MS ? Math.round(silenceMs / 1000) * 1000 : USUAL_GAP_MS,
      says: '',
    };
  });
}

/** One turn made two, at its quietest moment away from the ends; the new first half gets a usual gap. */
export function splitTurn(turns: readonly Turn[], id: string, peaks: Peaks): Turn[] {
  return turns.flatMap(turn => {
    if (turn.id !== id) return [turn];
    const fifth = (turn.toMs - turn.fromMs) / 5;
    const at = quietestMs(peaks, turn.fromMs + fifth, turn.toMs - fifth);
    return [
      { ...turn, toMs: at, gapMs: USUAL_GAP_MS },
      { ...turn, id: crypto.randomUUID(), fromMs: at, says: '' },
    ];
  });
}

/** A turn and the next one of the same track as one, with what is between them; the later gap stays. */
export function joinWithNext(turns: readonly Turn[], id: string): Turn[] {
  const at = turns.findIndex(t => t.id === id);
  const [turn, next] = [turns[at], turns[at + 1]];
  if (!turn || !next || turn.recordingId !== next.recordingId || next.fromMs < turn.toMs) return [...turns];
  const says = [turn.says, next.says].filter(Boolean).join(' / ');
  return [
    ...turns.slice(0, at),
    { ...turn, toMs: next.toMs, gapMs: next.gapMs, says },
    ...turns.slice(at + 2),
  ];
}

/** A turn moved up or down by one place. */
export function movedTurn(turns: readonly Turn[], id: string, by: -1 | 1): Turn[] {
  const at = turns.findIndex(t => t.id === id);
  const to = at + by;
  if (at < 0 || to < 0 || to >= turns.length) return [...turns];
  const out = [...turns];
  [out[at], out[to]] = [out[to]!, out[at]!];
  return out;
}
