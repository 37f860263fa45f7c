/** What the pitch of a performance says beyond single notes: vibrato, and where it tends to be off. */
import type { ScoreNote } from '../formats/scoreNotes';
import type { Note } from './notes';
import type { Pitch } from './pitch';
import { median } from './ranks';
import type { Target } from './target';

export interface Vibrato {
  rateHz: number;
  /** From the middle to the top, in cents. */
  extentCents: number;
}

/** Vibrato of voices and instruments lies between these. */
const SLOWEST_HZ = 3.5;
const FASTEST_HZ = 9;
const RATE_STEP_HZ = 0.1;
/** A wavering is a vibrato when one rate explains this much of it … */
const LEAST_EXPLAINED = 0.45;
/** … and is wide enough to be meant. */
const LEAST_EXTENT_CENTS = 8;
/** So many turns at least, away from the ends of the note. */
const LEAST_TURNS = 2;
const ENDS_SEC = 0.06;

/**
 * The vibrato of a note: the rate between 3.5 and 9 Hz whose sinusoid fits the pitch best, a slow slide taken out first (least
 * squares at each rate; vibrato as one sinusoid after E. Prame, "Measurements of the vibrato rate of ten singers", JASA 96(4),
 * 1994).
 * @returns null where the note is too short, or does not waver steadily
 */
export function vibratoOf(pitch: Pitch, note: Pick<Note, 'startSec' | 'endSec'>): Vibrato | null {
  const from = Math.ceil((note.startSec + ENDS_SEC) / pitch.hopSec);
  const to = Math.floor((note.endSec - ENDS_SEC) / pitch.hopSec);
  const places: number[] = [];
  const cents: number[] = [];
  for (let i = from; i <= to; i++) {
    if (!((pitch.hz[i] ?? 0) > 0)) continue;
    places.push(i * pitch.hopSec);
    cents.push(1_200 * Math.log2(pitch.hz[i]!));
  }
  const span = (places.at(-1) ?? 0) - (places[0] ?? 0);
  if (span * SLOWEST_HZ < LEAST_TURNS || places.length < 0.8 * (to - from)) return null;
  const level = withoutSlide(places, cents);
  const whole = level.reduce((sum, c) => sum + c * c, 0);
  let best: Vibrato | null = null;
  let most = LEAST_EXPLAINED * whole;
  for (let rateHz = SLOWEST_HZ; rateHz <= FASTEST_HZ; rateHz += RATE_STEP_HZ) {
    let [ss, cc, sc, ys, yc] = [0, 0, 0, 0, 0];
    places.forEach((t, k) => {
      const s = Math.sin(2 * Math.PI * rateHz * t);
      const c = Math.cos(2 * Math.PI * rateHz * t);
      ss += s * s;
      cc += c * c;
      sc += s * c;
      ys += level[k]! * s;
      yc += level[k]! * c;
    });
    const determinant = ss * cc - sc * sc;
    const a = (ys * cc - yc * sc) / determinant;
    const b = (yc * ss - ys * sc) / determinant;
    const explained = a * ys + b * yc;
    if (explained <= most) continue;
    most = explained;
    best = { rateHz, extentCents: Math.hypot(a, b) };
  }
  return best && best.extentCents >= LEAST_EXTENT_CENTS ? best : null;
}

/** What is left when a parabola is taken out: slides and sagging ends are no vibrato. */
function withoutSlide(places: readonly number[], values: readonly number[]): number[] {
  const middle = (places[0]! + places.at(-1)!) / 2;
  const half = Math.max(1e-6, (places.at(-1)! - places[0]!) / 2);
  const x = places.map(p => (p - middle) / half);
  // Legendre polynomials are orthogonal enough on evenly spaced places.
  const shapes = [x.map(() => 1), x, x.map(v => (3 * v * v - 1) / 2)];
  let left = [...values];
  for (let round = 0; round < 3; round++)
    for (const shape of shapes) {
      const norm = shape.reduce((sum, s) => sum + s * s, 0);
      const weight = shape.reduce((sum, s, k) => sum + s * left[k]!, 0) / norm;
      left = left.map((v, k) => v - weight * shape[k]!);
    }
  return left;
}

export interface Tendency {
  /** Degree of the scale from 1, with the half tone above it as .5; or the octave, middle C beginning the fourth. */
  at: number;
  notes: number;
  /** Median of how far they are off, in cents. */
  centsOff: number;
}

const DEGREES = [1, 1.5, 2, 2.5, 3, 4, 4.5, 5, 5.5, 6, 6.5, 7];

function tendencies(groups: Map<number, number[]>): Tendency[] {
  return [...groups]
    .sort(([a], [b]) => a - b)
    .map(([at, cents]) => ({ at, notes: cents.length, centsOff: median(cents) }));
}

function grouped(
  target: Target,
  score: readonly ScoreNote[],
  groupOf: (midi: number) => number,
): Map<number, number[]> {
  const groups = new Map<number, number[]>();
  for (const { index, centsOff } of target.notes) {
    if (centsOff === null) continue;
    const at = groupOf(score[index]!.midi);
    groups.set(at, [...(groups.get(at) ?? []), centsOff]);
  }
  return groups;
}

/**
 * How far the notes of each degree of the scale are off: leading notes that are low, thirds that are high.
 * @param fifths the key as it sounds, fifths up the circle; taken as major
 */
export function byDegree(target: Target, score: readonly ScoreNote[], fifths: number): Tendency[] {
  const tonic = (((7 * fifths) % 12) + 12) % 12;
  return tendencies(grouped(target, score, midi => DEGREES[(((midi - tonic) % 12) + 12) % 12]!));
}

/** The same by octave: what is low below and high above, or the other way round. */
export function byRegister(target: Target, score: readonly ScoreNote[]): Tendency[] {
  return tendencies(grouped(target, score, midi => Math.floor(midi / 12) - 1));
}
