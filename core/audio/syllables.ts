/**
 * Syllables, counted from the sound alone, in any language: each has one nucleus, where the middle of the spectrum is louder
 * than before and after (after P. Mermelstein, "Automatic segmentation of speech into syllabic units", JASA 58(4), 1975, and N. H.
 * de Jong and T. Wempe, "Praat script to detect syllable nuclei and measure speech rate automatically", Behavior Research
 * Methods 41(2), 2009). Each band's level counts against that band's own loud moments, so that a dip in one formant is seen
 * although another goes on.
 *
 * What it cannot do: hear two vowels that follow without any change of loudness in any band as two, nor leave out a syllable
 * that only a dictionary knows to be silent. Whispered speech has no nuclei here.
 */
import type { Stretch } from './activity';
import { BAND_HOP_SEC, bandDb, type BandLevels } from './bands';
import { HOP_SEC, type Pitch } from './pitch';
import { percentile } from './ranks';

/** The bands that nuclei are seen in: 310 Hz to 2.4 kHz. */
const FIRST = 2;
const LAST = 5;
const FRICTION_BAND = 7;
/** Further below its loud moments a band says nothing. */
const DEPTH_DB = 15;
/** Between two nuclei the level falls by so much. */
const DIP_DB = 0.8;
/** Smoothing of 10 ms (standard deviation). */
const SMOOTH_HOPS = 2;
/** A nucleus is voiced, near its top … */
const VOICED_HOPS = 2;
/** … or at least somewhat periodic (a creaky voice) and no hiss. */
const LEAST_PERIODIC = 0.3;
const HISS_BELOW_DB = 15;

/**
 * The moments of the syllables' nuclei.
 * @param stretches where somebody sounds
 * @returns seconds from the first sample, in order
 */
export function syllableNuclei(bands: BandLevels, pitch: Pitch, stretches: readonly Stretch[]): number[] {
  const spans = stretches.map(s => [hopOf(s.startSec), Math.min(bands.count, hopOf(s.endSec) + 1)] as const);
  const level = envelope(bands, spans);
  return spans
    .flatMap(([from, to]) => tops(level, from, to))
    .filter(hop => isNucleus(bands, pitch, hop))
    .map(hop => hop * BAND_HOP_SEC);
}

function hopOf(sec: number): number {
  return Math.round(sec / BAND_HOP_SEC);
}

/** The mean over bands of how far each lies below its own loud moments, smoothed. */
function envelope(bands: BandLevels, spans: readonly (readonly [number, number])[]): Float32Array {
  const raw = new Float32Array(bands.count).fill(-DEPTH_DB);
  const share = 1 / (LAST - FIRST + 1);
  for (const [from, to] of spans) raw.fill(0, from, to);
  const own = new Float32Array(spans.reduce((sum, [from, to]) => sum + Math.max(0, to - from), 0));
  for (let b = FIRST; b <= LAST; b++) {
    let filled = 0;
    for (const [from, to] of spans) for (let h = from; h < to; h++) own[filled++] = bandDb(bands, h, b);
    const loud = percentile(own, 0.95);
    for (const [from, to] of spans)
      for (let h = from; h < to; h++)
        raw[h]! += share * Math.max(-DEPTH_DB, Math.min(6, bandDb(bands, h, b) - loud));
  }
  return smoothed(raw, SMOOTH_HOPS);
}

/** Gaussian smoothing. @param spread standard deviation, in values */
function smoothed(values: Float32Array, spread: number): Float32Array {
  const reach = Math.ceil(3 * spread);
  const kernel = Float64Array.from({ length: 2 * reach + 1 }, (_, k) =>
    Math.exp(-0.5 * ((k - reach) / spread) ** 2),
  );
  const sum = kernel.reduce((a, b) => a + b, 0);
  const last = values.length - 1;
  return values.map((_, i) => {
    let out = 0;
    for (let k = -reach; k <= reach; k++)
      out += kernel[k + reach]! * values[Math.max(0, Math.min(last, i + k))]!;
    return out / sum;
  });
}

/** Tops that rise and fall by at least the dip on both sides. */
function tops(level: Float32Array, from: number, to: number): number[] {
  const found: number[] = [];
  let isRising = true;
  let least = -DEPTH_DB;
  let most = -Infinity;
  let at = from;
  for (let i = from; i <= to; i++) {
    // After its end a stretch falls to nothing.
    const here = i < to ? level[i]! : -Infinity;
    if (isRising) {
      if (here > most) [most, at] = [here, i];
      else if (here < most - DIP_DB) {
        if (most - least > DIP_DB) found.push(at);
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

function isNucleus(bands: BandLevels, pitch: Pitch, hop: number): boolean {
  const middle = Math.round((hop * BAND_HOP_SEC) / HOP_SEC);
  let voiced = 0;
  let periodic = 0;
  for (let i = Math.max(0, middle - VOICED_HOPS); i <= middle + VOICED_HOPS; i++) {
    if ((pitch.hz[i] ?? 0) > 0) voiced += 1;
    periodic = Math.max(periodic, pitch.confidence[i] ?? 0);
  }
  if (voiced >= VOICED_HOPS) return true;
  let power = 0;
  for (let b = 1; b <= LAST; b++) power += 10 ** (bandDb(bands, hop, b) / 10);
  return (
    periodic >= LEAST_PERIODIC && bandDb(bands, hop, FRICTION_BAND) < 10 * Math.log10(power) - HISS_BELOW_DB
  );
}
