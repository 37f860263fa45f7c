/** Mean, spread and agreement of few numbers; null where these are too few to say, never NaN. */

export function meanOf(values: readonly number[]): number | null {
  return values.length === 0 ? null : values.reduce((sum, v) => sum + v, 0) / values.length;
}

/** The sample variance (divided by n − 1); null of fewer than two. */
export function varianceOf(values: readonly number[]): number | null {
  const mean = meanOf(values);
  if (mean === null || values.length < 2) return null;
  return values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (values.length - 1);
}

/** The sample standard deviation, in the values' unit. */
export function spreadOf(values: readonly number[]): number | null {
  const variance = varianceOf(values);
  return variance === null ? null : Math.sqrt(variance);
}

/** Below this share of the values a spread is only a machine's rounding. */
const NO_SPREAD = 1e-9;

/** Whether values are all the same, but for rounding. */
export function isFlat(values: readonly number[]): boolean {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  return !(high - low > NO_SPREAD * Math.max(1, Math.abs(high)));
}

/**
 * Pearson's correlation of pairs.
 * @returns null of fewer than three pairs, or where one side is all the same: then nothing goes together with anything
 * @throws RangeError where the sides are not equally long
 */
export function correlationOf(a: readonly number[], b: readonly number[]): number | null {
  if (a.length !== b.length) throw new RangeError('A correlation wants pairs.');
  if (a.length < 3 || isFlat(a) || isFlat(b)) return null;
  const [ma, mb] = [meanOf(a)!, meanOf(b)!];
  let ab = 0;
  let aa = 0;
  let bb = 0;
  for (let i = 0; i < a.length; i++) {
    const [x, y] = [a[i]! - ma, b[i]! - mb];
    ab += x * y;
    aa += x * x;
    bb += y * y;
  }
  return Math.max(-1, Math.min(1, ab / Math.sqrt(aa * bb)));
}
