import { useRef } from 'react';
import { peaksBetween, type Peaks } from '@ecoute/core/audio/peaks';
import type { Turn } from '@ecoute/contract/assessments';
import { Waveform } from '../../parts/player/Waveform';

/** Seen on either side of the turn, so that its edges can be moved outwards. */
const AROUND_MS = 1_500;
const SHORTEST_TURN_MS = 100;

function seconds(ms: number): string {
  return `${(ms / 1000).toFixed(2)} s`;
}

/** One turn on its track, close up, with both edges to move: by dragging, or by arrows (10 ms; Shift 100 ms). */
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
  const box = useRef<HTMLDivElement>(null);
  const drag = useRef<{ edge: 'fromMs' | 'toMs'; x: number; ms: number; view: number } | null>(null);
  const viewFrom = Math.max(0, turn.fromMs - AROUND_MS);
  const viewTo = Math.min(peaks.durationMs, turn.toMs + AROUND_MS);
  const view = Math.max(1, viewTo - viewFrom);
  const percent = (ms: number) => `${(100 * (ms - viewFrom)) / view}%`;
  const held = (edge: 'fromMs' | 'toMs', ms: number) =>
    Math.round(
      edge === 'fromMs'
        ? Math.max(leastMs, Math.min(ms, turn.toMs - SHORTEST_TURN_MS))
        : Math.min(mostMs, Math.max(ms, turn.fromMs + SHORTEST_TURN_MS)),
    );
  const edges = [
    ['fromMs', `Beginning of turn ${number}`],
    ['toMs', `End of turn ${number}`],
  ] as const;
  return (
    <div ref={box} className="relative border border-line bg-sunk">
      <Waveform
        peaks={peaksBetween(peaks, viewFrom, viewTo)}
        voice="teacher"
        height={72}
        label={`Turn ${number}, close up`}
      />
      <div
        className="pointer-events-none absolute inset-y-0 left-0 bg-ground opacity-70"
        style={{ width: percent(turn.fromMs) }}
      />
      <div
        className="pointer-events-none absolute inset-y-0 right-0 bg-ground opacity-70"
        style={{ left: percent(turn.toMs) }}
      />
      {edges.map(([edge, label]) => (
        <div
          key={edge}
          role="slider"
          tabIndex={0}
          aria-label={label}
          aria-orientation="horizontal"
          aria-valuemin={edge === 'fromMs' ? leastMs : turn.fromMs + SHORTEST_TURN_MS}
          aria-valuemax={edge === 'fromMs' ? turn.toMs - SHORTEST_TURN_MS : mostMs}
          aria-valuenow={turn[edge]}
          aria-valuetext={seconds(turn[edge])}
          onPointerDown={event => {
            event.preventDefault();
            event.currentTarget.setPointerCapture(event.pointerId);
            drag.current = { edge, x: event.clientX, ms: turn[edge], view };
          }}
          onPointerMove={event => {
            const start = drag.current;
            if (!start || !box.current) return;
            const ms = start.ms + ((event.clientX - start.x) / box.current.clientWidth) * start.view;
            onChange({ [edge]: held(edge, ms) });
          }}
          onPointerUp={() => (drag.current = null)}
          onPointerCancel={() => (drag.current = null)}
          onKeyDown={event => {
            const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
            if (!by) return;
            event.preventDefault();
            onChange({ [edge]: held(edge, turn[edge] + by * (event.shiftKey ? 100 : 10)) });
          }}
          className="absolute inset-y-0 z-10 w-6 -translate-x-1/2 cursor-ew-resize touch-none"
          style={{ left: percent(turn[edge]) }}
        >
          <span className="absolute inset-y-0 left-1/2 w-1 -translate-x-1/2 bg-ink" />
          <span
            className={`tabular absolute top-0 bg-sheet px-1 text-xs whitespace-nowrap ${edge === 'fromMs' ? 'left-4' : 'right-4'}`}
          >
            {seconds(turn[edge])}
          </span>
        </div>
      ))}
    </div>
  );
}
