/** Where each sound of a word lies in a stretch in which it was said. */
import { SOUNDS } from './speechSounds';
import { LEAST_FRAMES, likelyOf, type Sound } from './wordPath';

const KINDS = SOUNDS.length;

/**
 * The likeliest way through all sounds in their order, without any pause.
 * @param heard `soundsHeard`
 * @param start,end first frame and the one behind the last; at least `LEAST_FRAMES` for each sound
 * @returns for each frame of the stretch the index of its sound
 */
export function soundTimes(
  heard: Float32Array,
  sounds: readonly Sound[],
  start: number,
  end: number,
): Uint16Array {
  const states = LEAST_FRAMES * sounds.length;
  const frames = end - start;
  const came = new Uint8Array(frames * states);
  let before = new Float64Array(states).fill(-Infinity);
  for (let t = 0; t < frames; t++) {
    const emissions = heard.subarray((start + t) * KINDS, (start + t + 1) * KINDS);
    const now = new Float64Array(states).fill(-Infinity);
    for (let j = 0; j < states; j++) {
      const isLast = j % LEAST_FRAMES === LEAST_FRAMES - 1;
      const on = t === 0 ? (j === 0 ? 0 : -Infinity) : j > 0 ? before[j - 1]! : -Infinity;
      const stay = isLast && t > 0 ? before[j]! : -Infinity;
      came[t * states + j] = Number(on >= stay);
      now[j] = Math.max(on, stay) + likelyOf(sounds[Math.floor(j / LEAST_FRAMES)]!, emissions);
    }
    before = now;
  }
  const out = new Uint16Array(frames);
  for (let t = frames - 1, j = states - 1; t >= 0; t--) {
    out[t] = Math.floor(j / LEAST_FRAMES);
    if (came[t * states + j] && j > 0) j -= 1;
  }
  return out;
}
