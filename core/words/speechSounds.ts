/**
 * Which kind of speech sound is heard at each moment, whoever speaks and in whatever language: a small network that looks at a
 * quarter of a second around it (H. Bourlard and N. Morgan, "Connectionist Speech Recognition: A Hybrid Approach", 1994). It
 * was learnt from voices whose sounds and times are known (decision 43), and knows no word and no language.
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

/**
 * @param cepstra `CEPSTRA` values for each frame
 * @returns for each frame and kind of sound, how much likelier it is there than usual, as a logarithm
 */
export function soundsHeard(cepstra: Float32Array): Float32Array {
  const count = cepstra.length / CEPSTRA;
  const kinds = SOUNDS.length;
  const hidden = NETWORK.hiddenOwn.length;
  const out = new Float32Array(count * kinds);
  const h = new Float32Array(hidden);
  const z = new Float64Array(kinds);
  for (let f = 0; f < count; f++) {
    h.set(NETWORK.hiddenOwn);
    let input = 0;
    for (const offset of LOOKED_AT) {
      const from = Math.min(count - 1, Math.max(0, f + offset)) * CEPSTRA;
      for (let c = 0; c < CEPSTRA; c++, input++) {
        const x = cepstra[from + c]!;
        const row = input * hidden;
        for (let k = 0; k < hidden; k++) h[k] = h[k]! + x * NETWORK.toHidden[row + k]!;
      }
    }
    z.set(NETWORK.soundsOwn);
    for (let k = 0; k < hidden; k++) {
      const on = h[k]!;
      if (on <= 0) continue;
      const row = k * kinds;
      for (let s = 0; s < kinds; s++) z[s] = z[s]! + on * NETWORK.toSounds[row + s]!;
    }
    let top = -Infinity;
    for (let s = 0; s < kinds; s++) top = Math.max(top, z[s]!);
    let sum = 0;
    for (let s = 0; s < kinds; s++) sum += Math.exp(z[s]! - top);
    const all = top + Math.log(sum);
    for (let s = 0; s < kinds; s++) out[f * kinds + s] = z[s]! - all - NETWORK.usual[s]!;
  }
  return out;
}

/** How likely a kind of sound is at a frame, 0…1. @param heard of `soundsHeard` */
export function likelihood(heard: Float32Array, frame: number, kind: number): number {
  return Math.exp(heard[frame * SOUNDS.length + kind]! + NETWORK.usual[kind]!);
}

/** Whether somebody speaks at a frame, as far as the sounds tell. */
export function isSpeaking(heard: Float32Array, frame: number): boolean {
  return likelihood(heard, frame, PAUSE) < 0.5;
}
