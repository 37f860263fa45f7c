/** How the weights of syllables are learnt: what `./ecoute bench syllables` runs, on core's own lattices. */
import { soundingStretches } from '@ecoute/core/audio/activity';
import { latticesOf, WEIGHTS, type Lattice, type Terms } from '@ecoute/core/audio/syllableLattice';
import { expectedCount, LogMean, scoredBy, waysThrough } from '@ecoute/core/audio/syllables';
import { SYLLABLE_WEIGHTS } from '@ecoute/core/audio/syllableWeights';

import { analysed } from '@ecoute/core/testing/analysed';

export { babble, overNoise } from '@ecoute/core/testing/sounds';

export interface Example {
  /** Those of one group count as much together as those of another, times its weight. */
  group: string;
  syllables: number;
  lattices: Lattice[];
}

/** The same, worked out once: it is asked hundreds of times, and keeps nothing of the sound. */
function worked({ tops, seen, first, last, after }: Lattice): Lattice {
  const kept = <T>(of: (j: number) => T) => {
    const all = tops.map((_, j) => of(j));
    return (j: number) => all[j]!;
  };
  return { tops, seen: kept(seen), first: kept(first), last: kept(last), after: kept(after) };
}

/** @param samples mono at 16 kHz */
export function exampleOf(samples: Float32Array, syllables: number, group: string): Example {
  const { bands, pitch } = analysed(samples);
  return { group, syllables, lattices: [...latticesOf(bands, pitch, soundingStretches(bands))].map(worked) };
}

const STEPS = 800;
const RATE = 0.02;
/** How strongly weights stay where they were. */
const HOLD = 0.001;
/** An error of so much of a count is a small one; far larger ones count by their size, not by its square. */
const SMALL = 0.07;
/** What a whole group being counted too high or too low adds. */
const BIAS = 0.2;

/**
 * Weights with which the expected counts come near to the true ones (Adam: D. P. Kingma and J. Ba, ICLR 2015).
 * @param groupWeights of groups that count more or less than 1
 */
export function fitted(
  examples: readonly Example[],
  groupWeights: Record<string, number>,
  onStep: (step: number, loss: number) => void,
): number[] {
  const begun = Float64Array.from(SYLLABLE_WEIGHTS);
  const weights = begun.slice();
  const mean = new Float64Array(WEIGHTS);
  const square = new Float64Array(WEIGHTS);
  const sizes = new Map<string, { count: number; syllables: number; bias: number }>();
  for (const e of examples) {
    const size = sizes.get(e.group) ?? { count: 0, syllables: 0, bias: 0 };
    size.count += 1;
    size.syllables += e.syllables;
    sizes.set(e.group, size);
  }
  for (let step = 1; step <= STEPS; step++) {
    const slope = new Float64Array(WEIGHTS);
    const told = new Map([...sizes.keys()].map(k => [k, 0]));
    let loss = 0;
    for (const { group, syllables, lattices } of examples) {
      const slopes = lattices.map(l => countSlope(l, weights));
      const count = slopes.reduce((sum, s) => sum + s.count, 0);
      told.set(group, told.get(group)! + count);
      const off = (count - syllables) / syllables;
      const rounded = Math.hypot(off, SMALL);
      const size = sizes.get(group)!;
      const weight = groupWeights[group] ?? 1;
      loss += (weight * (rounded - SMALL)) / size.count;
      const by =
        (weight * off) / rounded / syllables / size.count +
        (weight * BIAS * Math.tanh(size.bias / 0.01)) / size.syllables;
      for (const s of slopes) for (let k = 0; k < WEIGHTS; k++) slope[k]! += by * s.slope[k]!;
    }
    for (const [group, size] of sizes) size.bias = told.get(group)! / size.syllables - 1;
    for (let k = 0; k < WEIGHTS; k++) {
      const g = slope[k]! + HOLD * (weights[k]! - begun[k]!);
      mean[k] = 0.9 * mean[k]! + 0.1 * g;
      square[k] = 0.999 * square[k]! + 0.001 * g * g;
      const pace = Math.sqrt(square[k]! / (1 - 0.999 ** step)) + 1e-6;
      weights[k]! -= (RATE * (mean[k]! / (1 - 0.9 ** step))) / pace;
    }
    onStep(step, loss);
  }
  return Array.from(weights, w => Math.round(1_000 * w) / 1_000);
}

/** The expected count of one stretch with some weights, to try what was learnt on others. */
export function counted({ lattices }: Example, weights: readonly number[]): number {
  return lattices.reduce((sum, l) => sum + expectedCount(scoredBy(l, weights)), 0);
}

/** The expected count of a stretch, and how it changes with each weight: its covariance with the terms. */
function countSlope(lattice: Lattice, weights: Float64Array): { count: number; slope: Float64Array } {
  const scored = scoredBy(lattice, weights);
  const { seen, first, last, begins, from: cameFrom, score } = scored;
  const { upTo: before, countUpTo: countBefore, all, count } = waysThrough(scored);
  const n = seen.length;
  /** All ways on from a top. */
  const [onward, countOnward] = [new Float64Array(n), new Float64Array(n)];
  const ways = new LogMean();
  const nexts: [to: number, score: number][][] = Array.from({ length: n }, () => []);
  for (let j = 0; j < n; j++)
    for (let k = begins[j]!; k < begins[j + 1]!; k++) nexts[cameFrom[k]!]!.push([j, score[k]!]);
  for (let i = n - 1; i >= 0; i--) {
    ways.reset();
    ways.add(last[i]!, 0);
    for (const [to, score] of nexts[i]!) ways.add(score + seen[to]! + onward[to]!, countOnward[to]! + 1);
    [onward[i], countOnward[i]] = [ways.logSum, ways.mean];
  }
  const slope = new Float64Array(WEIGHTS);
  const add = (terms: Terms, log: number, nuclei: number) => {
    const by = Math.exp(log - all) * (nuclei - count);
    for (let k = 0; k < terms.length; k += 2) slope[terms[k]!]! += by * terms[k + 1]!;
  };
  for (let j = 0; j < n; j++) {
    add(lattice.seen(j), before[j]! + onward[j]!, countBefore[j]! + countOnward[j]!);
    add(lattice.first(j), first[j]! + seen[j]! + onward[j]!, 1 + countOnward[j]!);
    add(lattice.last(j), before[j]! + last[j]!, countBefore[j]!);
    lattice.after(j).forEach(({ from, terms }, k) => {
      const log = before[from]! + score[begins[j]! + k]! + seen[j]! + onward[j]!;
      add(terms, log, countBefore[from]! + 1 + countOnward[j]!);
    });
  }
  return { count, slope };
}
