/**
 * Syllables, counted from the sound alone, in any language. A small network looks at about a third of a second and says, each
 * 40 ms, how much of a syllable passes; over a recording these shares add up to the number of syllables (after S. Seshadri and O.
 * Räsänen, "SylNet: An adaptable end-to-end syllable count estimator for speech", IEEE Signal Processing Letters 26(9), 2019,
 * and L. Dong and B. Xu, "CIF: Continuous integrate-and-fire", ICASSP 2020). It was learnt from counts alone, of people in
 * rooms and over the telephone and of synthetic voices (decision 53). A nucleus is named where half of a syllable has passed.
 *
 * What it cannot do: hear two vowels that follow without any change as two, nor leave out a syllable that only a dictionary
 * knows to be silent. Of whispered speech it is less sure.
 */
import type { Stretch } from './activity';
import { BAND_HOP_SEC, bandDb, BANDS, dbOf, type BandLevels } from './bands';
import type { Pitch } from './pitch';
import { shareOf } from './ranks';
import { reachOf, throughAll, type Layer } from './layers';
import { SYLLABLE_NETWORK } from './syllableNetwork';

/** Hops of the bands in a frame that the network looks at, which is a hop of the pitch. */
const HOPS = 2;
const FRAMES_PER_SHARE = SYLLABLE_NETWORK.reduce((frames, layer) => frames * layer.stride, 1);
const HOPS_PER_SHARE = HOPS * FRAMES_PER_SHARE;
/** From one share of a syllable to the next. */
export const SHARE_SEC = HOPS_PER_SHARE * BAND_HOP_SEC;
/** Of each frame: the bands, whether there is a pitch, and how sure that is. */
const SEEN = BANDS + 2;

/** So much of the time that somebody sounds a band is not louder than at its loud moments. */
const LOUD_SHARE = 0.95;
/** Further below its loud moments a band says nothing, and further above them neither. */
const DEPTH_DB = 30;
const ABOVE_DB = 6;
/** Brings levels to about −2 … 2. */
const MIDDLE_DB = -12;
const STEP_DB = 9;
const SILENT = (-DEPTH_DB - MIDDLE_DB) / STEP_DB;
/** Shares that are found at once: what is held for them is small beside the sound. */
const AT_ONCE = 500;

/** Frames before the first share that the network looks at, and how many more than belong to the shares. */
const LOOKED_AT = (() => {
  let before = 0;
  let frames = 1;
  for (const layer of SYLLABLE_NETWORK.toReversed()) {
    before = before * layer.stride + (reachOf(layer) - 1) / 2;
    frames = (frames - 1) * layer.stride + reachOf(layer);
  }
  return { before, more: frames - FRAMES_PER_SHARE };
})();

/** What the network looks at for some shares that follow each other. */
export interface Seen {
  /** The first share, counted from the beginning of the recording. */
  first: number;
  /** `SEEN` values for each frame, the first so far before the first share that the network sees all that it looks at. */
  frames: Float64Array;
}

/**
 * One after the other.
 * @param stretches where somebody sounds
 */
export function* seenIn(
  bands: BandLevels,
  pitch: Pitch,
  stretches: readonly Stretch[],
): Generator<Seen, void> {
  const spans = stretches.map(s => [hopOf(s.startSec), Math.min(bands.count, hopOf(s.endSec) + 1)] as const);
  const loud = loudOf(bands, spans);
  const isSounding = new Uint8Array(Math.ceil(bands.count / HOPS));
  for (const [from, to] of spans) isSounding.fill(1, Math.ceil(from / HOPS), Math.ceil(to / HOPS));
  for (const [from, to] of spans) {
    const end = Math.ceil(to / HOPS_PER_SHARE);
    for (let first = Math.ceil(from / HOPS_PER_SHARE); first < end; first += AT_ONCE) {
      const count = Math.min(AT_ONCE, end - first);
      const frames = new Float64Array((FRAMES_PER_SHARE * count + LOOKED_AT.more) * SEEN);
      for (let k = 0; k < frames.length / SEEN; k++) {
        const frame = FRAMES_PER_SHARE * first - LOOKED_AT.before + k;
        if (isSounding[frame]) see(bands, pitch, loud, frame, frames, k * SEEN);
        else frames.fill(SILENT, k * SEEN, k * SEEN + BANDS);
      }
      yield { first, frames };
    }
  }
}

const hopOf = (sec: number) => Math.round(sec / BAND_HOP_SEC);

function loudOf(bands: BandLevels, spans: readonly (readonly [number, number])[]): number[] {
  const count = spans.reduce((sum, [from, to]) => sum + Math.max(0, to - from), 0);
  return Array.from({ length: BANDS }, (_, b) => {
    const times = new Uint32Array(256);
    for (const [from, to] of spans) for (let h = from; h < to; h++) times[bands.levels[h * BANDS + b]!]! += 1;
    return dbOf(shareOf(times, count, LOUD_SHARE));
  });
}

function see(
  bands: BandLevels,
  pitch: Pitch,
  loud: readonly number[],
  frame: number,
  out: Float64Array,
  at: number,
): void {
  const hop = HOPS * frame;
  const next = Math.min(bands.count - 1, hop + 1);
  for (let b = 0; b < BANDS; b++) {
    const level = within(bandDb(bands, hop, b) - loud[b]!) + within(bandDb(bands, next, b) - loud[b]!);
    out[at + b] = (level / 2 - MIDDLE_DB) / STEP_DB;
  }
  const heard = Math.min(pitch.hz.length - 1, frame);
  out[at + BANDS] = Number(pitch.hz[heard]! > 0);
  out[at + BANDS + 1] = pitch.confidence[heard]!;
}

const within = (db: number) => Math.max(-DEPTH_DB, Math.min(ABOVE_DB, db));

/** The share of a syllable that passes in each step of what is seen, 0 … 1. */
export function sharesOf({ frames }: Seen, layers: readonly Layer[] = SYLLABLE_NETWORK): Float64Array {
  return throughAll(layers, frames).map(z => 1 / (1 + Math.exp(-z)));
}

/**
 * The moments of the syllables' nuclei.
 * @param stretches where somebody sounds
 * @returns seconds from the first sample, in order
 */
export function syllableNuclei(bands: BandLevels, pitch: Pitch, stretches: readonly Stretch[]): number[] {
  const found: { first: number; shares: Float32Array }[] = [];
  let sum = 0;
  for (const seen of seenIn(bands, pitch, stretches)) {
    const shares = Float32Array.from(sharesOf(seen));
    for (const share of shares) sum += share;
    found.push({ first: seen.first, shares });
  }
  const count = Math.round(sum);
  const each = sum / count;
  const nuclei: number[] = [];
  let passed = 0;
  for (const { first, shares } of found)
    shares.forEach((share, k) => {
      while (nuclei.length < count && passed + share >= (nuclei.length + 0.5) * each) {
        const into = ((nuclei.length + 0.5) * each - passed) / share;
        nuclei.push((first + k - 0.5 + into) * SHARE_SEC);
      }
      passed += share;
    });
  return nuclei;
}
