import type Konva from 'konva';
import { useRef, useState } from 'react';
import { Layer, Line, Stage, Text } from 'react-konva';
import { DRAWING_WIDTH, simplified, type Drawing, type Shape } from '@ecoute/core/feedback/drawing';
import type { Tool } from './tool';

/** The teacher's voice, dark enough on white paper. */
const INK = '#9a5b00';
const PEN = 4;
/** What is rubbed out may be missed by so much. */
const RUBBER = 18;

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
  const place = (event: Konva.KonvaEventObject<PointerEvent>): [number, number] | null => {
    const at = event.target.getStage()?.getRelativePointerPosition();
    return at ? [at.x, at.y] : null;
  };
  const put = (shapes: Shape[]) => onDraw?.({ height, shapes });
  const down = (event: Konva.KonvaEventObject<PointerEvent>) => {
    const at = place(event);
    if (!at || tool === null) return;
    event.evt.preventDefault();
    if (tool === 'pen') {
      growing.current = at;
      setStroke(at);
    } else if (tool === 'text') setWriting({ x: at[0], y: at[1] });
  };
  const move = (event: Konva.KonvaEventObject<PointerEvent>) => {
    const at = place(event);
    if (!growing.current || !at) return;
    growing.current = [...growing.current, ...at];
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
      <Stage
        width={DRAWING_WIDTH * scale}
        height={height * scale}
        scale={{ x: scale, y: scale }}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerLeave={up}
        style={{ cursor: tool === null ? 'default' : tool === 'erase' ? 'pointer' : 'crosshair' }}
      >
        <Layer listening={tool !== null}>
          {drawing.shapes.map((shape, i) =>
            shape.kind === 'stroke' ? (
              <Line
                key={i}
                points={shape.points}
                stroke={INK}
                strokeWidth={PEN}
                hitStrokeWidth={RUBBER}
                lineCap="round"
                lineJoin="round"
                onPointerDown={() => rub(i)}
              />
            ) : (
              <Text
                key={i}
                x={shape.x}
                y={shape.y}
                text={shape.text}
                fontSize={26}
                fontFamily="Atkinson Hyperlegible Next, Noto Sans, sans-serif"
                fontStyle="600"
                fill={INK}
                onPointerDown={() => rub(i)}
              />
            ),
          )}
          {stroke && <Line points={stroke} stroke={INK} strokeWidth={PEN} lineCap="round" lineJoin="round" />}
        </Layer>
      </Stage>
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
