import { useRef } from 'react';
import { clock } from '@ecoute/core/timing/words';
import { LEAST_MS, MOST_MS, snapped, type Sized } from './snapping';

const NAMES: Record<Sized, string> = { prepare: 'End of preparing', answer: 'End of the answer' };

/**
 * The edge of a stretch: dragged to make it longer or shorter, or moved by arrow keys (a second; with Shift ten).
 * While it is dragged the strip keeps its scale, so that the edge stays under the finger.
 */
export function Edge({
  kind,
  itemNumber,
  durationMs,
  msPerPixel,
  tabbable,
  onDrag,
  onDone,
  onPress,
}: {
  kind: Sized;
  itemNumber: number;
  durationMs: number;
  /** Scale of the strip just now. */
  msPerPixel: () => number;
  tabbable: boolean;
  /** A length on the way; null when the drag was given up. */
  onDrag: (ms: number | null) => void;
  onDone: (ms: number) => void;
  onPress: () => void;
}) {
  const from = useRef<{ x: number; ms: number; scale: number } | null>(null);
  const at = (x: number) => {
    const start = from.current!;
    return snapped(kind, start.ms + (x - start.x) * start.scale, start.scale);
  };
  return (
    <div
      role="slider"
      tabIndex={tabbable ? 0 : -1}
      aria-label={`${NAMES[kind]}, item ${itemNumber}`}
      aria-orientation="horizontal"
      aria-valuemin={LEAST_MS[kind] / 1000}
      aria-valuemax={MOST_MS[kind] / 1000}
      aria-valuenow={Math.round(durationMs / 1000)}
      aria-valuetext={clock(durationMs)}
      onPointerDown={event => {
        event.preventDefault();
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = { x: event.clientX, ms: durationMs, scale: msPerPixel() };
      }}
      onPointerMove={event => from.current && onDrag(at(event.clientX))}
      onPointerUp={event => {
        const start = from.current;
        if (!start) return;
        const ms = at(event.clientX);
        from.current = null;
        // A press that went nowhere chooses the item, as a press beside the edge does.
        if (Math.abs(event.clientX - start.x) < 3) {
          onDrag(null);
          onPress();
        } else onDone(ms);
      }}
      onPointerCancel={() => {
        from.current = null;
        onDrag(null);
      }}
      onKeyDown={event => {
        const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
        if (!by) return;
        event.preventDefault();
        onDone(snapped(kind, durationMs + by * (event.shiftKey ? 10_000 : 1_000), 0));
      }}
      className="group/edge absolute right-0 bottom-0 z-30 h-11 w-6 cursor-ew-resize touch-none"
    >
      <span className="absolute inset-y-2 right-0.5 w-1 bg-ink opacity-25 group-hover/edge:opacity-100 group-focus-visible/edge:opacity-100" />
    </div>
  );
}
