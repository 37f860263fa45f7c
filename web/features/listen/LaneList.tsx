import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import type { Lane } from '@ecoute/contract/marking';
import { laneKey } from './order';

/** A class of ordinary size is in the page whole: found by the browser's search, read by a screen reader at one go. */
const WHOLE_UP_TO = 60;
const CLOSED_LANE_PX = 64;

export interface LaneInList {
  /** Its place among all lanes, from 0, and how many these are: the page may hold only those near by. */
  index: number;
  count: number;
  /** Told of the element, so that its height is known; not needed where all lanes are in the page. */
  measure?: (element: HTMLLIElement | null) => void;
  /** Where it lies in the list, with only some in the page: a lane keeps its place, so that scrolling paints only new ones. */
  topPx?: number;
}

/** An open lane begins under the strip with the lane before it still in sight, unless all of it is in sight already. */
function bringIntoSight(row: HTMLElement | null): void {
  if (!row) return;
  const { top, bottom } = row.getBoundingClientRect();
  const { scrollMarginTop, scrollMarginBottom } = getComputedStyle(row);
  const isInSight =
    top >= parseFloat(scrollMarginTop) && bottom <= innerHeight - parseFloat(scrollMarginBottom);
  if (!isInSight) row.scrollIntoView({ block: 'start' });
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
  const moved = useRef(false);
  const isLong = lanes.length > WHOLE_UP_TO;
  const at = lanes.findIndex(l => laneKey(l) === focused);
  const [top, setTop] = useState(0);
  useEffect(() => {
    setTop(list.current ? list.current.getBoundingClientRect().top + window.scrollY : 0);
  }, [isLong]);
  const rows = useWindowVirtualizer({
    count: isLong ? lanes.length : 0,
    estimateSize: () => CLOSED_LANE_PX,
    overscan: 4,
    scrollMargin: top,
    getItemKey: i => laneKey(lanes[i]!),
  });
  useEffect(() => {
    if (moved.current && isLong && at >= 0) {
      const row = rows.getVirtualItems().find(r => r.index === at);
      // A neighbour is only brought wholly into sight; what is far away is jumped to.
      if (!row) rows.scrollToIndex(at, { align: 'center' });
    }
    if (moved.current)
      bringIntoSight(list.current?.querySelector<HTMLElement>(':scope > li[aria-current]') ?? null);
    moved.current = true;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only when another lane comes into focus
  }, [focused]);
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
      style={{ height: rows.getTotalSize() }}
    >
      {rows.getVirtualItems().map(row =>
        children(lanes[row.index]!, {
          index: row.index,
          count: lanes.length,
          measure: rows.measureElement,
          topPx: row.start - top,
        }),
      )}
    </ol>
  );
}
