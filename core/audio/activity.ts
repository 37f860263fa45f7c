/**
 * Where somebody speaks, and where nobody does. Each band's noise is learnt from the recording itself: first from its softest
 * moments, then, twice, from what was found to be silence. What stands out of it in several bands at once, or clearly in one,
 * is sound; two thresholds keep the soft beginnings and ends of words (after L. R. Rabiner and M. R. Sambur, "An algorithm for
 * determining the endpoints of isolated utterances", Bell System Technical Journal 54, 1975; noise in bands after J. Sohn, N.
 * S. Kim and W. Sung, "A statistical model-based voice activity detection", IEEE Signal Processing Letters 6(1), 1999).
 *
 * What it cannot do: tell a voice from other sound. A door is sound; music under speech leaves no pause.
 */
import type { Pitch } from './pitch';
import { BAND_FREEDOM, BAND_HOP_SEC, bandDb, BANDS, dbOf, type BandLevels } from './bands';

export interface Stretch {
  startSec: number;
  endSec: number;
}

/** Silences from this length on are pauses. */
export const PAUSE_SEC = 0.25;
/** A sound shorter than this, alone, is a click or a smack. */
const SHORTEST_SOUND_SEC = 0.06;
/** Further below the loud parts than this nobody speaks. */
const RANGE_DB = 42;
/** Levels waver more than theory has it: rooms are not steady. */
const LEAST_SPREAD_DB = 1.2;
const SOFT_SHARE = 0.08;

/** Of the sum over bands of how far each stands out of its noise, in standard deviations. */
const CLEAR = 12;
const FAINT = 5;
const MOST_OF_ONE = 6;
/** … or of one band alone. */
const CLEAR_OF_ONE = 5;

const hops = (sec: number) => Math.round(sec / BAND_HOP_SEC);

/**
 * Stretches of sound, apart by at least 0.25 s.
 * @returns in order, times in seconds from the first sample; none for silence
 */
export function soundingStretches(bands: BandLevels): Stretch[] {
  const { count } = bands;
  if (count === 0) return [];
  const { total } = bands;
  const loud = percentile(total, 0.95);
  const least = loud - RANGE_DB;
  let noise = softest(bands);
  let found: [number, number][] = [];
  for (let round = 0; round < 3; round++) {
    const out = standsOut(bands, noise);
    found = stretchesIn(out, total, least);
    const quiet = outside(found, count);
    // With little silence to learn from, what was assumed stays.
    if (quiet.length < hops(0.3)) break;
    noise = learnt(bands, quiet);
  }
  return found.map(([from, to]) => {
    const [startSec, endSec] = edges(total, from, to);
    return { startSec, endSec };
  });
}

/** Where a pitch is heard for at least half of the time, its gaps shorter than a pause closed. */
export function pitchedStretches(pitch: Pitch, durationSec: number): Stretch[] {
  const { hz, hopSec } = pitch;
  const pitched = hz.reduce((n, f) => n + Number(f > 0), 0);
  if (pitched < hz.length / 2) return [];
  const found: Stretch[] = [];
  hz.forEach((f, i) => {
    if (f === 0) return;
    const [startSec, endSec] = [Math.max(0, (i - 0.5) * hopSec), Math.min(durationSec, (i + 0.5) * hopSec)];
    const last = found.at(-1);
    if (last && startSec - last.endSec < PAUSE_SEC) last.endSec = endSec;
    else found.push({ startSec, endSec });
  });
  return found;
}

export function percentile(values: Float32Array | number[], share: number): number {
  const sorted = Float32Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? -120;
}

interface Noise {
  mean: number[];
  spread: number[];
}

function softest(bands: BandLevels): Noise {
  const spread = BAND_FREEDOM.map(d => Math.max(LEAST_SPREAD_DB, 4.34 * Math.sqrt(2 / d)));
  const mean = spread.map((s, b) => {
    return softLevel(bands, b) + 0.5 * s;
  });
  return { mean, spread };
}

/** The level that a band stays below for `SOFT_SHARE` of the time. dBFS */
function softLevel({ levels, count }: BandLevels, band: number): number {
  const times = new Uint32Array(256);
  for (let at = band; at < levels.length; at += BANDS) times[levels[at]!]! += 1;
  let step = 0;
  for (let seen = times[0]!; seen <= SOFT_SHARE * count && step < 255;) seen += times[++step]!;
  return dbOf(step);
}

function learnt(bands: BandLevels, quiet: readonly number[]): Noise {
  const mean: number[] = [];
  const spread: number[] = [];
  for (let b = 0; b < BANDS; b++) {
    let sum = 0;
    let squares = 0;
    for (const hop of quiet) {
      const db = bandDb(bands, hop, b);
      sum += db;
      squares += db * db;
    }
    const average = sum / quiet.length;
    mean.push(average);
    spread.push(
      Math.max(LEAST_SPREAD_DB, Math.sqrt(Math.max(0, squares / quiet.length - average * average))),
    );
  }
  return { mean, spread };
}

/** How far each hop stands out of the noise; 15 ms are taken together. */
function standsOut(bands: BandLevels, { mean, spread }: Noise): Float32Array {
  const { count } = bands;
  const out = new Float32Array(count);
  for (let b = 0; b < BANDS; b++) {
    for (let hop = 0; hop < count; hop++) {
      const before = bandDb(bands, Math.max(0, hop - 1), b);
      const after = bandDb(bands, Math.min(count - 1, hop + 1), b);
      const z = ((before + bandDb(bands, hop, b) + after) / 3 - mean[b]!) / spread[b]!;
      out[hop]! += Math.max(-1, Math.min(MOST_OF_ONE, z));
      // One band alone may be enough: an s over the hum of a room.
      if (z > CLEAR_OF_ONE) out[hop]! += CLEAR - CLEAR_OF_ONE;
    }
  }
  return out;
}

/** Stretches that are clear somewhere and at least faint throughout, without clicks; gaps shorter than a pause are closed. */
function stretchesIn(out: Float32Array, total: Float32Array, least: number): [number, number][] {
  const raw: [number, number][] = [];
  const { length } = out;
  for (let hop = 0; hop < length; hop++) {
    if (out[hop]! < CLEAR || total[hop]! < least) continue;
    let from = hop;
    let to = hop + 1;
    while (from > 0 && out[from - 1]! >= FAINT && total[from - 1]! >= least) from--;
    while (to < length && out[to]! >= FAINT && total[to]! >= least) to++;
    raw.push([from, to]);
    hop = to;
  }
  const near = hops(0.08);
  const words: [number, number][] = [];
  for (const [from, to] of raw) {
    const last = words.at(-1);
    if (last && from - last[1] < near) last[1] = to;
    else words.push([from, to]);
  }
  const joined: [number, number][] = [];
  for (const [from, to] of words) {
    if (to - from < hops(SHORTEST_SOUND_SEC)) continue;
    const last = joined.at(-1);
    if (last && from - last[1] < hops(PAUSE_SEC)) last[1] = to;
    else joined.push([from, to]);
  }
  return joined;
}

/** Hops that lie in none of the stretches, nor right beside one. */
function outside(found: readonly [number, number][], count: number): number[] {
  const margin = hops(0.04);
  const quiet: number[] = [];
  let hop = 0;
  for (const [from, to] of [...found, [count + margin, count] as const]) {
    for (; hop < Math.min(count, from - margin); hop++) quiet.push(hop);
    hop = Math.max(hop, to + margin);
  }
  return quiet;
}

/**
 * Where a stretch begins and ends, in seconds. The window of 25 ms sees a loud sound before it begins: the hops at which it
 * sees less than a hundredth of what follows are left out.
 */
function edges(total: Float32Array, from: number, to: number): [number, number] {
  const reach = hops(0.02);
  let start = from;
  let end = to - 1;
  const top = (a: number, b: number) => {
    let most = -120;
    for (let h = Math.max(0, a); h <= Math.min(total.length - 1, b); h++) most = Math.max(most, total[h]!);
    return most;
  };
  const first = top(from, from + reach);
  while (start < end && start < from + 3 && total[start]! < first - 20) start++;
  const last = top(end - reach, end);
  while (end > start && end > to - 4 && total[end]! < last - 20) end--;
  return [start * BAND_HOP_SEC, end * BAND_HOP_SEC];
}
