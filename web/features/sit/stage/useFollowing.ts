import { useEffect, useRef, useState, type RefObject } from 'react';
import { followedTo } from './pages';

/** Words a minute, by the steps that a reader chooses from; 0 stands still. */
export const FOLLOWS = [0, 70, 100, 140] as const;

const KEPT = 'ecoute-following';
/** Whoever moves the text by hand reads on from there; so long it stays where they put it. */
const HELD_MS = 2_500;

/**
 * A long text that moves along with its reader while it is read, at a speed that they chose; kept on the device. It stands still
 * where nothing is chosen.
 * @param runs the answer is being recorded
 */
export function useFollowing(place: RefObject<HTMLElement | null>, runs: boolean) {
  const [step, setStep] = useState(() => {
    const kept = Number(localStorage.getItem(KEPT) ?? 0);
    return FOLLOWS[kept] === undefined ? 0 : kept;
  });
  /** How far the reader is, in px of the text; null where they are found anew. */
  const read = useRef<number | null>(null);
  useEffect(() => {
    if (!runs) read.current = null;
    const scrolls = place.current;
    const wordsAMinute = FOLLOWS[step]!;
    if (!runs || wordsAMinute === 0 || !scrolls) return;
    let frame = 0;
    let last = performance.now();
    let heldUntil = 0;
    let own = scrolls.scrollTop;
    const words = Math.max(1, (scrolls.textContent ?? '').trim().split(/\s+/).length);
    const go = (now: number) => {
      const passed = Math.min(200, now - last);
      last = now;
      const view = { top: scrolls.scrollTop, height: scrolls.clientHeight, whole: scrolls.scrollHeight };
      // Moved by somebody else than by this.
      if (Math.abs(scrolls.scrollTop - own) > 2) {
        heldUntil = now + HELD_MS;
        read.current = null;
      }
      own = scrolls.scrollTop;
      if (now >= heldUntil) {
        const next = followedTo(view, read.current, (wordsAMinute / 60_000 / words) * view.whole * passed);
        read.current = next.readPx;
        if (next.top - scrolls.scrollTop >= 1) scrolls.scrollTop = next.top;
        own = scrolls.scrollTop;
      }
      frame = requestAnimationFrame(go);
    };
    frame = requestAnimationFrame(go);
    return () => cancelAnimationFrame(frame);
  }, [place, runs, step]);
  return {
    step,
    next: () => {
      const chosen = (step + 1) % FOLLOWS.length;
      localStorage.setItem(KEPT, String(chosen));
      setStep(chosen);
    },
  };
}
