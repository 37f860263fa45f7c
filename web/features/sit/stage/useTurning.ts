import { useCallback, useEffect, useState, type RefObject } from 'react';
import { isLonger, moreOf, turned, type Line, type View } from './pages';

const viewOf = (place: HTMLElement): View => ({
  top: place.scrollTop,
  height: place.clientHeight,
  whole: place.scrollHeight,
});

/** Lines of music inside, where a score has written them beside itself; in px of the place's content. */
function linesIn(place: HTMLElement): Line[] {
  const origin = place.getBoundingClientRect().top - place.scrollTop;
  return [...place.querySelectorAll<HTMLElement>('[data-lines]')].flatMap(score => {
    const at = score.getBoundingClientRect().top - origin;
    return (JSON.parse(score.dataset.lines!) as [number, number][]).map(([top, bottom]) => ({
      top: at + top,
      bottom: at + bottom,
    }));
  });
}

/** Keys that a pedal for turning pages sends, and those a keyboard has for it. */
const FORTH = new Set(['PageDown', 'ArrowRight']);
const BACK = new Set(['PageUp', 'ArrowLeft']);

export interface Turning {
  /** The whole is longer than what is in sight. */
  isLong: boolean;
  before: boolean;
  after: boolean;
  turn: (by: 1 | -1) => void;
}

/**
 * Turns the pages of what is longer than its place: by key, pedal, or whoever calls `turn`.
 * @param on false where the page itself scrolls
 */
export function useTurning(place: RefObject<HTMLElement | null>, on: boolean): Turning {
  const [{ isLong, before, after }, setMore] = useState({ isLong: false, before: false, after: false });
  const turn = useCallback(
    (by: 1 | -1) => {
      if (place.current) place.current.scrollTop = turned(viewOf(place.current), linesIn(place.current), by);
    },
    [place],
  );
  useEffect(() => {
    const scrolls = place.current;
    if (!scrolls || !on) return;
    const look = () => {
      const view = viewOf(scrolls);
      const more = { isLong: isLonger(view), ...moreOf(view) };
      setMore(was =>
        was.isLong === more.isLong && was.before === more.before && was.after === more.after ? was : more,
      );
    };
    look();
    const sizes = new ResizeObserver(look);
    sizes.observe(scrolls);
    for (const child of scrolls.children) sizes.observe(child);
    scrolls.addEventListener('scroll', look, { passive: true });
    const keys = (event: KeyboardEvent) => {
      const { target } = event;
      if (target instanceof HTMLElement && target.closest('input, textarea, select, [role=dialog]')) return;
      const by = FORTH.has(event.key) ? 1 : BACK.has(event.key) ? -1 : null;
      if (by === null || event.altKey || event.ctrlKey || event.metaKey) return;
      event.preventDefault();
      turn(by);
    };
    document.addEventListener('keydown', keys);
    return () => {
      sizes.disconnect();
      scrolls.removeEventListener('scroll', look);
      document.removeEventListener('keydown', keys);
    };
  }, [on, place, turn]);
  return { isLong, before, after, turn };
}
