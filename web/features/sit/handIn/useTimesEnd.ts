import { useEffect } from 'react';
import type { HandInWish } from './wishes';

/** When time is up and the hand-in is refused, nobody has to ask again. */
const REFUSED_AGAIN_MS = 4_000;

/** The end of a sitting's time asks nobody: it is handed in, and again a while after each refusal. */
export function useTimesEnd(timeUp: boolean, wish: HandInWish | null, go: () => void): void {
  const isRefused = wish?.refusal != null;
  const isWanted = wish !== null && !isRefused;
  useEffect(() => {
    if (!timeUp || isWanted) return;
    const timer = setTimeout(go, isRefused ? REFUSED_AGAIN_MS : 0);
    return () => clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, and a while after each refusal
  }, [timeUp, isWanted]);
}
