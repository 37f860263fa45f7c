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
import { percentile, shareOf } from './ranks';
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
export const RANGE_DB = 42;
/** Levels waver more than theory has it: rooms are not steady. */
const LEAST_SPREAD_DB = 1.8;
const SOFT_SHARE = 0.08;
/** The room is looked at each half second, by what lies around it … */
const BLOCK_SEC = 0.5;
const ROOM_SEC = 0.8;
const NEAR_SHARE = 0.2;
/** … and gets louder by so much at most. */
const MOST_CHANGE_DB = 6;

/** Of the sum over bands of how far each stands out of its noise, in standard deviations. */
const CLEAR = 12;
const FAINT = 5;
/** A stretch that never stands out more than this is the room getting louder for a moment. */
const STRONG = 16;
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
  const room = roomOf(bands);
  let noise = assumed();
  let found: [number, number][] = [];
  const out = new Uint8Array(count);
  for (let round = 0; round < 3; round++) {
    standsOut(bands, room, noise, least, out);
    found = stretchesIn(out);
    const quiet = outside(found, count);
    // With little silence to learn from, what was assumed stays.
    if (lengthOf(quiet) < hops(0.3)) break;
    noise = learnt(bands, room, quiet);
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

/** The soft level of each band at the beginning of each block. dBFS */
interface Room {
  soft: Float32Array;
  /** Hops from one to the next. */
  block: number;
}

/** The soft level of a band around a hop. dBFS */
function roomDb({ soft, block }: Room, hop: number, band: number): number {
  const b = Math.floor(hop / block);
  const before = soft[b * BANDS + band]!;
  return before + (soft[(b + 1) * BANDS + band]! - before) * (hop / block - b);
}

/**
 * What the room sounds like as time goes by: of each band, the level that it stays below for a small part of the time
 * right before and after; where somebody speaks all that time, not much above its softest anywhere.
 */
function roomOf({ levels, count }: BandLevels): Room {
  const block = hops(BLOCK_SEC);
  const reach = hops(ROOM_SEC);
  const blocks = Math.ceil(count / block) + 1;
  const soft = new Float32Array(blocks * BANDS);
  for (let band = 0; band < BANDS; band++) {
    const all = new Uint32Array(256);
    for (let hop = 0; hop < count; hop++) all[levels[hop * BANDS + band]!]! += 1;
    const most = dbOf(shareOf(all, count, SOFT_SHARE)) + MOST_CHANGE_DB;
    const near = new Uint32Array(256);
    let [from, to] = [0, 0];
    for (let b = 0; b < blocks; b++) {
      const until = Math.min(count, b * block + reach);
      const since = Math.max(0, Math.min(b * block, count) - reach);
      for (; to < until; to++) near[levels[to * BANDS + band]!]! += 1;
      for (; from < since; from++) near[levels[from * BANDS + band]!]! -= 1;
      soft[b * BANDS + band] = Math.min(most, dbOf(shareOf(near, to - from, NEAR_SHARE)));
    }
  }
  return { soft, block };
}

/** How noise lies above the soft level of its room, by band. dB */
interface Noise {
  mean: number[];
  spread: number[];
}

function assumed(): Noise {
  const spread = BAND_FREEDOM.map(d => Math.max(LEAST_SPREAD_DB, 4.34 * Math.sqrt(2 / d)));
  return { mean: spread.map(s => 0.5 * s), spread };
}

const lengthOf = (stretches: readonly [number, number][]) =>
  stretches.reduce((sum, [from, to]) => sum + to - from, 0);

function learnt(bands: BandLevels, room: Room, quiet: readonly [number, number][]): Noise {
  const count = lengthOf(quiet);
  const mean: number[] = [];
  const spread: number[] = [];
  for (let b = 0; b < BANDS; b++) {
    let sum = 0;
    let squares = 0;
    for (const [from, to] of quiet)
      for (let hop = from; hop < to; hop++) {
        const db = bandDb(bands, hop, b) - roomDb(room, hop, b);
        sum += db;
        squares += db * db;
      }
    const average = sum / count;
    mean.push(average);
    spread.push(Math.max(LEAST_SPREAD_DB, Math.sqrt(Math.max(0, squares / count - average * average))));
  }
  return { mean, spread };
}

/** What a hop is: loud enough to be sound and at least faint, or clear; and, however loud, strong. */
const IS = { faint: 1, clear: 2, strong: 4 } as const;
/** Hops that are looked at together: sums of an hour are not held at once. */
const TOGETHER = 4_096;

/** Writes what each hop is, by how far it stands out of the noise; 15 ms are taken together. @param least dBFS */
function standsOut(bands: BandLevels, room: Room, { mean, spread }: Noise, least: number, out: Uint8Array) {
  const { count, total } = bands;
  const sums = new Float32Array(TOGETHER);
  for (let from = 0; from < count; from += TOGETHER) {
    const to = Math.min(count, from + TOGETHER);
    sums.fill(0);
    for (let b = 0; b < BANDS; b++) {
      const own = mean[b]!;
      const wide = spread[b]!;
      let before = bandDb(bands, Math.max(0, from - 1), b);
      let here = bandDb(bands, from, b);
      for (let hop = from; hop < to; hop++) {
        const after = hop + 1 < count ? bandDb(bands, hop + 1, b) : here;
        const z = ((before + here + after) / 3 - roomDb(room, hop, b) - own) / wide;
        before = here;
        here = after;
        let stands = z > MOST_OF_ONE ? MOST_OF_ONE : z < -1 ? -1 : z;
        // One band alone may be enough: an s over the hum of a room.
        if (z > CLEAR_OF_ONE) stands += CLEAR - CLEAR_OF_ONE;
        sums[hop - from]! += stands;
      }
    }
    for (let hop = from; hop < to; hop++) {
      const sum = sums[hop - from]!;
      const isLoud = total[hop]! >= least;
      out[hop] =
        (isLoud && sum >= FAINT ? IS.faint : 0) |
        (isLoud && sum >= CLEAR ? IS.clear : 0) |
        (sum >= STRONG ? IS.strong : 0);
    }
  }
}

/** Stretches that are clear somewhere and at least faint throughout, without clicks; gaps shorter than a pause are closed. */
function stretchesIn(out: Uint8Array): [number, number][] {
  const raw: [number, number][] = [];
  const { length } = out;
  for (let hop = 0; hop < length; hop++) {
    if (!(out[hop]! & IS.clear)) continue;
    let from = hop;
    let to = hop + 1;
    while (from > 0 && out[from - 1]! & IS.faint) from--;
    while (to < length && out[to]! & IS.faint) to++;
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
    if (!out.subarray(from, to).some(what => what & IS.strong)) continue;
    const last = joined.at(-1);
    if (last && from - last[1] < hops(PAUSE_SEC)) last[1] = to;
    else joined.push([from, to]);
  }
  return joined;
}

/** What lies in none of the stretches, nor right beside one: hops from the first up to before the second. */
function outside(found: readonly [number, number][], count: number): [number, number][] {
  const margin = hops(0.04);
  const quiet: [number, number][] = [];
  let hop = 0;
  for (const [from, to] of [...found, [count + margin, count] as const]) {
    const until = Math.min(count, from - margin);
    if (until > hop) quiet.push([hop, until]);
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
