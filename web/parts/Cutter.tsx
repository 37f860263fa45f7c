import { useRef } from 'react';
import { peaksBetween, type Peaks } from '@ecoute/core/audio/peaks';
import type { Voice } from './player/player';
import { Waveform } from './player/Waveform';

export interface Cut {
  fromMs: number;
  toMs: number;
}

function seconds(ms: number): string {
  const minutes = Math.floor(ms / 60_000);
  const rest = ((ms % 60_000) / 1000).toFixed(2);
  return minutes ? `${minutes}:${rest.padStart(5, '0')}` : `${rest} s`;
}

/**
 * A stretch of a sound on its waveform, with both edges to move: by dragging, or by arrows (a fine step; Shift,
 * ten times as much).
 */
export function Cutter({
  peaks,
  cut,
  view,
  bounds,
  shortestMs,
  stepMs,
  label,
  edgeLabels,
  voice = 'teacher',
  only,
  positionMs = null,
  onChange,
}: {
  peaks: Peaks;
  cut: Cut;
  /** What is in sight, in ms of the sound. */
  view: Cut;
  /** How far the edges may go. */
  bounds: Cut;
  shortestMs: number;
  stepMs: number;
  label: string;
  edgeLabels: readonly [string, string];
  voice?: Voice;
  /** The one edge that can be moved here; both where nothing is said. */
  only?: keyof Cut;
  positionMs?: number | null;
  onChange: (change: Partial<Cut>) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const drag = useRef<{ edge: keyof Cut; x: number; ms: number; view: number } | null>(null);
  const length = Math.max(1, view.toMs - view.fromMs);
  const percent = (ms: number) => `${(100 * (ms - view.fromMs)) / length}%`;
  const held = (edge: keyof Cut, ms: number) =>
    Math.round(
      edge === 'fromMs'
        ? Math.max(bounds.fromMs, Math.min(ms, cut.toMs - shortestMs))
        : Math.min(bounds.toMs, Math.max(ms, cut.fromMs + shortestMs)),
    );
  const edges = [
    ['fromMs', edgeLabels[0]],
    ['toMs', edgeLabels[1]],
  ] as const;
  return (
    <div ref={box} dir="ltr" className="relative border border-line bg-sunk">
      <Waveform
        peaks={peaksBetween(peaks, view.fromMs, view.toMs)}
        positionMs={positionMs === null ? null : positionMs - view.fromMs}
        voice={voice}
        height={72}
        label={label}
      />
      <div
        className="pointer-events-none absolute inset-y-0 left-0 bg-ground opacity-70"
        style={{ width: percent(cut.fromMs) }}
      />
      <div
        className="pointer-events-none absolute inset-y-0 right-0 bg-ground opacity-70"
        style={{ left: percent(cut.toMs) }}
      />
      {edges
        .filter(([edge]) => !only || edge === only)
        .map(([edge, edgeLabel]) => (
          <div
            key={edge}
            role="slider"
            tabIndex={0}
            aria-label={edgeLabel}
            aria-orientation="horizontal"
            aria-valuemin={edge === 'fromMs' ? bounds.fromMs : cut.fromMs + shortestMs}
            aria-valuemax={edge === 'fromMs' ? cut.toMs - shortestMs : bounds.toMs}
            aria-valuenow={cut[edge]}
            aria-valuetext={seconds(cut[edge])}
            onPointerDown={event => {
              event.preventDefault();
              event.currentTarget.setPointerCapture(event.pointerId);
              drag.current = { edge, x: event.clientX, ms: cut[edge], view: length };
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
              onChange({ [edge]: held(edge, cut[edge] + by * (event.shiftKey ? 10 * stepMs : stepMs)) });
            }}
            className="absolute inset-y-0 z-10 w-6 -translate-x-1/2 cursor-ew-resize touch-none"
            style={{ left: percent(cut[edge]) }}
          >
            <span className="absolute inset-y-0 left-1/2 w-1 -translate-x-1/2 bg-ink" />
            <span
              className={`tabular absolute top-0 bg-sheet px-1 text-xs whitespace-nowrap ${
                // Towards the middle, so that it stays in the picture.
                (
                  edge === 'fromMs'
                    ? cut.fromMs - view.fromMs < length * 0.8
                    : cut.toMs - view.fromMs < length * 0.2
                )
                  ? 'left-4'
                  : 'right-4'
              }`}
            >
              {seconds(cut[edge])}
            </span>
          </div>
        ))}
    </div>
  );
}
