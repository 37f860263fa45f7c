/**
 * Which kind of speech sound is heard at each moment, whoever speaks and in whatever language: a small network that looks at a
 * quarter of a second around it (H. Bourlard and N. Morgan, "Connectionist Speech Recognition: A Hybrid Approach", 1994). It
 * was learnt from voices and people whose text is known (decisions 43 and 54), and knows no word and no language.
 */
import { throughAll } from '../audio/layers';
import { CEPSTRA } from './cepstra';
import { SOUND_NETWORK, USUAL } from './network';

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
/** Frames that are looked at in one go: what is held for them is small beside the sound. */
const AT_ONCE = 500;

/**
 * @param cepstra `CEPSTRA` values for each frame
 * @returns for each frame and kind of sound, how much likelier it is there than usual, as a logarithm
 */
export function soundsHeard(cepstra: Float32Array): Float32Array {
  const count = cepstra.length / CEPSTRA;
  const kinds = SOUNDS.length;
  const out = new Float32Array(count * kinds);
  for (let first = 0; first < count; first += AT_ONCE) {
    const sums = throughAll(SOUND_NETWORK, around(cepstra, first, Math.min(count, first + AT_ONCE)));
    for (let at = 0; at < sums.length; at += kinds) {
      const some = sums.subarray(at, at + kinds);
      const top = some.reduce((a, b) => Math.max(a, b));
      const all = top + Math.log(some.reduce((sum, z) => sum + Math.exp(z - top), 0));
      for (let s = 0; s < kinds; s++) out[first * kinds + at + s] = some[s]! - all - USUAL[s]!;
    }
  }
  return out;
}

/** What lies around some frames, the one after the other; beyond the ends it stays as it is there. */
function around(cepstra: Float32Array, first: number, end: number): Float64Array {
  const last = cepstra.length / CEPSTRA - 1;
  const seen = new Float64Array((end - first) * INPUTS);
  let at = 0;
  for (let f = first; f < end; f++)
    for (const offset of LOOKED_AT) {
      const from = Math.min(last, Math.max(0, f + offset)) * CEPSTRA;
      for (let c = 0; c < CEPSTRA; c++) seen[at++] = cepstra[from + c]!;
    }
  return seen;
}

/** How likely a kind of sound is at a frame, 0…1. @param heard of `soundsHeard` */
export function likelihood(heard: Float32Array, frame: number, kind: number): number {
  return Math.exp(heard[frame * SOUNDS.length + kind]! + USUAL[kind]!);
}

/** Whether somebody speaks at a frame, as far as the sounds tell. */
export function isSpeaking(heard: Float32Array, frame: number): boolean {
  return likelihood(heard, frame, PAUSE) < 0.5;
}
