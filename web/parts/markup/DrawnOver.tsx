import { useEffect, useRef, useState, type ReactNode } from 'react';
import { DrawingLayer } from './DrawingLayer';
import { linesLaid } from './linesLaid';
import { scoreLaid } from './scoreLaid';
import { DRAWING_WIDTH, type Drawing } from '@ecoute/core/feedback/drawing';
import type { Tool } from './tool';

/**
 * Something to look at with what is drawn on it. It is laid out at one width everywhere and made smaller as a whole, so
 * that every stroke lies where its teacher put it.
 */
export function DrawnOver({
  drawing,
  tool = null,
  onDraw,
  children,
}: {
  drawing: Drawing | null;
  /** What the pointer does; null where nothing is drawn. */
  tool?: Tool | null;
  onDraw?: (drawing: Drawing) => void;
  children: ReactNode;
}) {
  const outer = useRef<HTMLDivElement>(null);
  const inner = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const measure = () =>
      setSize({ width: outer.current?.clientWidth ?? 0, height: inner.current?.offsetHeight ?? 0 });
    const observer = new ResizeObserver(measure);
    if (outer.current) observer.observe(outer.current);
    if (inner.current) observer.observe(inner.current);
    return () => observer.disconnect();
  }, []);
  const scale = Math.min(1, size.width / DRAWING_WIDTH);
  return (
    <div ref={outer} className="relative overflow-hidden" style={{ height: size.height * scale }}>
      <div
        ref={inner}
        className="absolute start-0 top-0 origin-top-left bg-[#fff] rtl:origin-top-right"
        style={{ width: DRAWING_WIDTH, transform: `scale(${scale})` }}
      >
        {children}
      </div>
      {size.height > 0 && (tool !== null || (drawing && drawing.shapes.length > 0)) && (
        <div className={`absolute inset-0 ${tool === null ? 'pointer-events-none' : 'touch-none'}`}>
          <DrawingLayer
            drawing={drawing ?? { height: size.height, shapes: [] }}
            height={size.height}
            scale={scale}
            tool={tool}
            onDraw={drawn => {
              const frame = inner.current!;
              const text = frame.querySelector<HTMLElement>('[data-passage]');
              const engraved = frame.querySelector<SVGSVGElement>('[data-score] svg');
              const underlay = text ? linesLaid(text, frame, scale) : undefined;
              const score = engraved ? scoreLaid(engraved, frame, scale) : undefined;
              onDraw?.({ ...drawn, ...(underlay && { underlay }), ...(score && { score }) });
            }}
          />
        </div>
      )}
    </div>
  );
}
