import { useEffect, useReducer } from 'react';
import { serverNow } from '../../../base/clock';

/** A timer may fire a little early: what it is for has come by then. */
const AFTER_MS = 5;

/**
 * Renders again after a time; whoever asks says anew with each render how long.
 * @param inMs null where nothing is waited for
 */
export function useWake(inMs: number | null): void {
  const [, wake] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    if (inMs === null) return;
    const timer = setTimeout(wake, Math.max(0, inMs) + AFTER_MS);
    return () => clearTimeout(timer);
  });
}

/**
 * The server's time, renewed when another whole second is left, and at the end: just when a clock shows something else.
 * @param endsAtMs by the server's clock; null where no clock runs
 */
export function useCountdown(endsAtMs: number | null): number {
  const now = serverNow();
  const leftMs = endsAtMs === null ? 0 : endsAtMs - now;
  useWake(leftMs > 0 ? leftMs % 1_000 || 1_000 : null);
  return now;
}
