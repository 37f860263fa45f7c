/**
 * A short rising tone that is sent out and listened for: it tells how long a sound takes from the loudspeaker's
 * queue to the microphone's, and whether the microphone hears the loudspeaker at all.
 * Matched filter over a linear sweep (D. O. North, “An Analysis of the Factors which Determine Signal/Noise
 * Discrimination in Pulsed-Carrier Systems”, 1943). What it cannot do: hear through headphones, or through a
 * browser that takes its own sounds out of the microphone; then it finds nothing, and says so with null.
 */

export const CHIRP_SEC = 0.06;
const FROM_HZ = 1_200;
const TO_HZ = 4_800;

/** The chirp's samples, −1…1. */
export function chirp(sampleRateHz: number): Float32Array {
  const n = Math.round(CHIRP_SEC * sampleRateHz);
  const samples = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    const t = i / sampleRateHz;
    const phase = 2 * Math.PI * (FROM_HZ * t + ((TO_HZ - FROM_HZ) * t * t) / (2 * CHIRP_SEC));
    samples[i] = Math.sin(phase) * Math.sin((Math.PI * i) / n) ** 2;
  }
  return samples;
}

export interface FoundChirp {
  /** From where the search began, in ms. */
  atMs: number;
  /** How alike the found stretch and the chirp are: 1 is the same shape, at any level. */
  likeness: number;
}

/** A chirp this alike is one; speech and noise stay well below. */
const LEAST_LIKENESS = 0.35;

/**
 * Looks for the chirp.
 * @param heard mono samples, −1…1
 * @param fromSec,toSec where it may begin
 */
export function findChirp(
  heard: Float32Array,
  sampleRateHz: number,
  fromSec: number,
  toSec: number,
): FoundChirp | null {
  const wanted = chirp(sampleRateHz);
  let energy = 0;
  for (const x of wanted) energy += x * x;
  const first = Math.max(0, Math.round(fromSec * sampleRateHz));
  const last = Math.min(heard.length - wanted.length, Math.round(toSec * sampleRateHz));
  let own = 0;
  for (let i = 0; i < wanted.length; i++) own += (heard[first + i] ?? 0) ** 2;
  let best = 0;
  let at = -1;
  for (let lag = first; lag <= last; lag++) {
    let sum = 0;
    for (let i = 0; i < wanted.length; i++) sum += wanted[i]! * heard[lag + i]!;
    // Through the air the sound may come back turned upside down.
    const likeness = own > 1e-9 ? Math.abs(sum) / Math.sqrt(energy * own) : 0;
    if (likeness > best) [best, at] = [likeness, lag];
    own += (heard[lag + wanted.length] ?? 0) ** 2 - heard[lag]! ** 2;
  }
  return best >= LEAST_LIKENESS ? { atMs: ((at - first) / sampleRateHz) * 1000, likeness: best } : null;
}
