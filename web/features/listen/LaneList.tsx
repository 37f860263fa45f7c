import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useRef, useState, type ReactNode } from 'react';
import type { Lane } from '@ecoute/contract/marking';
import { laneKey } from './order';

/** A class of ordinary size is in the page whole: found by the browser's search, read by a screen reader at one go. */
const WHOLE_UP_TO = 60;
/** About as high as they are, until they are in the page. */
const CLOSED_LANE_PX = 69;
const OPEN_LANE_PX = 500;

export interface LaneInList {
  /** Its place among all lanes, from 0, and how many these are: the page may hold only those near by. */
  index: number;
  count: number;
  /** Told of the element, so that its height is known; not needed where all lanes are in the page. */
  measure?: (element: HTMLLIElement | null) => void;
  /** Where it lies in the list, with only some in the page: a lane keeps its place, so that scrolling paints only new ones. */
  topPx?: number;
}

/** For so many frames a lane that was opened is held in its place while heights above it become known. */
const HELD_FRAMES = 6;

/**
 * Brings the open lane to where each is opened: under the line, with the lane before it in sight; so that its score lies under
 * the same hand. @returns ends the holding
 */
function holdInPlace(find: () => HTMLElement | null): () => void {
  let frames = HELD_FRAMES;
  let next = 0;
  const hold = () => {
    const row = find();
    if (row) {
      const off = row.getBoundingClientRect().top - parseFloat(getComputedStyle(row).scrollMarginTop);
      if (Math.abs(off) > 1) window.scrollBy(0, off);
    }
    if (--frames > 0) next = requestAnimationFrame(hold);
  };
  hold();
  // Whoever scrolls has it their way.
  const end = () => cancelAnimationFrame(next);
  const own = ['wheel', 'touchmove', 'keydown'] as const;
  own.forEach(type => window.addEventListener(type, end, { passive: true, once: true }));
  return () => {
    end();
    own.forEach(type => window.removeEventListener(type, end));
  };
}

/** The lanes of a group; of hundreds only those in sight and their neighbours are in the page. */
export function LaneList({
  lanes,
  focused,
  label,
  children,
}: {
  lanes: readonly Lane[];
  /** Key of the lane in focus; kept in sight when it changes. */
  focused: string;
  label: string;
  children: (lane: Lane, list: LaneInList) => ReactNode;
}) {
  const list = useRef<HTMLOListElement>(null);
  const isLong = lanes.length > WHOLE_UP_TO;
  const at = lanes.findIndex(l => laneKey(l) === focused);
  /** Where the list begins in the page; null until that is known, and then nothing far away is put into it. */
  const [top, setTop] = useState<number | null>(null);
  useLayoutEffect(() => {
    setTop(list.current ? list.current.getBoundingClientRect().top + window.scrollY : 0);
  }, [isLong]);
  const isThere = isLong && top !== null;
  const rows = useWindowVirtualizer({
    enabled: isThere,
    count: isThere ? lanes.length : 0,
    estimateSize: i => (i === at ? OPEN_LANE_PX : CLOSED_LANE_PX),
    overscan: 4,
    scrollMargin: top ?? 0,
    getItemKey: i => laneKey(lanes[i]!),
    // The lanes put into the page first are those around the open one.
    initialRect: { width: window.innerWidth, height: window.innerHeight },
    initialOffset: () => (at > 1 ? (top ?? 0) + (at - 1) * CLOSED_LANE_PX : window.scrollY),
  });
  useEffect(() => {
    if (isLong && !isThere) return;
    // What is far away is not in the page yet.
    if (isLong && at >= 0 && !rows.getVirtualItems().some(r => r.index === at))
      rows.scrollToIndex(at, { align: 'start' });
    const hold = () =>
      holdInPlace(() => list.current?.querySelector<HTMLElement>(':scope > li[aria-current]') ?? null);
    let end = hold();
    // A phone that is turned lays everything anew.
    const upright = window.matchMedia('(orientation: portrait)');
    const onTurned = () => {
      end();
      end = hold();
    };
    upright.addEventListener('change', onTurned);
    return () => {
      end();
      upright.removeEventListener('change', onTurned);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only when another lane comes into focus
  }, [focused, top]);
  if (!isLong)
    return (
      <ol ref={list} className="grid grid-cols-1 gap-px bg-line" aria-label={label}>
        {lanes.map((lane, i) => children(lane, { index: i, count: lanes.length }))}
      </ol>
    );
  return (
    <ol
      ref={list}
      className="relative bg-line [&>li]:absolute [&>li]:inset-x-0 [&>li]:border-b [&>li]:border-line [&>li]:[contain:layout]"
      aria-label={label}
      style={{ height: isThere ? rows.getTotalSize() : lanes.length * CLOSED_LANE_PX }}
    >
      {rows.getVirtualItems().map(row =>
        children(lanes[row.index]!, {
          index: row.index,
          count: lanes.length,
          measure: rows.measureElement,
          topPx: row.start - (top ?? 0),
        }),
      )}
    </ol>
  );
}
