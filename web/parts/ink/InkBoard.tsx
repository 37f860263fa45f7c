import { Undo2 } from 'lucide-react';
import { useEffect, useRef, useState, type PointerEvent } from 'react';
import {
  inkAt,
  MOST_POINTS,
  MOST_STROKES,
  PENS,
  SHEET_HEIGHT,
  SHEET_WIDTH,
  withPoint,
  type Ink,
  type InkStroke,
} from '@ecoute/core/takes/ink';
import { t } from '../../base/i18n';
import { desk } from '../recorder/delivery';
import { SheetPaper } from './SheetPaper';
import { useSheetHeight } from './useSheetHeight';

/** Numbers of a stroke: what is drawn anew with each move stays short. */
const LONGEST_STROKE = 3_000;

const NAMES = () => [t('black'), t('green-blue'), t('red'), t('brown'), t('green'), t('violet')];

/** A sheet to draw on with finger, pen or mouse while one speaks. Each point is with the take as soon as it is drawn. */
export default function InkBoard({
  takeId,
  overId,
  overUrl,
  recordedMs,
  isHeld,
}: {
  takeId: string;
  overId: string | null;
  overUrl: string | null;
  /** How much of the answer is recorded by now. */
  recordedMs: () => number;
  /** The recording stands still, and so does the pen. */
  isHeld: boolean;
}) {
  const height = useSheetHeight(overUrl ?? (overId && `/api/recordings/${overId}/shown`));
  const [strokes, setStrokes] = useState<InkStroke[]>([]);
  const [pen, setPen] = useState(0);
  const [stroke, setStroke] = useState<InkStroke | null>(null);
  /** As it grows: pointers move faster than the page is drawn. */
  const growing = useRef<InkStroke | null>(null);
  const all = useRef<InkStroke[]>([]);
  const sheet = useRef<SVGSVGElement>(null);
  const points = useRef(0);
  const tell = (extra: InkStroke | null) => {
    const ink: Ink = {
      height: height ?? SHEET_HEIGHT,
      strokes: extra ? [...all.current, extra] : all.current,
    };
    desk.draw(takeId, ink);
  };
  const put = (next: InkStroke[]) => {
    all.current = next;
    setStrokes(next);
    tell(null);
  };
  const end = () => {
    const drawn = growing.current;
    growing.current = null;
    setStroke(null);
    if (!drawn) return;
    points.current += drawn.points.length / 3;
    put([...all.current, drawn]);
  };
  // A recording that ends under the pen keeps what is drawn by then.
  const latestEnd = useRef(end);
  latestEnd.current = end;
  useEffect(() => () => latestEnd.current(), []);
  useEffect(() => {
    if (isHeld) latestEnd.current();
  }, [isHeld]);

  const place = (x: number, y: number): [number, number] => {
    const frame = sheet.current!.getBoundingClientRect();
    const scale = SHEET_WIDTH / frame.width;
    return [(x - frame.left) * scale, (y - frame.top) * scale];
  };
  const isFull = () => all.current.length >= MOST_STROKES || points.current >= MOST_POINTS - LONGEST_STROKE;
  const down = (event: PointerEvent<SVGSVGElement>) => {
    if (!event.isPrimary || isHeld || isFull()) return;
    event.preventDefault();
    event.currentTarget.setPointerCapture(event.pointerId);
    growing.current = withPoint({ pen, points: [] }, ...place(event.clientX, event.clientY), recordedMs());
    setStroke(growing.current);
    tell(growing.current);
  };
  const move = (event: PointerEvent<SVGSVGElement>) => {
    if (!growing.current || !event.isPrimary) return;
    const atMs = recordedMs();
    const moves = event.nativeEvent.getCoalescedEvents?.() ?? [];
    for (const { clientX, clientY } of moves.length > 0 ? moves : [event.nativeEvent])
      growing.current = withPoint(growing.current, ...place(clientX, clientY), atMs);
    setStroke(growing.current);
    tell(growing.current);
    // One stroke that never ends is several: the next begins where this one is.
    if (growing.current.points.length > LONGEST_STROKE && !isFull()) {
      const { pen: own, points: p } = growing.current;
      end();
      growing.current = { pen: own, points: p.slice(-3) };
    }
  };
  const undo = () => {
    const last = all.current.findLastIndex(s => s.goneMs === undefined);
    if (last < 0) return;
    const at = all.current[last]!;
    put(all.current.with(last, { ...at, goneMs: Math.max(Math.round(recordedMs()), at.points[2]!) }));
  };
  if (height === null) return null;
  const shown = inkAt({ height, strokes: stroke ? [...strokes, stroke] : strokes }, Infinity);
  return (
    <div className="grid grid-cols-1 gap-2">
      <div className="flex flex-wrap items-center gap-2" role="group" aria-label={t('Pens')}>
        {PENS.map((color, n) => (
          <button
            key={color}
            type="button"
            aria-label={NAMES()[n]}
            aria-pressed={pen === n}
            onClick={() => setPen(n)}
            className={`grid size-11 place-items-center rounded-full border-4 ${pen === n ? 'border-ink' : 'border-transparent'}`}
          >
            <span
              aria-hidden
              className="block size-7 rounded-full border border-[#fff]"
              style={{ background: color }}
            />
          </button>
        ))}
        <button
          type="button"
          aria-label={t('Take the last line back')}
          disabled={strokes.every(s => s.goneMs !== undefined)}
          onClick={undo}
          className="ms-auto grid size-11 place-items-center rounded-full border-2 border-edge disabled:opacity-40"
        >
          <Undo2 aria-hidden className="size-6" />
        </button>
      </div>
      <SheetPaper
        ref={sheet}
        height={height}
        overId={overId}
        overUrl={overUrl}
        strokes={shown}
        label={t('Sheet to draw on')}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={end}
        onPointerCancel={end}
        data-sheet
        className="mx-auto block w-full touch-none border-2 border-edge select-none"
        style={{
          cursor: 'crosshair',
          // All of it is in sight, whatever its shape.
          maxWidth: `calc((var(--stage-room, 34rem) - 5rem) * ${SHEET_WIDTH / height})`,
        }}
      />
    </div>
  );
}
