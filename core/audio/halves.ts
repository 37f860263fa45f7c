/**
 * Splits a sound of 16 kHz into its lower and its upper half, each of 8 kHz and each sample in its place.
 *
 * A half-band low-pass (Kaiser-windowed sinc; F. Mintzer, "On half-band, third-band, and Nth-band FIR filters and their
 * design", IEEE Transactions on Acoustics, Speech and Signal Processing 30(5), 1982): every other tap but the middle is zero,
 * and the high-pass that complements it has the same taps with other signs, so both halves cost what one does.
 */

/** Samples a second that the analyses of speech and music start from … */
export const ANALYSIS_HZ = 16_000;
/** … and that each half has. */
export const HALF_HZ = ANALYSIS_HZ / 2;

const BETA = 6.5;
/** Taps on each side that are not zero: the transition is from 3.5 to 4.5 kHz at 70 dB. */
const SIDE = 12;

/** Modified Bessel function of the first kind, order 0, by its series. */
function bessel0(x: number): number {
  let sum = 1;
  let term = 1;
  for (let k = 1; term > 1e-12 * sum; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** The taps at distance 1, 3, 5 … from the middle, whose own is one half. */
const TAPS = (() => {
  const taps = Float64Array.from({ length: SIDE }, (_, k) => {
    const n = 2 * k + 1;
    const window = bessel0(BETA * Math.sqrt(1 - (n / (2 * SIDE)) ** 2)) / bessel0(BETA);
    return (Math.sin((Math.PI * n) / 2) / (Math.PI * n)) * window;
  });
  const sum = taps.reduce((a, b) => a + b, 0);
  return taps.map(tap => (tap * 0.25) / sum);
})();
const REACH = 2 * SIDE - 1;
/** `SIDE` of them. */
type Twelve = readonly [
  ...[number, number, number, number, number, number],
  ...[number, number, number, number, number, number],
];

export interface Halves {
  /** 0 to 4 kHz. */
  low: Float32Array;
  /** 4 to 8 kHz, folded down: good for its level. */
  high: Float32Array;
}

/** Takes a sound in pieces; sample n of each half lies where sample 2 n of the sound lay. */
export class HalfSplitter {
  /** The end of what came, as far as it is still needed; before the first sample there is silence. Behind it, what was looked at. */
  private all = new Float32Array(REACH);
  private held = REACH;
  private low = new Float32Array(0);
  private high = new Float32Array(0);

  /** @param samples mono at 16 kHz, −1…1 @returns what can be said so far, 23 samples behind: it lies where the next does */
  push(samples: Float32Array): Halves {
    const length = this.held + samples.length;
    if (length > this.all.length) {
      const larger = new Float32Array(length);
      larger.set(this.all.subarray(0, this.held));
      this.all = larger;
    }
    const { all } = this;
    all.set(samples, this.held);
    const count = Math.max(0, Math.floor((length - 2 * REACH - 1) / 2) + 1);
    if (count > this.low.length) {
      this.low = new Float32Array(count);
      this.high = new Float32Array(count);
    }
    const low = this.low.subarray(0, count);
    const high = this.high.subarray(0, count);
    const [t0, t1, t2, t3, t4, t5, t6, t7, t8, t9, t10, t11] = TAPS as unknown as Twelve;
    // Written out, for this runs over every sample of every recording: a loop over the taps takes three times as long. And said of
    // each place that it is a whole number, or each would be looked at for being too large.
    for (let n = 0, at = REACH; n < count; n++, at += 2) {
      const near =
        t0 * (all[(at - 1) | 0]! + all[(at + 1) | 0]!) +
        t2 * (all[(at - 5) | 0]! + all[(at + 5) | 0]!) +
        t4 * (all[(at - 9) | 0]! + all[(at + 9) | 0]!) +
        t6 * (all[(at - 13) | 0]! + all[(at + 13) | 0]!) +
        t8 * (all[(at - 17) | 0]! + all[(at + 17) | 0]!) +
        t10 * (all[(at - 21) | 0]! + all[(at + 21) | 0]!);
      const far =
        t1 * (all[(at - 3) | 0]! + all[(at + 3) | 0]!) +
        t3 * (all[(at - 7) | 0]! + all[(at + 7) | 0]!) +
        t5 * (all[(at - 11) | 0]! + all[(at + 11) | 0]!) +
        t7 * (all[(at - 15) | 0]! + all[(at + 15) | 0]!) +
        t9 * (all[(at - 19) | 0]! + all[(at + 19) | 0]!) +
        t11 * (all[(at - 23) | 0]! + all[(at + 23) | 0]!);
      const middle = 0.5 * all[at]!;
      low[n] = middle + near + far;
      high[n] = middle - near - far;
    }
    all.copyWithin(0, 2 * count, length);
    this.held = length - 2 * count;
    return { low, high };
  }

  /** The last samples; after this nothing more may come. */
  finish(): Halves {
    return this.push(new Float32Array(REACH));
  }
}
