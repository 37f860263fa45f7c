/** Values by their rank. */

/** The middle value, or the mean of the two in the middle; NaN of nothing. */
export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
}

/** The step that so large a share of steps does not exceed, by how often each is there. */
export function shareOf(times: Uint32Array, count: number, share: number): number {
  let step = 0;
  for (let seen = times[0]!; seen <= share * count && step < times.length - 1;) seen += times[++step]!;
  return step;
}

/** The value that a share of the others is not above. Level in dBFS, mostly: −120 of nothing. */
export function percentile(values: Float32Array | number[], share: number): number {
  const sorted = Float32Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? -120;
}
