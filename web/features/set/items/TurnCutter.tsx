import type { Peaks } from '@ecoute/core/audio/peaks';
import type { Turn } from '@ecoute/contract/assessments';
import { Cutter } from '../../../parts/Cutter';

/** Seen on either side of the turn, so that its edges can be moved outwards. */
const AROUND_MS = 1_500;
const SHORTEST_TURN_MS = 100;
const STEP_MS = 10;

/** One turn on its track, close up, with both edges to move. */
export function TurnCutter({
  turn,
  number,
  peaks,
  leastMs,
  mostMs,
  onChange,
}: {
  turn: Turn;
  number: number;
  peaks: Peaks;
  /** Where the neighbours on the same track end and begin. */
  leastMs: number;
  mostMs: number;
  onChange: (change: { fromMs?: number; toMs?: number }) => void;
}) {
  return (
    <Cutter
      peaks={peaks}
      cut={turn}
      view={{
        fromMs: Math.max(0, turn.fromMs - AROUND_MS),
        toMs: Math.min(peaks.durationMs, turn.toMs + AROUND_MS),
      }}
      bounds={{ fromMs: leastMs, toMs: mostMs }}
      shortestMs={SHORTEST_TURN_MS}
      stepMs={STEP_MS}
      label={`Turn ${number}, close up`}
      edgeLabels={[`Beginning of turn ${number}`, `End of turn ${number}`]}
      onChange={onChange}
    />
  );
}
