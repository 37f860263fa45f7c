import { useMemo, useRef, useState } from 'react';
import { isRun, rulerStepMs, stripOf, type Stretch, type TimedItem } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import { Edge, type Sized } from './Edge';

const NAMES = { prompt: 'Prompt', prepare: 'Prepare', answer: 'Answer' } as const;

/** How a stretch is drawn: saffron and slanted is the teacher's voice, petrol and square the student's. */
function look(kind: Stretch['kind'], filled: boolean): string {
  if (kind === 'prompt') return 'slanted bg-saffron';
  if (kind === 'prepare') return 'hatched';
  return filled ? 'bg-petrol' : 'bg-petrol-wash border border-petrol';
}

function labelColour(kind: Stretch['kind'], filled: boolean): string {
  if (kind === 'answer') return filled ? 'text-sheet' : 'text-petrol-ink';
  return kind === 'prompt' ? 'text-[#152230]' : 'text-soft';
}

export interface StripProps {
  items: readonly TimedItem[];
  /** Items whose answer is there: drawn solid. All, unless given. */
  answered?: ReadonlySet<string>;
  /** The item in focus. */
  current?: string | null;
  onChoose?: (itemId: string) => void;
  /** With this the strip is an editor: edges of preparing and answering can be moved. Lengths in ms. */
  onResize?: (itemId: string, kind: Sized, durationMs: number) => void;
  /** Playhead, in ms on the strip. */
  positionMs?: number | null;
  label?: string;
}

/** A stretch narrower than this share of the strip has an edge only while its item is in focus. */
const NARROW = 0.02;

/**
 * The assessment as one band to scale: prompt – prepare – answer – prompt – … The large form, with ruler,
 * names, choosing and (in the editor) edges that move; lists use `SmallStrip`.
 */
export function Strip({
  items,
  answered,
  current,
  onChoose,
  onResize,
  positionMs,
  label = 'The strip of this assessment',
}: StripProps) {
  const band = useRef<HTMLDivElement>(null);
  /** A length on its way under the pointer, with the scale that holds meanwhile. */
  const [drag, setDrag] = useState<{ itemId: string; kind: Sized; ms: number; scaleMs: number } | null>(null);
  const strip = useMemo(() => {
    if (!drag) return stripOf(items);
    const field = drag.kind === 'prepare' ? 'prepareMs' : 'answerLimitMs';
    return stripOf(items.map(i => (i.id === drag.itemId ? { ...i, [field]: drag.ms } : i)));
  }, [drag, items]);
  if (strip.lengthMs === 0) return null;
  const scaleMs = drag?.scaleMs ?? strip.lengthMs;
  const percent = (ms: number) => `${(100 * ms) / scaleMs}%`;
  const step = rulerStepMs(scaleMs, 9);
  const ticks = Array.from({ length: Math.floor(scaleMs / step) + 1 }, (_, i) => i * step);
  const byItem = new Map<number, Stretch[]>();
  for (const s of strip.stretches) byItem.set(s.itemIndex, [...(byItem.get(s.itemIndex) ?? []), s]);
  return (
    <div className="overflow-x-clip select-none" role="group" aria-label={label}>
      <div ref={band} className="relative h-16 bg-sheet">
        {items.map((item, index) => {
          const own = byItem.get(index);
          const first = own?.[0];
          if (!own || !first) return null;
          const length = own.reduce((sum, s) => sum + s.durationMs, 0);
          const isCurrent = item.id === current;
          const filled = answered ? answered.has(item.id) : true;
          const says = isRun(item)
            ? `Item ${index + 1}: a conversation of ${item.turns.length} turns, ${clock(length)}`
            : `Item ${index + 1}: ${own.map(s => `${NAMES[s.kind]} ${clock(s.durationMs)}`).join(', ')}`;
          return (
            <div
              key={item.id}
              className={`absolute inset-y-0 isolate ${isCurrent ? 'z-10 outline-3 -outline-offset-1 outline-ink' : ''}`}
              style={{ left: percent(first.startMs), width: percent(length) }}
            >
              {onChoose ? (
                <button
                  type="button"
                  onClick={() => onChoose(item.id)}
                  aria-pressed={isCurrent}
                  aria-label={says}
                  className="absolute inset-0 z-20"
                />
              ) : (
                <span className="sr-only">{says}</span>
              )}
              <span aria-hidden className="absolute top-0.5 left-1 z-10 text-xs font-semibold">
                {index + 1}
              </span>
              {own.map(s => (
                <span
                  key={s.startMs}
                  className="@container absolute bottom-0 block"
                  style={{
                    left: `${(100 * (s.startMs - first.startMs)) / length}%`,
                    width: `calc(${(100 * s.durationMs) / length}% - 1px)`,
                    height: 44,
                  }}
                >
                  <span className={`absolute inset-0 block ${look(s.kind, filled)}`} />
                  <span
                    aria-hidden
                    className={`tabular absolute right-1 bottom-1 block text-xs whitespace-nowrap @max-[2.8rem]:hidden ${labelColour(s.kind, filled)}`}
                  >
                    {clock(s.durationMs)}
                  </span>
                  {onResize &&
                    s.kind !== 'prompt' &&
                    !(isRun(item) && s.kind === 'answer') &&
                    (isCurrent || s.durationMs > NARROW * strip.lengthMs) && (
                      <Edge
                        kind={s.kind}
                        itemNumber={index + 1}
                        durationMs={s.durationMs}
                        msPerPixel={() => scaleMs / Math.max(1, band.current?.clientWidth ?? 1)}
                        tabbable={isCurrent}
                        onDrag={ms =>
                          setDrag(
                            ms === null ? null : { itemId: item.id, kind: s.kind as Sized, ms, scaleMs },
                          )
                        }
                        onDone={ms => {
                          setDrag(null);
                          onResize(item.id, s.kind as Sized, ms);
                        }}
                      />
                    )}
                </span>
              ))}
            </div>
          );
        })}
        {positionMs != null && (
          <div
            aria-hidden
            className="pointer-events-none absolute inset-y-0 z-20 w-0.5 bg-ink"
            style={{ left: percent(Math.min(positionMs, strip.lengthMs)) }}
          >
            <div className="absolute -top-1 -left-1 size-2.5 rotate-45 bg-ink" />
          </div>
        )}
      </div>
      <div aria-hidden className="relative h-5 border-t border-edge">
        {ticks.map(t => (
          <span key={t} className="tabular absolute top-0 text-[11px] text-soft" style={{ left: percent(t) }}>
            <span className="absolute top-0 h-1 w-px bg-edge" />
            <span
              className={`absolute top-1 ${t === 0 ? '' : t > 0.95 * scaleMs ? '-translate-x-full' : '-translate-x-1/2'}`}
            >
              {clock(t)}
            </span>
          </span>
        ))}
      </div>
    </div>
  );
}

/** Says what the colours and edges mean; shown where a strip is met first. */
export function StripLegend() {
  return (
    <ul className="flex flex-wrap gap-x-5 gap-y-1 text-sm text-soft">
      <li className="flex items-center gap-2">
        <span className="slanted inline-block h-3 w-7 bg-saffron" />
        the teacher speaks
      </li>
      <li className="flex items-center gap-2">
        <span className="hatched inline-block h-3 w-7" />
        prepare
      </li>
      <li className="flex items-center gap-2">
        <span className="inline-block h-3 w-7 bg-petrol" />
        the student answers
      </li>
    </ul>
  );
}

/** The strip in lists: stands for the assessment and shows how far somebody has come. */
export function SmallStrip({
  items,
  answered,
}: {
  items: readonly TimedItem[];
  answered?: ReadonlySet<string>;
}) {
  const strip = useMemo(() => stripOf(items), [items]);
  return (
    <span
      role="img"
      aria-label={
        answered
          ? `${answered.size} of ${items.length} items answered`
          : `${items.length} ${items.length === 1 ? 'item' : 'items'}, ${clock(strip.lengthMs)}`
      }
      className="relative block h-4 w-full"
    >
      {strip.stretches.map(s => (
        <span
          key={s.startMs}
          className={`absolute inset-y-0 block ${look(s.kind, answered ? answered.has(s.itemId) : true)}`}
          style={{
            left: `${(100 * s.startMs) / strip.lengthMs}%`,
            width: `calc(${(100 * s.durationMs) / strip.lengthMs}% - 1px)`,
          }}
        />
      ))}
    </span>
  );
}
