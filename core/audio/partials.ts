/**
 * The frequencies of single partials, and the fundamental that they tell of.
 *
 * A partial's frequency is read from its phase: reassignment with a Hann window and that window's derivative (F. Auger and
 * P. Flandrin, "Improving the readability of time-frequency and time-scale representations by the reassignment method", IEEE
 * Transactions on Signal Processing 43(5), 1995). It is exact for one steady or evenly gliding sinusoid. The partials of a
 * stiff string are stretched, f(n) = n f₀ √(1 + B n²) (H. Fletcher, "Normal vibration frequencies of a stiff piano string",
 * JASA 36, 1964); what is wanted is the first, so the stretch is fitted and taken out.
 */

/** Partials that are looked at. */
export const MOST_PARTIALS = 6;
/** A window holds so many periods: neighbours lie far outside its main lobe. */
const PERIODS = 5;
const SHORTEST_SEC = 0.03;
const LONGEST_SEC = 0.09;
/** Softer than this beside the strongest, a partial says more of the noise. */
const SOFTEST = 0.03;
/** Softer than this beside the strongest, a partial is taken for none when it is asked which ones there are. */
const ABSENT = 0.05;
/** No pitch is looked for above this. */
export const HIGHEST_HZ = 2_150;
/** A partial further than this from where it should be belongs to something else. */
const MOST_STRAY = 0.04;
/** Spread that is expected of B/2 before anything is measured: a wound string has about 10⁻⁴, a small piano's treble 10⁻³. */
const STRETCH_PRIOR = 3e-4;

/** So many samples from a place on, with silence where there are none. */
function withSilence(samples: Float32Array, from: number, count: number): Float32Array {
  return Float32Array.from({ length: count }, (_, i) => samples[from + i] ?? 0);
}

function commonDivisor(a: number, b: number): number {
  return b === 0 ? a : commonDivisor(b, a % b);
}

export interface Fundamental {
  hz: number;
  /** Amplitude of the strongest partial. */
  amplitude: number;
  /** The sound may be this multiple of it: all partials lie at such multiples. Mostly 1. */
  multiple: number;
  /** Power of each partial as a share of all of them, `MOST_PARTIALS` values; the same array at each call. */
  shares: Float64Array;
}

/** Measures partials around given places; keeps its windows. */
export class PartialReader {
  private readonly windows = new Map<number, { hann: Float64Array; slope: Float64Array; sum: number }>();
  private readonly hz = new Float64Array(MOST_PARTIALS);
  private readonly amplitude = new Float64Array(MOST_PARTIALS);
  private readonly shares = new Float64Array(MOST_PARTIALS);
  private readonly evenHann: Float64Array;
  private readonly oddHann: Float64Array;
  private readonly evenSlope: Float64Array;
  private readonly oddSlope: Float64Array;

  /** @param rateHz samples a second */
  constructor(private readonly rateHz: number) {
    const most = Math.round((LONGEST_SEC * rateHz) / 2) + 1;
    this.evenHann = new Float64Array(most);
    this.oddHann = new Float64Array(most);
    this.evenSlope = new Float64Array(most);
    this.oddSlope = new Float64Array(most);
  }

  private window(half: number) {
    let found = this.windows.get(half);
    if (!found) {
      const size = 2 * half + 1;
      const hann = new Float64Array(size);
      const slope = new Float64Array(size);
      let sum = 0;
      for (let k = 0; k < size; k++) {
        const phase = (Math.PI * (k - half)) / (half + 1);
        hann[k] = 0.5 + 0.5 * Math.cos(phase);
        // By the sample, so that the frequency's correction comes out in radians a sample.
        slope[k] = (-0.5 * Math.PI * Math.sin(phase)) / (half + 1);
        sum += hann[k]!;
      }
      found = { hann, slope, sum };
      this.windows.set(half, found);
    }
    return found;
  }

  /**
   * The first partial of a tone.
   * @param samples  around the moment; outside them there is silence
   * @param centre   index of the moment in them
   * @param aboutHz  the pitch, known within a few percent
   * @returns null where nothing sounds there
   */
  fundamental(samples: Float32Array, centre: number, aboutHz: number): Fundamental | null {
    const seconds = Math.max(SHORTEST_SEC, Math.min(LONGEST_SEC, PERIODS / aboutHz));
    const half = Math.round((seconds * this.rateHz) / 2);
    const { hann, slope, sum } = this.window(half);
    const { evenHann, oddHann, evenSlope, oddSlope } = this;
    const isWithin = centre >= half && centre + half < samples.length;
    const around = isWithin ? samples : withSilence(samples, centre - half, 2 * half + 1);
    const middle = isWithin ? centre : half;
    // The window is the same on both sides of the middle and its slope the opposite: what lies as far before as after is
    // taken together, once for all partials.
    for (let d = 0; d <= half; d++) {
      const before = d === 0 ? 0 : around[(middle - d) | 0]!;
      const after = around[(middle + d) | 0]!;
      const w = hann[(half + d) | 0]!;
      const s = slope[(half + d) | 0]!;
      evenHann[d] = w * (after + before);
      oddHann[d] = w * (after - before);
      evenSlope[d] = s * (after - before);
      oddSlope[d] = s * (after + before);
    }
    const count = Math.min(MOST_PARTIALS, Math.floor((0.46 * this.rateHz) / aboutHz));
    let strongest = 0;
    for (let n = 1; n <= count; n++) {
      const omega = (2 * Math.PI * n * aboutHz) / this.rateHz;
      // cos and sin of d·ω, each from the two before it. One by one: taken out of arrays, they were 7 % of all that had to be
      // forgotten of a recording.
      const twice = 2 * Math.cos(omega);
      let cos = 1;
      let cosBefore = Math.cos(omega);
      let sin = 0;
      let sinBefore = -Math.sin(omega);
      let aRe = 0;
      let aIm = 0;
      let bRe = 0;
      let bIm = 0;
      for (let d = 0; d <= half; d++) {
        aRe += evenHann[d]! * cos;
        aIm -= oddHann[d]! * sin;
        bRe += evenSlope[d]! * cos;
        bIm -= oddSlope[d]! * sin;
        const cosNext = twice * cos - cosBefore;
        cosBefore = cos;
        cos = cosNext;
        const sinNext = twice * sin - sinBefore;
        sinBefore = sin;
        sin = sinNext;
      }
      const power = aRe * aRe + aIm * aIm;
      const off = power > 0 ? (bIm * aRe - bRe * aIm) / power : 0;
      this.hz[n - 1] = ((omega - off) * this.rateHz) / (2 * Math.PI);
      this.amplitude[n - 1] = (2 * Math.sqrt(power)) / sum;
      strongest = Math.max(strongest, this.amplitude[n - 1]!);
    }
    if (strongest === 0) return null;
    const hz = this.fitted(count, strongest, aboutHz);
    if (hz === null) return null;
    for (let n = 1; n <= count; n++) if (this.stray(n, aboutHz) >= MOST_STRAY) this.amplitude[n - 1] = 0;
    const multiple = this.multiple(count);
    const { shares } = this;
    let power = 0;
    for (let n = 0; n < MOST_PARTIALS; n++) power += shares[n] = n < count ? this.amplitude[n]! ** 2 : 0;
    for (let n = 0; n < count; n++) shares[n]! /= power;
    return { hz, amplitude: strongest, multiple: multiple * hz <= HIGHEST_HZ ? multiple : 1, shares };
  }

  /**
   * Which multiple of what was taken for the pitch is the pitch: the one that all partials are multiples of. A tone that was
   * struck while a body or the last one still rang is followed an octave, a twelfth or two octaves low now and then. Where
   * there are two neighbours alone and none of the first three, those are two tones at once: the stronger counts.
   */
  private multiple(count: number): number {
    if (count < 4) return 1;
    let strongest = 1;
    for (let n = 2; n <= count; n++)
      if (this.amplitude[n - 1]! > this.amplitude[strongest - 1]!) strongest = n;
    const least = ABSENT * this.amplitude[strongest - 1]!;
    let common = strongest;
    let present = 0;
    let first = 0;
    for (let n = 1; n <= count; n++) {
      if (this.amplitude[n - 1]! < least) continue;
      present += 1;
      first ||= n;
      common = commonDivisor(common, n);
    }
    // One partial alone tells nothing: a struck bar begins with its fourth.
    if (present < 2) return 1;
    if (common > 1) return common;
    return present === 2 && first > 3 ? strongest : 1;
  }

  /** How far the n-th partial is from where a tone of this pitch has it, as a share. */
  private stray(n: number, aboutHz: number): number {
    return Math.abs(this.hz[n - 1]! / n / aboutHz - 1);
  }

  /**
   * Weighted least squares of f(n)/n = f₁ (1 + β (n² − 1)), β near zero unless the partials say otherwise. The weight of a
   * partial is n² times its power: the error of f(n)/n shrinks with both.
   */
  private fitted(count: number, strongest: number, aboutHz: number): number | null {
    const used: number[] = [];
    for (let n = 1; n <= count; n++)
      if (this.amplitude[n - 1]! >= SOFTEST * strongest && this.stray(n, aboutHz) < MOST_STRAY) used.push(n);
    if (used.length === 0) return null;
    let w = 0;
    let wx = 0;
    let wxx = 0;
    let wy = 0;
    let wxy = 0;
    for (const n of used) {
      const weight = n * n * (this.amplitude[n - 1]! / strongest) ** 2;
      const x = n * n - 1;
      const y = this.hz[n - 1]! / n / aboutHz - 1;
      w += weight;
      wx += weight * x;
      wxx += weight * x * x;
      wy += weight * y;
      wxy += weight * x * y;
    }
    // What a partial of weight 1 may be off, in parts of the pitch, and what the prior is worth beside that.
    const prior = (1e-3 / STRETCH_PRIOR) ** 2;
    const determinant = w * (wxx + prior) - wx * wx;
    const y1 = (wy * (wxx + prior) - wx * wxy) / determinant;
    return aboutHz * (1 + y1);
  }
}
