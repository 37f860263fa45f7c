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

/** Values beyond this number are counted by steps first, and only those of one step sorted. */
const MANY = 4_096;
const STEPS = 1_024;

/** The value that a share of the others is not above; none of them may be NaN. Level in dBFS, mostly: −120 of nothing. */
export function percentile(values: Float32Array | number[], share: number): number {
  const { length } = values;
  const rank = Math.min(length - 1, Math.floor(share * length));
  if (length <= MANY) return Float32Array.from(values).sort()[rank] ?? -120;
  // Those of an hour are neither copied nor sorted.
  let least = Infinity;
  let most = -Infinity;
  // By their places: an iterator is an object for each of them.
  for (let i = 0; i < length; i++) {
    const value = values[i]!;
    if (value < least) least = value;
    if (value > most) most = value;
  }
  const perStep = most > least ? (STEPS - 1) / (most - least) : 0;
  const stepOf = (value: number) => Math.floor((value - least) * perStep);
  const times = new Uint32Array(STEPS);
  for (let i = 0; i < length; i++) times[stepOf(values[i]!)]! += 1;
  let step = 0;
  let before = 0;
  while (before + times[step]! <= rank) before += times[step++]!;
  const near: number[] = [];
  for (let i = 0; i < length; i++) if (stepOf(values[i]!) === step) near.push(values[i]!);
  return Float32Array.from(near).sort()[rank - before]!;
}
