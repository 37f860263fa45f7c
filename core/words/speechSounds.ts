/**
 * Which kind of speech sound is heard at each moment, whoever speaks and in whatever language: a small network that looks at a
 * quarter of a second around it (H. Bourlard and N. Morgan, "Connectionist Speech Recognition: A Hybrid Approach", 1994). It
 * was learnt from voices and people whose text is known (decisions 43 and 54), and knows no word and no language.
 */
import { CEPSTRA } from './cepstra';
import { NETWORK } from './network';

/** The kinds, coarse enough to be the same in all languages; each is named by a sign of the IPA that belongs to it. */
export const SOUNDS = [
  'pause',
  ...['p', 't', 'k', 'b', 'd', 'g'],
  ...['s', 'z', 'ʃ', 'f', 'v', 'h'],
  ...['m', 'n', 'l', 'r', 'ɹ', 'j', 'w'],
  ...['i', 'e', 'ɛ', 'a', 'ɔ', 'o', 'u', 'y', 'ə'],
] as const;
export const PAUSE = 0;
/** Frames that are looked at, from the one that is asked for. */
const LOOKED_AT = [-8, -5, -3, -2, -1, 0, 1, 2, 3, 5, 8] as const;

const INPUTS = LOOKED_AT.length * CEPSTRA;
/** Frames that each weight is used for once it is read. */
const TOGETHER = 4;

/**
 * @param cepstra `CEPSTRA` values for each frame
 * @returns for each frame and kind of sound, how much likelier it is there than usual, as a logarithm
 */
export function soundsHeard(cepstra: Float32Array): Float32Array {
  const count = cepstra.length / CEPSTRA;
  const out = new Float32Array(count * SOUNDS.length);
  const seen = new Float64Array(TOGETHER * INPUTS);
  const hidden = new Float64Array(TOGETHER * NETWORK.hiddenOwn.length);
  for (let f = 0; f < count; f += TOGETHER) {
    look(cepstra, count, f, seen);
    toHidden(seen, hidden);
    for (let k = 0; k < TOGETHER && f + k < count; k++) toSounds(hidden, k, out, (f + k) * SOUNDS.length);
  }
  return out;
}

/** What lies around some frames, the one after the other; beyond the ends it stays as it is there. */
function look(cepstra: Float32Array, count: number, first: number, seen: Float64Array): void {
  let at = 0;
  for (let k = 0; k < TOGETHER; k++)
    for (const offset of LOOKED_AT) {
      const from = Math.min(count - 1, Math.max(0, first + k + offset)) * CEPSTRA;
      for (let c = 0; c < CEPSTRA; c++) seen[at++] = cepstra[from + c]!;
    }
}

/** Four frames and two units at a time: sums that stay in registers take a ninth of the time. */
function toHidden(seen: Float64Array, hidden: Float64Array): void {
  const { toHidden: weights, hiddenOwn } = NETWORK;
  const units = hiddenOwn.length;
  for (let unit = 0; unit < units; unit += 2) {
    let [a, b] = [hiddenOwn[unit]!, hiddenOwn[unit + 1]!];
    let [c, d, e, f, g, h] = [a, b, a, b, a, b];
    const row = unit * INPUTS;
    for (let i = 0; i < INPUTS; i++) {
      const v = weights[row + i]!;
      const w = weights[row + INPUTS + i]!;
      const p = seen[i]!;
      const q = seen[INPUTS + i]!;
      const r = seen[2 * INPUTS + i]!;
      const s = seen[3 * INPUTS + i]!;
      a += v * p;
      b += w * p;
      c += v * q;
      d += w * q;
      e += v * r;
      f += w * r;
      g += v * s;
      h += w * s;
    }
    hidden[unit] = a;
    hidden[unit + 1] = b;
    hidden[units + unit] = c;
    hidden[units + unit + 1] = d;
    hidden[2 * units + unit] = e;
    hidden[2 * units + unit + 1] = f;
    hidden[3 * units + unit] = g;
    hidden[3 * units + unit + 1] = h;
  }
}

function toSounds(hidden: Float64Array, frame: number, out: Float32Array, at: number): void {
  const { toSounds: weights, soundsOwn, usual } = NETWORK;
  const kinds = SOUNDS.length;
  const units = hidden.length / TOGETHER;
  const z = Float64Array.from(soundsOwn);
  for (let k = 0; k < units; k++) {
    const on = hidden[frame * units + k]!;
    if (on <= 0) continue;
    const row = k * kinds;
    for (let s = 0; s < kinds; s++) z[s] = z[s]! + on * weights[row + s]!;
  }
  let top = -Infinity;
  for (let s = 0; s < kinds; s++) top = Math.max(top, z[s]!);
  let sum = 0;
  for (let s = 0; s < kinds; s++) sum += Math.exp(z[s]! - top);
  const all = top + Math.log(sum);
  for (let s = 0; s < kinds; s++) out[at + s] = z[s]! - all - usual[s]!;
}

/** How likely a kind of sound is at a frame, 0…1. @param heard of `soundsHeard` */
export function likelihood(heard: Float32Array, frame: number, kind: number): number {
  return Math.exp(heard[frame * SOUNDS.length + kind]! + NETWORK.usual[kind]!);
}

/** Whether somebody speaks at a frame, as far as the sounds tell. */
export function isSpeaking(heard: Float32Array, frame: number): boolean {
  return likelihood(heard, frame, PAUSE) < 0.5;
}
