/**
 * Syllables, counted from the sound alone, in any language: each has one nucleus, where the middle of the spectrum is louder
 * than before and after (after P. Mermelstein, "Automatic segmentation of speech into syllabic units", JASA 58(4), 1975, and N. H.
 * de Jong and T. Wempe, "Praat script to detect syllable nuclei and measure speech rate automatically", Behavior Research
 * Methods 41(2), 2009). Not every top is one: a burst, the taps of a trill and an n are tops too. So all ways through a
 * stretch are held against each other as a whole, by how far apart nuclei usually are, how deep the dips between them, and
 * what is seen at each (a conditional random field on a lattice of tops: J. Lafferty, A. McCallum and F. Pereira,
 * "Conditional random fields", ICML 2001). As many are named as all ways have on average; they are those of the best way
 * that has so many.
 *
 * What it cannot do: hear two vowels that follow without any change of loudness in any band as two, nor leave out a syllable
 * that only a dictionary knows to be silent. Whispered speech has few nuclei here.
 */
import type { Stretch } from './activity';
import { BAND_HOP_SEC, type BandLevels } from './bands';
import type { Pitch } from './pitch';
import { latticesOf, type Lattice, type Terms } from './syllableLattice';
import { SYLLABLE_WEIGHTS } from './syllableWeights';

/** Half of the widest change of what a nucleus counts for, looked for so that the best way has the wanted number. */
const MOST_SHIFT = 8;
const SHIFT_STEPS = 24;

/**
 * The moments of the syllables' nuclei.
 * @param stretches where somebody sounds
 * @returns seconds from the first sample, in order
 */
export function syllableNuclei(bands: BandLevels, pitch: Pitch, stretches: readonly Stretch[]): number[] {
  const scored: Scored[] = [];
  for (const lattice of latticesOf(bands, pitch, stretches)) scored.push(scoredBy(lattice, SYLLABLE_WEIGHTS));
  const wanted = Math.round(scored.reduce((sum, s) => sum + expectedCount(s), 0));
  const best = (shift: number) => scored.flatMap(s => bestWay(s, shift));
  let found = best(0);
  let [least, most] = [-MOST_SHIFT, MOST_SHIFT];
  for (let step = 0; step < SHIFT_STEPS && found.length !== wanted; step++) {
    const shift = (least + most) / 2;
    found = best(shift);
    if (found.length < wanted) least = shift;
    else most = shift;
  }
  return found.map(hop => hop * BAND_HOP_SEC);
}

/** A lattice whose terms have been added up, as numbers in a row: those of an hour are held at once. */
export interface Scored {
  tops: Int32Array;
  seen: Float64Array;
  first: Float64Array;
  last: Float64Array;
  /** Steps to top j are those from `begins[j]` up to `begins[j + 1]`: from which top, and their score. */
  begins: Int32Array;
  from: Int32Array;
  score: Float64Array;
}

/** @param weights by their place; see `syllableLattice.ts` */
export function scoredBy(lattice: Lattice, weights: ArrayLike<number>): Scored {
  const sum = (terms: Terms) => {
    let out = 0;
    for (let k = 0; k < terms.length; k += 2) out += weights[terms[k]!]! * terms[k + 1]!;
    return out;
  };
  const { tops } = lattice;
  const begins = new Int32Array(tops.length + 1);
  const from: number[] = [];
  const score: number[] = [];
  for (let j = 0; j < tops.length; j++) {
    for (const step of lattice.after(j)) {
      from.push(step.from);
      score.push(sum(step.terms));
    }
    begins[j + 1] = from.length;
  }
  const ofEach = (terms: (j: number) => Terms) =>
    Float64Array.from({ length: tops.length }, (_, j) => sum(terms(j)));
  return {
    tops: Int32Array.from(tops),
    seen: ofEach(lattice.seen),
    first: ofEach(lattice.first),
    last: ofEach(lattice.last),
    begins,
    from: Int32Array.from(from),
    score: Float64Array.from(score),
  };
}

/** The number of nuclei, as a mean over all ways through one stretch, each as often as it is likely. */
export function expectedCount(scored: Scored): number {
  return waysThrough(scored).count;
}

/** All ways up to each top, and through the whole: how likely they are together (as logarithms), and their mean number of nuclei. */
export function waysThrough({ seen, first, last, begins, from, score }: Scored) {
  const ways = new LogMean();
  const weight: number[] = [];
  const count: number[] = [];
  seen.forEach((own, j) => {
    ways.reset();
    ways.add(first[j]!, 1);
    for (let k = begins[j]!; k < begins[j + 1]!; k++)
      ways.add(weight[from[k]!]! + score[k]!, count[from[k]!]! + 1);
    weight.push(own + ways.logSum);
    count.push(ways.mean);
  });
  ways.reset();
  weight.forEach((w, j) => ways.add(w + last[j]!, count[j]!));
  return { upTo: weight, countUpTo: count, all: ways.logSum, count: ways.mean };
}

/** A sum of exponentials, and the mean of something weighted by them, without overflow. */
export class LogMean {
  private top = -Infinity;
  private sum = 0;
  private weighted = 0;

  reset(): void {
    this.top = -Infinity;
    this.sum = 0;
    this.weighted = 0;
  }

  add(log: number, value: number): void {
    if (log > this.top) {
      const shrink = Math.exp(this.top - log);
      this.sum *= shrink;
      this.weighted *= shrink;
      this.top = log;
    }
    const share = Math.exp(log - this.top);
    this.sum += share;
    this.weighted += share * value;
  }

  get logSum(): number {
    return this.top + Math.log(this.sum);
  }

  get mean(): number {
    return this.weighted / this.sum;
  }
}

/** The tops of the best way through one stretch. @param shift what each nucleus counts for on top */
function bestWay({ tops, seen, first, last, begins, from, score }: Scored, shift: number): number[] {
  const best: number[] = [];
  const before: number[] = [];
  let end = -1;
  let most = -Infinity;
  tops.forEach((_, j) => {
    let way = first[j]!;
    let came = -1;
    for (let k = begins[j]!; k < begins[j + 1]!; k++) {
      const through = best[from[k]!]! + score[k]!;
      if (through > way) [way, came] = [through, from[k]!];
    }
    best.push(way + seen[j]! + shift);
    before.push(came);
    if (best[j]! + last[j]! > most) [most, end] = [best[j]! + last[j]!, j];
  });
  const found: number[] = [];
  for (let j = end; j >= 0; j = before[j]!) found.push(tops[j]!);
  return found.reverse();
}
