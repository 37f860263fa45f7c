/** What is usual among several: the middle half of what was measured, without assuming a shape of it. */

export interface Usual {
  count: number;
  lowest: number;
  /** First quartile, median, third quartile. */
  low: number;
  middle: number;
  high: number;
  highest: number;
}

/** Of fewer than these nothing is called usual. */
export const LEAST_USUAL = 5;

/**
 * Quartiles by linear interpolation between ranks (R. J. Hyndman and Y. Fan, "Sample quantiles in statistical packages",
 * The American Statistician 50(4), 1996, definition 7).
 * @returns null of fewer than `LEAST_USUAL` values
 */
export function usualOf(values: readonly number[]): Usual | null {
  if (values.length < LEAST_USUAL) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const at = (share: number) => {
    const place = share * (sorted.length - 1);
    const below = Math.floor(place);
    const value = sorted[below]!;
    return value + (place - below) * ((sorted[below + 1] ?? value) - value);
  };
  return {
    count: sorted.length,
    lowest: sorted[0]!,
    low: at(0.25),
    middle: at(0.5),
    high: at(0.75),
    highest: sorted.at(-1)!,
  };
}
