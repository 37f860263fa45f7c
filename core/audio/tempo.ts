/** The tempo of a melody from the times at which its notes begin. */
import type { ScoreNote } from '../formats/scoreNotes';
import type { Note } from './notes';
import { median } from './ranks';
import type { Target } from './target';

export interface Tempo {
  /** Quarter notes a minute. */
  bpm: number;
  /** 100 less the coefficient of variation of the beat, in percent, from one note to the next. */
  stabilityPercent: number;
}

/** Lengths of notes in quarters, and how common each is in melodies. */
const LENGTHS: readonly (readonly [number, number])[] = [
  [0.25, 0.05],
  [0.5, 0.3],
  [0.75, 0.02],
  [1, 0.38],
  [1.5, 0.06],
  [2, 0.13],
  [3, 0.03],
  [4, 0.03],
];
const SLOWEST_BPM = 36;
const FASTEST_BPM = 230;
/** Tempi lie around this, within an octave or so. */
const USUAL_BPM = 96;
const USUAL_OCTAVES = 0.5;
/** How far a length strays, in parts of it, and by how much at the least. */
const STRAY = 0.05;
const STRAY_SEC = 0.015;
const OTHERWISE = 0.02;

function likelihood(interval: number, beat: number): number {
  let sum = OTHERWISE;
  for (const [length, share] of LENGTHS) {
    const spread = Math.hypot(STRAY * length * beat, STRAY_SEC);
    const off = (interval - length * beat) / spread;
    // By the logarithm of time, so that short lengths are not favoured.
    sum += (share * Math.exp(-0.5 * off * off) * interval) / (spread * 2.5066) / 8;
  }
  return Math.log(sum);
}

function lengthOf(interval: number, beat: number): number {
  let best = 1;
  let least = Infinity;
  for (const [length] of LENGTHS) {
    const off = Math.abs(Math.log(interval / (length * beat)));
    if (off < least) [least, best] = [off, length];
  }
  return best;
}

/**
 * The tempo that explains the intervals between notes best, if notes have usual lengths and tempi are usual. Which length is a
 * quarter cannot be heard: a melody of eighths alone is told from one of quarters only by how fast it goes.
 * @returns null for fewer than four notes
 */
export function tempoOf(notes: readonly Pick<Note, 'startSec'>[]): Tempo | null {
  const intervals = notes
    .slice(1)
    .map((n, i) => n.startSec - notes[i]!.startSec)
    .filter(d => d > 0.06 && d < 6);
  if (intervals.length < 3) return null;
  let best = 0;
  let most = -Infinity;
  for (let bpm = SLOWEST_BPM; bpm <= FASTEST_BPM; bpm *= 1.01) {
    const usual = Math.log2(bpm / USUAL_BPM) / USUAL_OCTAVES;
    let worth = -0.5 * usual * usual * Math.sqrt(intervals.length);
    for (const interval of intervals) worth += likelihood(interval, 60 / bpm);
    if (worth > most) [most, best] = [worth, bpm];
  }
  // Each interval says how long a beat is; the long ones say it best.
  let beat = 60 / best;
  for (let round = 0; round < 3; round++) {
    const said = intervals
      .map(d => ({ beat: d / lengthOf(d, beat), weight: lengthOf(d, beat) }))
      .filter(s => Math.abs(Math.log(s.beat / beat)) < 0.2);
    if (said.length === 0) break;
    said.sort((a, b) => a.beat - b.beat);
    const half = said.reduce((sum, s) => sum + s.weight, 0) / 2;
    let sum = 0;
    beat = (said.find(s => (sum += s.weight) >= half) ?? said[0]!).beat;
  }
  const ratios = intervals.map(d => d / lengthOf(d, beat) / beat).filter(r => r > 0.7 && r < 1.4);
  const mean = ratios.reduce((a, b) => a + b, 0) / Math.max(1, ratios.length);
  const variance = ratios.reduce((a, r) => a + (r - mean) ** 2, 0) / Math.max(1, ratios.length);
  return { bpm: 60 / beat, stabilityPercent: Math.max(0, 100 * (1 - Math.sqrt(variance) / (mean || 1))) };
}

export interface TempoPlace {
  /** Place among the notes of the score. */
  index: number;
  atSec: number;
  /** Quarter notes a minute around it. */
  bpm: number;
}

/** So many notes on each side say what the tempo is at a note. */
const AROUND = 2;

/** The tempo as it went, at each note whose neighbours were played as well. */
export function tempoCurve(target: Target, score: readonly ScoreNote[]): TempoPlace[] {
  const begun = target.notes.flatMap(n =>
    n.onsetOffSec === null
      ? []
      : [{ index: n.index, sec: n.startSec!, quarters: score[n.index]!.startQuarters }],
  );
  return begun.flatMap((place, k) => {
    const before = begun[Math.max(0, k - AROUND)]!;
    const after = begun[Math.min(begun.length - 1, k + AROUND)]!;
    const sec = after.sec - before.sec;
    if (!(sec > 0) || after.quarters === before.quarters) return [];
    return [{ index: place.index, atSec: place.sec, bpm: (60 * (after.quarters - before.quarters)) / sec }];
  });
}

/** How much faster (> 0) or slower the last quarter of a performance is than its first, in percent. Null where it is too short. */
export function driftPercent(curve: readonly TempoPlace[]): number | null {
  const part = Math.floor(curve.length / 4);
  if (part < 2) return null;
  const mean = (places: readonly TempoPlace[]) => places.reduce((sum, p) => sum + p.bpm, 0) / places.length;
  return 100 * (mean(curve.slice(-part)) / mean(curve.slice(0, part)) - 1);
}

/** How even the beat is from one beginning to the next: 100 less the coefficient of variation, in percent. Null for fewer than four. */
export function steadyPercentOf(target: Target, score: readonly ScoreNote[]): number | null {
  const begun = target.notes.filter(n => n.startSec !== null);
  const beats = begun.slice(1).map((n, k) => {
    const before = begun[k]!;
    const quarters = score[n.index]!.startQuarters - score[before.index]!.startQuarters;
    return { beat: (n.startSec! - before.startSec!) / quarters, quarters };
  });
  if (beats.length < 3) return null;
  // Long ones count for more: a slip of the hand is the same in a short one.
  const all = beats.reduce((sum, b) => sum + b.quarters, 0);
  const mean = beats.reduce((sum, b) => sum + b.beat * b.quarters, 0) / all;
  const variance = beats.reduce((sum, b) => sum + b.quarters * (b.beat - mean) ** 2, 0) / all;
  return Math.max(0, 100 * (1 - Math.sqrt(variance) / mean));
}

/** Parts that a beat may be divided into. */
const DIVISIONS = [1, 2, 3, 4] as const;

/** A note's beginning beside a metronome. */
export interface BesideBeat {
  atSec: number;
  /** Later than the beat (or its part) > 0. */
  offSec: number;
}

/**
 * Beginnings of notes against the beats of a metronome that ran along: how far each is from the nearest beat, or part of one.
 * Into how many parts beats are divided is told from all notes together: by that division in whose parts they begin most at
 * the same place. It cannot tell a note that is half a part late from one that is half a part early.
 * @param beatsSec when the beats were, in seconds of the recording
 * @returns nothing for notes before the first beat and after the last
 */
export function againstBeats(onsets: readonly number[], beatsSec: readonly number[]): BesideBeat[] {
  const placed = onsets.flatMap(atSec => {
    const k = beatsSec.findIndex((b, i) => i > 0 && b > atSec);
    const from = k < 0 ? undefined : beatsSec[k - 1];
    if (from === undefined) return [];
    const beat = beatsSec[k]! - from;
    const place = (atSec - from) / beat;
    // A note may come a little before the first beat.
    return place < -0.25 ? [] : [{ atSec, beat, place }];
  });
  if (placed.length === 0) return [];
  const off = (place: number, parts: number) => place - Math.round(place * parts) / parts;
  // How much all notes agree on one place within a part: the length of their mean as points on a circle.
  const agreement = (parts: number) => {
    const turn = 2 * Math.PI * parts;
    return Math.hypot(
      placed.reduce((sum, p) => sum + Math.cos(turn * p.place), 0),
      placed.reduce((sum, p) => sum + Math.sin(turn * p.place), 0),
    );
  };
  const parts = DIVISIONS.reduce((a, b) => (agreement(b) > agreement(a) ? b : a));
  return placed.map(({ atSec, beat, place }) => ({ atSec, offSec: off(place, parts) * beat }));
}

/** Quarter notes that a beat may be. */
const BEAT_QUARTERS = [0.5, 1, 1.5, 2] as const;

/**
 * The notes of a score against the metronome that ran along: how far each began from where the score has it. The piece may
 * begin on any beat; which one is told from all notes together.
 */
export function scoreAgainstBeats(
  target: Target,
  score: readonly ScoreNote[],
  beatsSec: readonly number[],
): BesideBeat[] {
  const [first, second] = beatsSec;
  const begun = target.notes.filter(n => n.onsetOffSec !== null);
  if (first === undefined || second === undefined || target.bpm === null || begun.length === 0) return [];
  const beat = median(beatsSec.slice(1).map((b, i) => b - beatsSec[i]!));
  const inQuarters = (target.bpm * beat) / 60;
  const each = BEAT_QUARTERS.reduce((a, b) =>
    Math.abs(Math.log(b / inQuarters)) < Math.abs(Math.log(a / inQuarters)) ? b : a,
  );
  // Beats may have moved in between: each note is told by those around it.
  const place = (sec: number) => {
    const k = Math.max(
      0,
      beatsSec.findLastIndex(b => b <= sec),
    );
    const length = (beatsSec[k + 1] ?? beatsSec[k]! + beat) - beatsSec[k]!;
    return k + (sec - beatsSec[k]!) / length;
  };
  const from = begun.map(n => place(n.startSec!) - score[n.index]!.startQuarters / each);
  const begins = Math.round(median(from));
  return begun.map((n, i) => ({ atSec: n.startSec!, offSec: (from[i]! - begins) * beat }));
}
