import { useId, useMemo, type PointerEvent } from 'react';
import { columnsOf, type Peaks } from '@ecoute/core/audio/peaks';
import type { Pinned } from '@ecoute/core/timing/pinned';
import { clock } from '@ecoute/core/timing/words';
import type { Voice } from './player';
import { useWidth } from './useWidth';

/** Bars of two pixels every three, as SVG path data. Quiet recordings are drawn taller, up to four times, to be read. */
function shapeOf(peaks: Peaks, columns: number, height: number): string[] {
  const loudest = peaks.values.reduce((m, v) => Math.max(m, Math.abs(v)), 1) / 127;
  const lift = Math.min(4, 0.95 / loudest);
  return columnsOf(peaks, columns).map(([low, high], c) => {
    const top = (1 - Math.min(1, high * lift)) * (height / 2);
    const bottom = (1 - Math.max(-1, low * lift)) * (height / 2);
    return `M${c * 3} ${top.toFixed(1)}h2v${Math.max(1, bottom - top).toFixed(1)}h-2z`;
  });
}

/** Stretches as path data, over the whole height. */
function hatched(pauses: readonly number[], pxPerMs: number, height: number): string {
  let path = '';
  for (let i = 0; i + 1 < pauses.length; i += 2) {
    const [x, end] = [pauses[i]! * pxPerMs, pauses[i + 1]! * pxPerMs];
    path += `M${x.toFixed(1)} 0H${end.toFixed(1)}V${height}H${x.toFixed(1)}Z`;
  }
  return path;
}

/**
 * A recording's shape, drawn from stored peaks. With `fullMs` it is to that scale and ends where it ends;
 * without, it fills the width. Clicking goes to that moment.
 */
export function Waveform({
  peaks,
  fullMs,
  positionMs,
  voice,
  height,
  onSeek,
  label,
  stretches,
  beats,
  beginsMs,
  notes,
  pauses,
}: {
  peaks: Peaks | null;
  /** Stretches set off from the rest, such as the answers in a conversation. In ms. */
  stretches?: readonly { startMs: number; endMs: number }[];
  /** Beats that ran along, the first of each bar longer. In ms. */
  beats?: readonly { atMs: number; isFirst: boolean }[];
  /** Notes pinned to it: their places are marked at the top. */
  notes?: readonly (Pinned & { id: string })[];
  /** Silences that were measured, hatched: their beginnings and ends in ms, one after the other. */
  pauses?: readonly number[];
  /** Where the answer begins after a count-in, in ms. */
  beginsMs?: number;
  fullMs?: number;
  positionMs?: number | null;
  voice: Voice;
  height: number;
  onSeek?: (ms: number) => void;
  label: string;
}) {
  const [box, width] = useWidth();
  const hatching = useId();
  const durationMs = peaks?.durationMs ?? 0;
  const spanMs = Math.max(fullMs ?? durationMs, durationMs, 1);

  const columns = Math.max(1, Math.round((durationMs / spanMs) * (width / 3)));
  const shape = useMemo(
    () => (peaks && width > 0 ? shapeOf(peaks, columns, height) : []),
    [peaks, width, columns, height],
  );
  const played = durationMs > 0 ? Math.ceil(((positionMs ?? 0) / durationMs) * columns) : 0;
  const [done, ahead] =
    voice === 'student' ? ['fill-petrol-ink', 'fill-petrol'] : ['fill-saffron-ink', 'fill-saffron'];

  const seek = (event: PointerEvent<HTMLDivElement>) => {
    if (!onSeek || !peaks) return;
    const { left, width: whole } = event.currentTarget.getBoundingClientRect();
    onSeek(Math.min(durationMs, ((event.clientX - left) / whole) * spanMs));
  };

  return (
    <div
      ref={box}
      dir="ltr"
      role="img"
      aria-label={`${label}, ${clock(durationMs)}`}
      className={`relative w-full ${onSeek ? 'cursor-crosshair' : ''}`}
      style={{ height }}
      onPointerDown={seek}
    >
      {stretches?.map(s => (
        <div
          key={s.startMs}
          className="absolute inset-y-0 border-s-2 border-petrol bg-petrol-wash"
          style={{
            left: `${(100 * s.startMs) / spanMs}%`,
            width: `${(100 * Math.max(0, Math.min(s.endMs, durationMs) - s.startMs)) / spanMs}%`,
          }}
        />
      ))}
      {beginsMs !== undefined && (
        <div
          className="absolute inset-y-0 start-0 bg-sunk"
          style={{ width: `${(100 * Math.min(beginsMs, durationMs)) / spanMs}%` }}
        />
      )}
      {beats?.map(b => (
        <div
          key={b.atMs}
          className={`absolute bottom-0 w-px bg-saffron-ink ${b.isFirst ? 'h-3' : 'h-1.5'}`}
          style={{ left: `${(100 * b.atMs) / spanMs}%` }}
        />
      ))}
      {/* Not a canvas: each would be a layer of its own, and dozens of them make scrolling slow. */}
      <svg aria-hidden className="pointer-events-none absolute inset-0 h-full w-full">
        {pauses && pauses.length > 0 && width > 0 && (
          <>
            <pattern id={hatching} width="6" height="6" patternUnits="userSpaceOnUse">
              <path d="M-1 7L7 -1M-1 1L1 -1M5 7L7 5" className="stroke-edge" />
            </pattern>
            <path
              d={hatched(pauses, width / spanMs, height)}
              fill={`url(#${hatching})`}
              className="opacity-50"
            />
          </>
        )}
        <path className={ahead} d={shape.slice(played).join('')} />
        {played > 0 && <path className={done} d={shape.slice(0, played).join('')} />}
      </svg>
      {durationMs > 0 &&
        notes?.map(n => (
          <div
            key={n.id}
            className="absolute top-0 h-2.5 min-w-3 bg-saffron [clip-path:polygon(8px_0,100%_0,100%_100%,0_100%)]"
            style={{
              left: `${(100 * Math.min(n.fromMs, durationMs)) / spanMs}%`,
              width: `${(100 * Math.max(0, Math.min(n.toMs ?? n.fromMs, durationMs) - n.fromMs)) / spanMs}%`,
            }}
          />
        ))}
      {positionMs != null && durationMs > 0 && (
        <div
          className="absolute inset-y-0 w-0.5 bg-ink"
          style={{ left: `${(100 * positionMs) / spanMs}%` }}
        />
      )}
    </div>
  );
}
