/**
 * Notes of one voice, from its pitch and from what rises in it.
 *
 * The pitch is laid to steps of a scale by dynamic programming: staying on a step costs the distance from it, changing costs a
 * fixed sum, so that vibrato and slides stay within a note and a new pitch begins one, however softly (a small version of the
 * note model of M. Mauch et al., "Computer-aided melody note transcription using the Tony software", TENOR 2015). Within a
 * note, a rise of energy in many bands at once begins another of the same pitch; near a change of pitch it says when.
 *
 * What it cannot do: chords. Of several notes at once it follows one.
 */
import { BAND_HOP_SEC, type BandLevels } from './bands';
import { MOST_PARTIALS } from './partials';
import { HOP_SEC, type Pitch } from './pitch';
import { median, percentile } from './ranks';

export interface Note {
  startSec: number;
  endSec: number;
  /** The nearest note of equal temperament, A4 = 440 Hz being 69. */
  midi: number;
  /** How far from it, −50…50. */
  cents: number;
}

/** A note with what it was heard by. */
export interface HeardNote extends Note {
  /** From when on it was followed at its own pitch: later than its start where another note still rang. */
  steadySec: number;
  /** Power of the first multiples of its pitch, as shares. */
  partials: number[];
  /** How strongly it began: what rose there, in dB; 0 where nothing did. */
  beganDb: number;
  /** How loud it was at most. dBFS */
  mostDb: number;
}

/** A pitch further off than this is not worse: it is something else. In half tones. */
const MOST_OFF = 2.5;
const SPREAD = 0.4;
const CHANGE_COST = 9;
/** What a hop without pitch costs in a note, and one with pitch in silence. */
const SILENT_COST = 0.8;
const VOICED_IN_SILENCE_COST = 1.2;
const SHORTEST_NOTE_SEC = 0.05;
/** Of a note's length, what is not its pitch yet, and not any more. */
const ATTACK_SHARE = 0.15;
const MOST_ATTACK_SEC = 0.06;

/** A rise is an onset from here, in dB as a mean over narrow bands, and this much above what is usual around it. */
const LEAST_RISE_DB = 2;
const ABOVE_USUAL = 1.8;
/** A rise has begun when it has this part of its height, and not longer ago than 30 ms. */
const BEGUN_SHARE = 0.35;
const MOST_BACK_HOPS = 6;
/** A new pitch is heard over the old one a little after it began. */
const SOFT_LAG_SEC = 0.025;
/** So many hops without pitch, and so much softer, part two notes of the same pitch. */
const GAP_HOPS = 3;
const GAP_DB = 6;
/** Two onsets are at least so far apart. */
const APART_SEC = 0.06;
/** An onset belongs to a change of pitch this near. */
const NEAR_SEC = 0.07;

/** MIDI number with its fraction. */
export function midiOfHz(hz: number): number {
  return 69 + 12 * Math.log2(hz / 440);
}

/**
 * Moments at which something begins to sound, by energy alone.
 * @returns seconds, with how strongly each rises in dB
 */
export function rises(bands: BandLevels): { sec: number; db: number }[] {
  const { rise, count } = bands;
  const found: { sec: number; db: number }[] = [];
  const around = Math.round(0.1 / BAND_HOP_SEC);
  const apart = Math.round(0.03 / BAND_HOP_SEC);
  for (let i = 0; i < count; i++) {
    const here = rise[i]!;
    if (here < LEAST_RISE_DB) continue;
    let isTop = true;
    for (let k = Math.max(0, i - apart); k <= Math.min(count - 1, i + apart) && isTop; k++)
      isTop = rise[k]! < here || k === i || (rise[k] === here && k > i);
    if (!isTop) continue;
    const near = rise.slice(Math.max(0, i - around), Math.min(count, i + around + 1));
    const usual = percentile(near, 0.5);
    if (here < ABOVE_USUAL * usual + LEAST_RISE_DB / 2) continue;
    // The rise is seen best in its middle; it began a little before.
    let from = i;
    while (from > 0 && i - from < MOST_BACK_HOPS && rise[from - 1]! > BEGUN_SHARE * here) from--;
    found.push({ sec: from * BAND_HOP_SEC, db: here });
  }
  return found;
}

/** A stretch of hops on one step; null for silence. */
interface Run {
  from: number;
  to: number;
  step: number | null;
}

/** The path of the pitch through steps of half a tone and silence. */
function runsOf(midi: Float32Array): Run[] {
  let low = Infinity;
  let high = -Infinity;
  for (const m of midi) {
    if (m <= 0) continue;
    low = Math.min(low, m);
    high = Math.max(high, m);
  }
  if (high < low) return [];
  // Third steps, for nobody is tuned to 440 Hz by birth.
  const steps = Math.ceil((high - low) * 3) + 1;
  const silent = steps;
  const cost = new Float64Array(steps + 1);
  const from = new Uint16Array(midi.length * (steps + 1));
  for (let i = 0; i < midi.length; i++) {
    let best = 0;
    for (let s = 1; s <= steps; s++) if (cost[s]! < cost[best]!) best = s;
    const changed = cost[best]! + CHANGE_COST;
    for (let s = 0; s <= steps; s++) {
      const stays = cost[s]! <= changed;
      from[i * (steps + 1) + s] = stays ? s : best;
      const before = stays ? cost[s]! : changed;
      const m = midi[i]!;
      const off = Math.min(MOST_OFF, Math.abs(m - low - s / 3));
      const own =
        s === silent
          ? m > 0
            ? VOICED_IN_SILENCE_COST
            : 0
          : m > 0
            ? off ** 2 / (2 * SPREAD ** 2)
            : SILENT_COST;
      cost[s] = before + own;
    }
  }
  let state = 0;
  for (let s = 1; s <= steps; s++) if (cost[s]! < cost[state]!) state = s;
  const runs: Run[] = [];
  for (let i = midi.length - 1; i >= 0; i--) {
    const step = state === silent ? null : state;
    const next = runs[0];
    if (next && next.step === step) next.from = i;
    else runs.unshift({ from: i, to: i + 1, step });
    state = from[i * (steps + 1) + state]!;
  }
  return runs;
}

/**
 * The notes of a recording.
 * @returns in order, not overlapping
 */
export function notesOf(pitch: Pitch, bands: BandLevels): HeardNote[] {
  const midi = pitch.hz.map(hz => (hz > 0 ? midiOfHz(hz) : 0));
  const energy = rises(bands);
  const loud = bands.total;
  const runs = runsOf(midi).flatMap(run => (run.step === null ? [] : voicedParts(run, midi, loud)));
  const cuts: { startSec: number; endSec: number; beganDb: number }[] = [];
  for (const run of runs) {
    const [runStart, runEnd] = [run.from * HOP_SEC, run.to * HOP_SEC];
    // The rise that this run begins with, if there is one: it is known to 5 ms.
    const begun = energy.filter(e => Math.abs(e.sec - runStart) <= NEAR_SEC).sort((a, b) => b.db - a.db)[0];
    const last = cuts.at(-1);
    const isSlurred = last !== undefined && runStart - last.endSec < 0.03;
    let startSec = begun?.sec ?? runStart - (isSlurred ? SOFT_LAG_SEC : 0);
    if (last && startSec < last.startSec + SHORTEST_NOTE_SEC) startSec = runStart;
    if (last && last.endSec > startSec) last.endSec = startSec;
    const inside = energy.filter(
      e => e.sec > startSec + APART_SEC && e.sec < runEnd - SHORTEST_NOTE_SEC && isStruck(e, loud),
    );
    let beganDb = begun?.db ?? 0;
    for (const { sec, db } of inside) {
      if (sec - startSec < APART_SEC) continue;
      cuts.push({ startSec, endSec: sec, beganDb });
      [startSec, beganDb] = [sec, db];
    }
    cuts.push({ startSec, endSec: runEnd, beganDb });
  }
  const heard = cuts.flatMap(({ startSec, endSec, beganDb }) => {
    if (endSec - startSec < SHORTEST_NOTE_SEC) return [];
    const attack = Math.min(MOST_ATTACK_SEC, ATTACK_SHARE * (endSec - startSec));
    const own: number[] = [];
    const [from, to] = [
      Math.ceil((startSec + attack) / HOP_SEC),
      Math.floor((endSec - attack / 2) / HOP_SEC),
    ];
    for (let i = from; i <= to; i++) if (midi[i]! > 0) own.push(midi[i]!);
    if (own.length === 0) return [];
    const exact = centreOf(own);
    const nearest = Math.round(exact);
    const partials = partialsOf(pitch, from, to);
    let mostDb = -120;
    for (let h = Math.round(startSec / BAND_HOP_SEC); h < Math.round(endSec / BAND_HOP_SEC); h++)
      mostDb = Math.max(mostDb, loud[h] ?? -120);
    const cents = 100 * (exact - nearest);
    return [{ startSec, steadySec: startSec, endSec, midi: nearest, cents, partials, beganDb, mostDb }];
  });
  return withAttacks(heard);
}

/** The first partial of a tone that is really one of its multiples is weaker than this. */
const WEAK_FIRST = 0.08;
const SAME_PITCH = 0.8;
const GOES_ON_SEC = 0.05;

/**
 * While the note before still sounds, a tone may be followed at a pitch of which both are multiples, and goes on as itself once
 * that has died away: the two are one note, from where the first began. Somebody who slurs from a note to its octave has
 * that note's first partial.
 */
function withAttacks(heard: readonly HeardNote[]): HeardNote[] {
  const joined: HeardNote[] = [];
  for (const note of heard) {
    const before = joined.at(-1);
    const goesOn =
      before &&
      note.beganDb === 0 &&
      note.startSec - before.endSec < GOES_ON_SEC &&
      before.partials[0]! < WEAK_FIRST &&
      before.partials.some((_, n) => n > 0 && isSamePitch(before, note, 12 * Math.log2(n + 1)));
    if (goesOn) {
      const { startSec, beganDb } = before;
      const mostDb = Math.max(before.mostDb, note.mostDb);
      joined[joined.length - 1] = { ...note, startSec, beganDb, mostDb };
    } else joined.push(note);
  }
  return joined;
}

function isSamePitch(a: Note, b: Note, apart: number): boolean {
  return Math.abs(a.midi + a.cents / 100 + apart - b.midi - b.cents / 100) < SAME_PITCH;
}

/** Mean shares of the partials over some hops. */
function partialsOf({ hz, partials }: Pitch, from: number, to: number): number[] {
  const sums = new Array<number>(MOST_PARTIALS).fill(0);
  let count = 0;
  for (let i = from; i <= to; i++) {
    if (!(hz[i]! > 0)) continue;
    count += 1;
    for (let n = 0; n < MOST_PARTIALS; n++) sums[n]! += partials[i * MOST_PARTIALS + n]! / 255;
  }
  return sums.map(s => s / Math.max(1, count));
}

/** A vibrato in a note is looked for between these rates. */
const VIBRATO_HZ: readonly [number, number] = [4.2, 7.5];
const VIBRATO_STEP_HZ = 0.3;
/** With less than a turn of it, or less width, the middle value says as much. */
const LEAST_TURNS = 0.9;
const LEAST_WIDTH = 0.12;
/** So much of the wavering a sinusoid must explain, and so much more of it than a slide does. */
const EXPLAINED = 0.7;
const BEYOND_SLIDE = 0.25;

/**
 * The pitch that a note is heard at: the middle of its values, or, where it swings, what it swings about. A vibrato of a turn
 * and a half spends more time on one side, which the middle value would follow.
 * @param own MIDI pitch at each hop of the note
 */
function centreOf(own: readonly number[]): number {
  const plain = median(own);
  const sec = own.length * HOP_SEC;
  const sorted = [...own].sort((a, b) => a - b);
  const width = sorted[Math.floor(0.95 * (own.length - 1))]! - sorted[Math.ceil(0.05 * (own.length - 1))]!;
  if (width < LEAST_WIDTH || sec * VIBRATO_HZ[1] < LEAST_TURNS) return plain;
  const slide = explainedBy(own, [x => x]);
  let best = { explained: Math.max(EXPLAINED, slide.explained + BEYOND_SLIDE), centre: plain };
  for (let hz = VIBRATO_HZ[0]; hz <= VIBRATO_HZ[1]; hz += VIBRATO_STEP_HZ) {
    if (sec * hz < LEAST_TURNS) continue;
    const turn = 2 * Math.PI * hz * sec;
    const swing = explainedBy(own, [x => Math.sin(turn * x), x => Math.cos(turn * x)]);
    if (swing.explained > best.explained) best = swing;
  }
  return best.centre;
}

/**
 * Least squares of a constant and some shapes over a note.
 * @param shapes of the place in the note, 0…1
 * @returns the constant, and the share of the variance that the shapes explain
 */
function explainedBy(
  own: readonly number[],
  shapes: readonly ((x: number) => number)[],
): { centre: number; explained: number } {
  const columns = [() => 1, ...shapes];
  const size = columns.length;
  const rows = own.map((_, i) => columns.map(f => f(i / own.length)));
  const matrix = columns.map((_, r) => [
    ...columns.map((__, c) => rows.reduce((sum, row) => sum + row[r]! * row[c]!, 0)),
    rows.reduce((sum, row, i) => sum + row[r]! * own[i]!, 0),
  ]);
  for (let p = 0; p < size; p++)
    for (let r = 0; r < size; r++) {
      if (r === p) continue;
      const by = matrix[r]![p]! / matrix[p]![p]!;
      for (let c = p; c <= size; c++) matrix[r]![c]! -= by * matrix[p]![c]!;
    }
  const weights = matrix.map((row, r) => row[size]! / row[r]!);
  const mean = own.reduce((sum, v) => sum + v, 0) / own.length;
  let left = 0;
  let whole = 0;
  own.forEach((v, i) => {
    left += (v - rows[i]!.reduce((sum, x, c) => sum + x * weights[c]!, 0)) ** 2;
    whole += (v - mean) ** 2;
  });
  return { centre: weights[0]!, explained: whole > 0 ? 1 - left / whole : 0 };
}

/** A run without what is silent at its ends, parted where it is silent within. */
function voicedParts({ from, to, step }: Run, midi: Float32Array, loud: Float32Array): Run[] {
  const parts: Run[] = [];
  const perHop = Math.round(HOP_SEC / BAND_HOP_SEC);
  const level = (hop: number) => loud[hop * perHop] ?? -120;
  for (let i = from; i < to; i++) {
    if (midi[i]! <= 0) continue;
    const last = parts.at(-1);
    let isParted = !last || i - last.to >= GAP_HOPS;
    if (last && isParted) {
      let softest = 0;
      for (let k = last.to; k < i; k++) softest = Math.min(softest, level(k));
      isParted = softest < Math.max(level(last.to - 2), level(i + 2)) - GAP_DB;
    }
    if (last && !isParted) last.to = i + 1;
    else parts.push({ from: i, to: i + 1, step });
  }
  return parts;
}

/** A rise within a note begins another when the sound grows with it, and does not merely waver. */
function isStruck({ sec, db }: { sec: number; db: number }, loud: Float32Array): boolean {
  const at = Math.round(sec / BAND_HOP_SEC);
  let before = Infinity;
  let after = -Infinity;
  for (let k = 1; k <= 8; k++) before = Math.min(before, loud[at - k] ?? Infinity);
  for (let k = 0; k <= 12; k++) after = Math.max(after, loud[at + k] ?? -Infinity);
  return db >= LEAST_RISE_DB + 0.3 && after - before >= 1.5;
}
