/**
 * A sound at another rate, in one piece: band-limited interpolation with a windowed sinc (J. O. Smith and P. Gossett, "A
 * flexible sampling-rate conversion method", ICASSP 1984). For the short pieces that are measured live; files are brought to
 * their rate by their decoder.
 */

/** Zero crossings of the sinc on each side. */
const CROSSINGS = 12;

/**
 * @param fromHz,toHz rates; both > 0
 * @returns as much of the sound as there is, at the new rate
 * @throws RangeError for a rate that is none
 */
export function resampled(samples: Float32Array, fromHz: number, toHz: number): Float32Array {
  if (!(fromHz > 0) || !(toHz > 0)) throw new RangeError('Both rates must be above 0 Hz.');
  if (fromHz === toHz) return samples;
  const step = fromHz / toHz;
  // Going down, the filter also keeps out what the lower rate cannot hold.
  const cutoff = Math.min(1, toHz / fromHz);
  const reach = CROSSINGS / cutoff;
  const out = new Float32Array(Math.floor(samples.length / step));
  for (let i = 0; i < out.length; i++) {
    const at = i * step;
    const first = Math.max(0, Math.ceil(at - reach));
    const last = Math.min(samples.length - 1, Math.floor(at + reach));
    let sum = 0;
    for (let k = first; k <= last; k++) {
      const x = (at - k) * cutoff;
      const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
      const window = 0.5 + 0.5 * Math.cos((Math.PI * x) / CROSSINGS);
      sum += samples[k]! * sinc * window;
    }
    out[i] = sum * cutoff;
  }
  return out;
}
