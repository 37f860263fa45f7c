/** What was reached of what could be, in whole per cent: the one place where a share is rounded. */
import type { Hundredths } from './points';

/**
 * Whole per cents, half up; but whoever misses something has no 100, and whoever reached something no 0.
 * @returns null where nothing could be reached
 */
export function percentOf(given: Hundredths, most: Hundredths): number | null {
  if (most <= 0) return null;
  // Integers all the way: 0.285 × 100 is not 28.5 for a machine.
  const rounded = Math.floor((given * 200 + most) / (most * 2));
  if (rounded >= 100 && given < most) return 99;
  return rounded === 0 && given > 0 ? 1 : rounded;
}

/** A share that was worked out already (0 to 1), rounded as `percentOf` does. */
export function percentOfShare(share: number): number {
  return percentOf(Math.round(share * 1_000_000), 1_000_000)!;
}
