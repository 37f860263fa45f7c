import { useRef, useState, type PointerEvent } from 'react';
import { DRAWING_WIDTH, simplified, type Drawing, type Shape } from '@ecoute/core/feedback/drawing';
import type { Tool } from './tool';

/** The teacher's voice, dark enough on white paper. */
const INK = '#9a5b00';
const PEN = 4;
/** What is rubbed out may be missed by so much. */
const RUBBER = 18;
const TEXT_SIZE = 26;

/** SVG's `points` of x, y, x, y … */
const pairs = (points: readonly number[]) => points.join(' ');

/** What is drawn, and the pen while one draws: places are in the layout's own units, whatever the screen. */
export function DrawingLayer({
  drawing,
  height,
  scale,
  tool,
  onDraw,
}: {
  drawing: Drawing;
  height: number;
  scale: number;
  tool: Tool | null;
  onDraw?: (drawing: Drawing) => void;
}) {
  const [stroke, setStroke] = useState<number[] | null>(null);
  const [writing, setWriting] = useState<{ x: number; y: number } | null>(null);
  /** The stroke as it grows: pointer moves come faster than the page is drawn. */
  const growing = useRef<number[] | null>(null);
  const place = (event: PointerEvent<SVGSVGElement>): [number, number] => {
    const frame = event.currentTarget.getBoundingClientRect();
    return [(event.clientX - frame.left) / scale, (event.clientY - frame.top) / scale];
  };
  const put = (shapes: Shape[]) => onDraw?.({ height, shapes });
  const down = (event: PointerEvent<SVGSVGElement>) => {
    if (tool === null || tool === 'erase' || !event.isPrimary) return;
    event.preventDefault();
    const [x, y] = place(event);
    if (tool === 'text') return setWriting({ x, y });
    // The stroke goes on, and ends, also where the pointer leaves the sheet.
    event.currentTarget.setPointerCapture(event.pointerId);
    growing.current = [x, y];
    setStroke(growing.current);
  };
  const move = (event: PointerEvent<SVGSVGElement>) => {
    if (!growing.current || !event.isPrimary) return;
    growing.current = [...growing.current, ...place(event)];
    setStroke(growing.current);
  };
  const up = () => {
    const drawn = growing.current;
    growing.current = null;
    setStroke(null);
    if (!drawn) return;
    // A touch without a move is a dot.
    const points = drawn.length === 2 ? [...drawn, drawn[0]! + 1, drawn[1]!] : drawn;
    put([...drawing.shapes, { kind: 'stroke', points: simplified(points) }]);
  };
  const rub = (index: number) => tool === 'erase' && put(drawing.shapes.filter((_, i) => i !== index));
  return (
    <>
      <svg
        data-drawing
        viewBox={`0 0 ${DRAWING_WIDTH} ${height}`}
        width={DRAWING_WIDTH * scale}
        height={height * scale}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        direction="ltr"
        fill="none"
        stroke={INK}
        strokeWidth={PEN}
        strokeLinecap="round"
        strokeLinejoin="round"
        style={{ cursor: tool === null ? 'default' : tool === 'erase' ? 'pointer' : 'crosshair' }}
      >
        {drawing.shapes.map((shape, i) =>
          shape.kind === 'stroke' ? (
            <g key={i} onPointerDown={() => rub(i)}>
              <polyline points={pairs(shape.points)} />
              <polyline points={pairs(shape.points)} stroke="transparent" strokeWidth={RUBBER} />
            </g>
          ) : (
            <text
              key={i}
              x={shape.x}
              y={shape.y}
              dominantBaseline="text-before-edge"
              fontSize={TEXT_SIZE}
              fontWeight={600}
              fill={INK}
              stroke="none"
              onPointerDown={() => rub(i)}
              className="select-none"
            >
              {shape.text}
            </text>
          ),
        )}
        {stroke && <polyline points={pairs(stroke)} />}
      </svg>
      {writing && (
        <input
          autoFocus
          aria-label="Text on the drawing"
          dir="auto"
          maxLength={300}
          className="absolute min-w-40 border-2 border-saffron bg-sheet px-2 py-1"
          style={{ left: writing.x * scale, top: writing.y * scale }}
          onKeyDown={event => {
            event.stopPropagation();
            if (event.key === 'Enter') event.currentTarget.blur();
            if (event.key === 'Escape') {
              event.currentTarget.value = '';
              event.currentTarget.blur();
            }
          }}
          onBlur={event => {
            const text = event.currentTarget.value.trim();
            setWriting(null);
            if (text) put([...drawing.shapes, { kind: 'text', ...writing, text }]);
          }}
        />
      )}
    </>
  );
}
