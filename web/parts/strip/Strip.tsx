import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { isRun, rulerStepMs, stripOf, type Stretch, type TimedItem } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import { Edge } from './Edge';
import type { Sized } from './snapping';
import { t } from '../../base/i18n';

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

/** Times on the ruler: at most so many, and each with its room. */
const MOST_TICKS = 9;
const TICK_PIXELS = 60;

/** A stretch narrower than this share of the strip has an edge only while its item is in focus. */
const NARROW = 0.02;

interface ItemStretchesProps {
  item: TimedItem;
  index: number;
  own: readonly Stretch[];
  isCurrent: boolean;
  filled: boolean;
  /** Stretches up to this long have an edge only while their item is in focus. */
  narrowMs: number;
  onChoose?: (itemId: string) => void;
  onResize?: (itemId: string, kind: Sized, durationMs: number) => void;
  msPerPixel: () => number;
  onDrag: (itemId: string, kind: Sized, ms: number | null) => void;
}

/** True when an item looks the same as before: where it lies on the strip is its frame's affair. */
function looksTheSame(before: ItemStretchesProps, now: ItemStretchesProps): boolean {
  const edges = (p: ItemStretchesProps) => p.own.map(s => p.isCurrent || s.durationMs > p.narrowMs);
  return (
    before.index === now.index &&
    before.item.id === now.item.id &&
    before.isCurrent === now.isCurrent &&
    before.filled === now.filled &&
    before.onChoose === now.onChoose &&
    before.onResize === now.onResize &&
    before.own.length === now.own.length &&
    before.own.every((s, i) => s.kind === now.own[i]!.kind && s.durationMs === now.own[i]!.durationMs) &&
    edges(before).every((has, i) => has === edges(now)[i])
  );
}

/** The stretches of one item, with its number, its button and its edges. */
const ItemStretches = memo(function ItemStretches({
  item,
  index,
  own,
  isCurrent,
  filled,
  narrowMs,
  onChoose,
  onResize,
  msPerPixel,
  onDrag,
}: ItemStretchesProps) {
  const startMs = own[0]!.startMs;
  const length = own.reduce((sum, s) => sum + s.durationMs, 0);
  const says = isRun(item)
    ? `${t('Item {{number}}', { number: index + 1 })}: ${clock(length)}`
    : `${t('Item {{number}}', { number: index + 1 })}: ${own.map(s => `${t(NAMES[s.kind])} ${clock(s.durationMs)}`).join(', ')}`;
  return (
    <>
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
      {own.map((s, i) => (
        <span
          key={i}
          className="@container absolute bottom-0 block"
          style={{
            left: `${(100 * (s.startMs - startMs)) / length}%`,
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
            (isCurrent || s.durationMs > narrowMs) && (
              <Edge
                kind={s.kind}
                itemNumber={index + 1}
                durationMs={s.durationMs}
                msPerPixel={msPerPixel}
                tabbable={isCurrent}
                onPress={() => onChoose?.(item.id)}
                onDrag={ms => onDrag(item.id, s.kind as Sized, ms)}
                onDone={ms => {
                  onDrag(item.id, s.kind as Sized, null);
                  onResize(item.id, s.kind as Sized, ms);
                }}
              />
            )}
        </span>
      ))}
    </>
  );
}, looksTheSame);

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
  label = t('The strip of this assessment'),
}: StripProps) {
  const band = useRef<HTMLDivElement>(null);
  /** A length on its way under the pointer, with the scale that holds meanwhile. */
  const [drag, setDrag] = useState<{ itemId: string; kind: Sized; ms: number; scaleMs: number } | null>(null);
  const strip = useMemo(() => {
    if (!drag) return stripOf(items);
    const field = drag.kind === 'prepare' ? 'prepareMs' : 'answerLimitMs';
    return stripOf(items.map(i => (i.id === drag.itemId ? { ...i, [field]: drag.ms } : i)));
  }, [drag, items]);
  const [ticksWanted, setTicksWanted] = useState(MOST_TICKS);
  useEffect(() => {
    if (!band.current) return;
    // Each time on the ruler needs its room.
    const observer = new ResizeObserver(([entry]) =>
      setTicksWanted(Math.max(2, Math.min(MOST_TICKS, Math.floor(entry!.contentRect.width / TICK_PIXELS)))),
    );
    observer.observe(band.current);
    return () => observer.disconnect();
  }, [strip.lengthMs === 0]); // eslint-disable-line react-hooks/exhaustive-deps -- the band comes with a length
  const scaleMs = drag?.scaleMs ?? strip.lengthMs;
  const scale = useRef(scaleMs);
  useEffect(() => {
    scale.current = scaleMs;
  });
  const msPerPixel = useCallback(() => scale.current / Math.max(1, band.current?.clientWidth ?? 1), []);
  const onDrag = useCallback(
    (itemId: string, kind: Sized, ms: number | null) =>
      setDrag(ms === null ? null : { itemId, kind, ms, scaleMs: scale.current }),
    [],
  );
  if (strip.lengthMs === 0) return null;
  const percent = (ms: number) => `${(100 * ms) / scaleMs}%`;
  const step = rulerStepMs(scaleMs, ticksWanted);
  const ticks = Array.from({ length: Math.floor(scaleMs / step) + 1 }, (_, i) => i * step);
  const byItem = new Map<number, Stretch[]>();
  for (const s of strip.stretches) byItem.set(s.itemIndex, [...(byItem.get(s.itemIndex) ?? []), s]);
  return (
    // Time runs from left to right in every language.
    <div dir="ltr" className="overflow-x-clip select-none" role="group" aria-label={label}>
      <div ref={band} className="relative h-16 bg-sheet">
        {items.map((item, index) => {
          const own = byItem.get(index);
          const first = own?.[0];
          if (!own || !first) return null;
          const length = own.reduce((sum, s) => sum + s.durationMs, 0);
          const isCurrent = item.id === current;
          return (
            <div
              key={item.id}
              className={`absolute inset-y-0 isolate ${isCurrent ? 'z-10 outline-3 -outline-offset-1 outline-ink' : ''}`}
              style={{ left: percent(first.startMs), width: percent(length) }}
            >
              <ItemStretches
                item={item}
                index={index}
                own={own}
                isCurrent={isCurrent}
                filled={answered ? answered.has(item.id) : true}
                narrowMs={NARROW * strip.lengthMs}
                onChoose={onChoose}
                onResize={onResize}
                msPerPixel={msPerPixel}
                onDrag={onDrag}
              />
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
export function StripLegend({ isOwn = false }: { /** Read by whoever answers. */ isOwn?: boolean }) {
  return (
    <ul className="flex flex-wrap gap-x-5 gap-y-1 text-sm text-soft">
      <li className="flex items-center gap-2">
        <span className="slanted inline-block h-3 w-7 bg-saffron" />
        {t('the teacher speaks')}
      </li>
      <li className="flex items-center gap-2">
        <span className="hatched inline-block h-3 w-7" />
        {t('prepare')}
      </li>
      <li className="flex items-center gap-2">
        <span className="inline-block h-3 w-7 bg-petrol" />
        {isOwn ? t('you answer') : t('the student answers')}
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
          ? t('{{passed}} of {{limit}}', { passed: answered.size, limit: items.length })
          : `${t('{{count}} items', { count: items.length })}, ${clock(strip.lengthMs)}`
      }
      dir="ltr"
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
