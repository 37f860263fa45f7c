/**
 * Where syllables may be: the tops of the level, what is seen at each, and what lies between any two that may follow each
 * other. Which of them are nuclei is decided in `syllables.ts`, by weights that were learnt.
 */
import type { Stretch } from './activity';
import { BAND_HOP_SEC, bandDb, BANDS, dbOf, type BandLevels } from './bands';
import { HOP_SEC, type Pitch } from './pitch';
import { shareOf } from './ranks';

/** The bands that tops are seen in: 190 Hz to 4 kHz. */
const FIRST = 1;
const LAST = 6;
/** Further below its loud moments a band says nothing, and further above them neither. */
const DEPTH_DB = 15;
const ABOVE_DB = 6;
/** So much of the time that somebody sounds a band is not louder than at its loud moments. */
const LOUD_SHARE = 0.95;
/** Before and after a top the level is lower by so much. */
const DIP_DB = 0.15;
/** Smoothing of 10 ms (standard deviation). */
const SMOOTH_HOPS = 2;
const SMOOTH_REACH = 3 * SMOOTH_HOPS;
/** Two tops further apart than this do not follow each other within one run of syllables. */
const FURTHEST_SEC = 0.9;
/** A hiss is loud from 4 kHz on beside the bands of most vowels, 310 to 880 Hz. */
const FRICTION_BAND = 7;
const VOWEL_BANDS = [2, 3] as const;
/** A top is as wide as the level stays this near to it. */
const WIDTH_DB = 3;

/** Weights of a term that bends are given at these places, and lie on straight lines between them. */
const APART = [0.05, 0.08, 0.11, 0.14, 0.17, 0.21, 0.26, 0.33, 0.42, 0.6].map(Math.log);
const DIPS = [0, 0.5, 1, 2, 3.5, 6, 10];
const EDGES = [0, 0.04, 0.08, 0.14, 0.22];
const SEEN = 12;

/** First weight of each kind of term. */
const AT = { apart: 0, dip: 10, between: 17, start: 20, end: 25, seen: 30, squared: 42 } as const;
export const WEIGHTS = AT.squared + SEEN;

/** A sum of weights: pairs of which one, and times what. */
export type Terms = number[];

/** The tops of one stretch of sound; what is asked of the j-th of them is worked out then, for all at once would be many times the sound. */
export interface Lattice {
  /** In hops of the bands. */
  tops: number[];
  /** By itself. */
  seen: (j: number) => Terms;
  /** As the first and as the last of its stretch. */
  first: (j: number) => Terms;
  last: (j: number) => Terms;
  /** After one of those before it. */
  after: (j: number) => { from: number; terms: Terms }[];
}

/**
 * One after the other.
 * @param stretches where somebody sounds
 * @returns a lattice for each in which there is a top
 */
export function* latticesOf(
  bands: BandLevels,
  pitch: Pitch,
  stretches: readonly Stretch[],
): Generator<Lattice, void> {
  const spans = stretches.map(s => [hopOf(s.startSec), Math.min(bands.count, hopOf(s.endSec) + 1)] as const);
  const loud = loudOf(bands, spans);
  for (const [from, to] of spans) {
    const level = envelope(bands, from, to, loud);
    const lattice = latticeOf({ bands, pitch, loud, level }, from, to);
    if (lattice.tops.length > 0) yield lattice;
  }
}

interface Heard {
  bands: BandLevels;
  pitch: Pitch;
  /** Of each band, its level at the loud moments. dBFS */
  loud: number[];
  /** Of one stretch, from its first hop on: the mean over bands, see `envelope`. dB */
  level: Float32Array;
}

const hopOf = (sec: number) => Math.round(sec / BAND_HOP_SEC);
const pitchHopOf = (hop: number) => Math.round((hop * BAND_HOP_SEC) / HOP_SEC);
const clamp = (least: number, value: number, most: number) => Math.max(least, Math.min(most, value));

function loudOf(bands: BandLevels, spans: readonly (readonly [number, number])[]): number[] {
  const count = spans.reduce((sum, [from, to]) => sum + Math.max(0, to - from), 0);
  return Array.from({ length: BANDS }, (_, b) => {
    const times = new Uint32Array(256);
    for (const [from, to] of spans) for (let h = from; h < to; h++) times[bands.levels[h * BANDS + b]!]! += 1;
    return dbOf(shareOf(times, count, LOUD_SHARE));
  });
}

/**
 * The mean over bands of how far each lies below its own loud moments, smoothed: so that a dip in one formant is seen
 * although another goes on. Outside of the stretch there is nothing.
 */
function envelope(bands: BandLevels, from: number, to: number, loud: number[]): Float32Array {
  const before = Math.min(from, SMOOTH_REACH);
  const after = Math.min(bands.count - to, SMOOTH_REACH);
  const raw = new Float32Array(before + to - from + after).fill(-DEPTH_DB);
  raw.fill(0, before, before + to - from);
  const share = 1 / (LAST - FIRST + 1);
  for (let b = FIRST; b <= LAST; b++)
    for (let h = from; h < to; h++)
      raw[before + h - from]! += share * clamp(-DEPTH_DB, bandDb(bands, h, b) - loud[b]!, ABOVE_DB);
  return smoothed(raw).subarray(before, before + to - from);
}

/** Gaussian smoothing. */
function smoothed(values: Float32Array): Float32Array {
  const reach = SMOOTH_REACH;
  const kernel = Float64Array.from({ length: 2 * reach + 1 }, (_, k) =>
    Math.exp(-0.5 * ((k - reach) / SMOOTH_HOPS) ** 2),
  );
  const sum = kernel.reduce((a, b) => a + b, 0);
  const last = values.length - 1;
  return values.map((_, i) => {
    let out = 0;
    for (let k = -reach; k <= reach; k++) out += kernel[k + reach]! * values[clamp(0, i + k, last)]!;
    return out / sum;
  });
}

/** Tops that rise and fall by at least the dip on both sides. */
function topsOf(level: Float32Array, from: number): number[] {
  const found: number[] = [];
  let isRising = true;
  let least = -DEPTH_DB;
  let most = -Infinity;
  let at = 0;
  for (let i = 0; i <= level.length; i++) {
    // After its end a stretch falls to nothing.
    const here = i < level.length ? level[i]! : -Infinity;
    if (isRising) {
      if (here > most) [most, at] = [here, i];
      else if (here < most - DIP_DB) {
        if (most - least > DIP_DB) found.push(from + at);
        isRising = false;
        least = here;
      }
    } else if (here < least) least = here;
    else if (here > least + DIP_DB) {
      isRising = true;
      [most, at] = [here, i];
    }
  }
  return found;
}

function latticeOf(heard: Heard, from: number, to: number): Lattice {
  const { bands, pitch, loud, level } = heard;
  const tops = topsOf(level, from);
  const colours = tops.map(hop => colourAt(bands, loud, hop));
  /** Between a top and the next: the lowest level, and the time without a pitch, in seconds. */
  const valleys = tops.slice(1).map((top, i) => {
    let least = Infinity;
    let unvoiced = 0;
    for (let h = tops[i]!; h <= top; h++) {
      least = Math.min(least, level[h - from]!);
      unvoiced += Number(!(pitch.hz[pitchHopOf(h)]! > 0));
    }
    return { least, unvoiced: unvoiced * BAND_HOP_SEC };
  });
  const after = (j: number) => {
    const top = tops[j]!;
    const list: ReturnType<Lattice['after']> = [];
    let least = Infinity;
    let unvoiced = 0;
    for (let i = j - 1; i >= 0; i--) {
      least = Math.min(least, valleys[i]!.least);
      unvoiced += valleys[i]!.unvoiced;
      const sec = (top - tops[i]!) * BAND_HOP_SEC;
      if (sec > FURTHEST_SEC) break;
      const dip = Math.min(level[top - from]!, level[tops[i]! - from]!) - least;
      const apart = distance(colours[i]!, colours[j]!);
      const terms: Terms = [];
      bent(terms, APART, Math.log(sec), AT.apart);
      bent(terms, DIPS, dip, AT.dip);
      terms.push(AT.between, 10 * Math.min(0.1, unvoiced));
      terms.push(AT.between + 1, apart, AT.between + 2, apart * Math.min(1, dip / 3));
      list.push({ from: i, terms });
    }
    return list;
  };
  const edge = (hops: number, first: number) => {
    const terms: Terms = [];
    bent(terms, EDGES, hops * BAND_HOP_SEC, first);
    return terms;
  };
  return {
    tops,
    seen: j => seenAt(heard, tops[j]!, from, to, colours[j]!),
    first: j => edge(tops[j]! - from, AT.start),
    last: j => edge(to - tops[j]!, AT.end),
    after,
  };
}

/** Of each band, how far it lies below its loud moments around a top. dB */
function colourAt(bands: BandLevels, loud: number[], top: number): number[] {
  return loud.map((db, b) => {
    let sum = 0;
    let count = 0;
    for (let h = Math.max(0, top - 2); h <= Math.min(bands.count - 1, top + 2); h++) {
      sum += bandDb(bands, h, b) - db;
      count += 1;
    }
    return clamp(-25, sum / count, 5);
  });
}

/** From 0, the same sound, to 1. */
function distance(a: readonly number[], b: readonly number[]): number {
  let sum = 0;
  for (let k = FIRST; k <= LAST; k++) sum += Math.abs(a[k]! - b[k]!);
  return Math.min(1, sum / (LAST - FIRST + 1) / 10);
}

/** What is seen at one top, each brought to about one. */
function seenAt({ level, pitch }: Heard, top: number, from: number, to: number, colour: number[]): Terms {
  const middle = pitchHopOf(top);
  let voiced = 0;
  let count = 0;
  let periodic = 0;
  for (let i = Math.max(0, middle - 2); i <= middle + 2; i++) {
    count += 1;
    voiced += Number(pitch.hz[i]! > 0);
    periodic = Math.max(periodic, pitch.confidence[i] ?? 0);
  }
  const own = level[top - from]!;
  let [start, end] = [top, top];
  while (start > from && level[start - from]! > own - WIDTH_DB) start--;
  while (end < to - 1 && level[end - from]! > own - WIDTH_DB) end++;
  const hiss = Math.max(
    -10,
    colour[FRICTION_BAND]! - (colour[VOWEL_BANDS[0]]! + colour[VOWEL_BANDS[1]]!) / 2,
  );
  const values = [
    1,
    own / 5,
    voiced / count - 0.5,
    periodic - 0.5,
    ...colour.slice(FIRST, LAST + 1).map(db => db / 10),
    hiss / 10,
    5 * Math.min(0.3, (end - start) * BAND_HOP_SEC) - 0.5,
  ];
  const terms: Terms = [];
  values.forEach((value, k) => {
    terms.push(AT.seen + k, value);
    if (k > 0) terms.push(AT.squared + k, value * value);
  });
  return terms;
}

/** Adds the two weights between whose places a value lies. */
function bent(terms: Terms, places: readonly number[], value: number, first: number): void {
  const last = places.length - 1;
  let k = 0;
  while (k < last - 1 && value > places[k + 1]!) k++;
  const share = clamp(0, (value - places[k]!) / (places[k + 1]! - places[k]!), 1);
  terms.push(first + k, 1 - share, first + k + 1, share);
}
