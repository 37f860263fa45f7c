/**
 * Which kind of speech sound is heard at each moment, whoever speaks and in whatever language: a small network that looks at
 * four tenths of a second around it (H. Bourlard and N. Morgan, "Connectionist Speech Recognition: A Hybrid Approach", 1994),
 * by layers over time (A. Waibel et al., "Phoneme recognition using time-delay neural networks", IEEE Transactions on
 * Acoustics, Speech and Signal Processing 37(3), 1989). It was learnt from voices and people whose text is known (decisions 43
 * and 57), and knows no word and no language.
 */
import { reachOf, throughAll } from '../audio/layers';
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
/** Frames that come out in one go: what is held for them is small beside the sound. */
const AT_ONCE = 500;
/** Frames that are heard as one, and, of those looked at for them, how many lie on either side. */
const [TOGETHER, BESIDE] = (() => {
  let [step, reach] = [1, 1];
  for (const layer of SOUND_NETWORK) {
    reach += (reachOf(layer) - 1) * step;
    step *= layer.stride;
  }
  return [step, (reach - step) / 2] as const;
})();

/**
 * @param cepstra `CEPSTRA` values for each frame
 * @returns for each frame and kind of sound, how much likelier it is there than usual, as a logarithm
 */
export function soundsHeard(cepstra: Float32Array): Float32Array {
  const count = cepstra.length / CEPSTRA;
  const kinds = SOUNDS.length;
  const out = new Float32Array(count * kinds);
  for (let first = 0; first < count; first += AT_ONCE) {
    const some = Math.ceil(Math.min(AT_ONCE, count - first) / TOGETHER);
    const sums = throughAll(SOUND_NETWORK, around(cepstra, first, some * TOGETHER));
    for (let k = 0; k < some; k++) {
      const own = sums.subarray(k * kinds, (k + 1) * kinds);
      const top = own.reduce((a, b) => Math.max(a, b));
      const all = top + Math.log(own.reduce((sum, z) => sum + Math.exp(z - top), 0));
      const from = first + k * TOGETHER;
      for (let f = from; f < Math.min(count, from + TOGETHER); f++)
        for (let s = 0; s < kinds; s++) out[f * kinds + s] = own[s]! - all - USUAL[s]!;
    }
  }
  return out;
}

/** Some frames and what lies on either side of them; beyond the ends it stays as it is there. */
function around(cepstra: Float32Array, first: number, count: number): Float64Array {
  const last = cepstra.length / CEPSTRA - 1;
  const seen = new Float64Array((count + 2 * BESIDE) * CEPSTRA);
  for (let k = 0; k < count + 2 * BESIDE; k++) {
    const from = Math.min(last, Math.max(0, first - BESIDE + k)) * CEPSTRA;
    for (let c = 0; c < CEPSTRA; c++) seen[k * CEPSTRA + c] = cepstra[from + c]!;
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
