/** What is heard of several notes at once, so that it can be held against what is written: tones, what rises in them, silence. */
import { LOWEST_MIDI, SEMITONE_HOP_SEC, SEMITONES, type SemitoneLevels } from './semitones';

/** Frames of the levels that make one frame here. */
const POOLED = 2;
export const FRAME_SEC = POOLED * SEMITONE_HOP_SEC;

export interface HeardTones {
  /** Frames of `FRAME_SEC`. */
  count: number;
  /** How loud each half tone is beside the loudest of its frame, 0…1; `SEMITONES` for each frame. */
  tones: Float32Array;
  /** How much of each has just come, 0…1. */
  rises: Float32Array;
  /** 1 where something sounds. */
  sounds: Uint8Array;
}

/** Softer than the loudest tone of its frame by this, a tone is nothing. dB */
const RANGE_DB = 45;
/** A tone that rose by this has wholly come. */
const WHOLE_RISE_DB = 15;
/** What rises must come within so much of the loudest tone of its frame, and of the loud moments. */
const RISE_RANGE_DB = 35;
const RISE_DEPTH_DB = 30;
/** Softer than the loud moments by this, nothing sounds; further down nothing is looked at. */
const SILENCE_DEPTH_DB = 40;
const DEPTH_DB = 60;

export function heardTones(levels: SemitoneLevels): HeardTones {
  const count = Math.floor(levels.count / POOLED);
  const db = new Float32Array(count * SEMITONES);
  const loudest = new Float32Array(count).fill(-Infinity);
  for (let t = 0; t < count; t++)
    for (let s = 0; s < SEMITONES; s++) {
      let sum = 0;
      for (let k = 0; k < POOLED; k++) sum += levels.db(t * POOLED + k, s);
      db[t * SEMITONES + s] = sum / POOLED;
      loudest[t] = Math.max(loudest[t]!, sum / POOLED);
    }
  const loud = Float32Array.from(loudest).sort()[Math.floor(0.95 * (count - 1))] ?? 0;
  const tones = new Float32Array(count * SEMITONES);
  const rises = new Float32Array(count * SEMITONES);
  for (let t = 0; t < count; t++) {
    const floor = Math.max(loudest[t]! - RANGE_DB, loud - DEPTH_DB);
    const least = Math.max(loudest[t]! - RISE_RANGE_DB, loud - RISE_DEPTH_DB);
    for (let s = 0; s < SEMITONES; s++) {
      const i = t * SEMITONES + s;
      tones[i] = within01((db[i]! - floor) / RANGE_DB);
      if (t < 2) continue;
      const before = Math.max(least, Math.min(db[i - SEMITONES]!, db[i - 2 * SEMITONES]!));
      rises[i] = within01((db[i]! - before) / WHOLE_RISE_DB);
    }
  }
  return { count, tones, rises, sounds: Uint8Array.from(loudest, l => Number(l > loud - SILENCE_DEPTH_DB)) };
}

const within01 = (x: number) => Math.max(0, Math.min(1, x));

/** Half tones above a note at which its first partials lie, and by how much each is less than the one before. */
const PARTIALS = [0, 12, 19, 24, 28, 31, 34, 36];
const PARTIAL_DROP = 0.13;
/** What sounds on from before is softer. */
const HELD_SHARE = 0.8;

/** How notes sound together: `SEMITONES` values, 0…1. @param held what began before */
export function expectedTones(midis: readonly number[], held: readonly number[] = []): Float32Array {
  const out = new Float32Array(SEMITONES);
  const add = (midi: number, share: number) =>
    PARTIALS.forEach((up, k) => {
      const s = midi + up - LOWEST_MIDI;
      if (s >= 0 && s < SEMITONES) out[s] = Math.max(out[s]!, share * (1 - PARTIAL_DROP * k));
    });
  held.forEach(midi => add(midi, HELD_SHARE));
  midis.forEach(midi => add(midi, 1));
  return out;
}

/** The twelve tones of the octave, whatever their octave. */
export function folded(tones: Float32Array): Float32Array {
  const out = new Float32Array(12);
  tones.forEach((x, s) => (out[(s + LOWEST_MIDI) % 12]! += x * x));
  return out;
}

/** The same, its mean taken out and its length brought to 1: products of two are their correlation. */
export function centred(values: Float32Array): Float32Array {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  const out = values.map(v => v - mean);
  const length = Math.hypot(...out) || 1;
  return out.map(v => v / length);
}

export function product(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let k = 0; k < a.length; k++) sum += a[k]! * b[k]!;
  return sum;
}
