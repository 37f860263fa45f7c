/**
 * How loud a recording is: peak, mean power, loudness by ITU-R BS.1770-4, samples at full scale. One pass, in pieces.
 */
import type { Stretch } from './activity';
import { dbfs } from './peaks';
import { Series } from './series';

export interface Level {
  /** Highest absolute sample of any channel. dB relative to full scale; null for digital silence. */
  peakDbfs: number | null;
  /** Root of the mean square over all channels and the whole length. */
  rmsDbfs: number | null;
  /** Integrated loudness in LUFS, gated; null when nothing lies above the gate of −70 LUFS. */
  loudnessLufs: number | null;
  /** Samples that stand at full scale, two and more of them in a row. */
  clippedSamples: number;
}

/** From here a sample counts as at full scale: one step below the top of 16 bits. */
const FULL_SCALE = 32_766 / 32_768;
const BLOCK_SEC = 0.4;
/** Blocks overlap by three quarters. */
const STEP_SEC = BLOCK_SEC / 4;
const ABSOLUTE_GATE_LUFS = -70;
const RELATIVE_GATE_LU = -10;
const OFFSET_LU = -0.691;

/** Coefficients of what comes in, and of what went out. */
type In = readonly [b0: number, b1: number, b2: number];
type Out = readonly [a1: number, a2: number];

/** The head's shelf and the weighting below 38 Hz, for any sample rate: the analogue prototypes of BS.1770, bilinear. */
function kWeighting(rateHz: number): { shelf: [...In, ...Out]; pass: Out } {
  const shelf = (() => {
    const [f0, gain, q] = [1681.974450955533, 3.999843853973347, 0.7071752369554196];
    const k = Math.tan((Math.PI * f0) / rateHz);
    const vh = 10 ** (gain / 20);
    const vb = vh ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    const out = [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0] as const;
    return [
      (vh + (vb * k) / q + k * k) / a0,
      (2 * (k * k - vh)) / a0,
      (vh - (vb * k) / q + k * k) / a0,
      ...out,
    ] as [...In, ...Out];
  })();
  const [f0, q] = [38.13547087602444, 0.5003270373238773];
  const k = Math.tan((Math.PI * f0) / rateHz);
  const a0 = 1 + k / q + k * k;
  // What comes in counts 1, −2, 1 there.
  return { shelf, pass: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0] };
}

/**
 * Measures level over all channels.
 * @example
 * const meter = new LevelMeter(48_000, 1); meter.push([samples]); meter.finish().loudnessLufs
 */
export class LevelMeter {
  private readonly shelf: readonly [...In, ...Out];
  private readonly pass: Out;
  /** What each channel's two sections hold, direct form II transposed. */
  private readonly held: Float64Array[];
  private readonly stepSamples: number;
  private readonly inRow: number[];
  private highest = 0;
  private squares = 0;
  private count = 0;
  private clipped = 0;
  private weighted = 0;
  private filled = 0;
  private squaresBefore = 0;
  /** Plain power of each 100 ms. */
  private readonly powers = Series.floats();
  private readonly steps: number[] = [];
  /** Weighted power of each block of 400 ms, above the absolute gate. */
  private readonly blocks = Series.floats();

  /** @param rateHz samples a second of each channel */
  constructor(
    rateHz: number,
    private readonly channels: number,
  ) {
    ({ shelf: this.shelf, pass: this.pass } = kWeighting(rateHz));
    this.held = Array.from({ length: channels }, () => new Float64Array(4));
    this.stepSamples = Math.round(STEP_SEC * rateHz);
    this.inRow = new Array<number>(channels).fill(0);
  }

  /** @param pieces one array of equal length for each channel, −1…1 */
  push(pieces: readonly Float32Array[]): void {
    const length = pieces[0]?.length ?? 0;
    let from = 0;
    while (from < length) {
      const to = Math.min(length, from + this.stepSamples - this.filled);
      for (let c = 0; c < this.channels; c++) this.channel(pieces[c]!, c, from, to);
      this.filled += to - from;
      from = to;
      if (this.filled === this.stepSamples) this.step();
    }
    this.count += length;
  }

  /**
   * Peak, power and what stands at full scale, and the power after both sections: two samples a turn and by locals alone. In the
   * sections a sample waits for the one before it; said of two at once, there is half as much to wait for.
   */
  private channel(samples: Float32Array, c: number, from: number, to: number): void {
    const [b0, b1, b2, a1, a2] = this.shelf;
    const [d1, d2] = this.pass;
    const a11 = a1 * a1 - a2;
    const d11 = d1 * d1 - d2;
    const held = this.held[c]!;
    let z1 = held[0]!;
    let z2 = held[1]!;
    let y1 = held[2]!;
    let y2 = held[3]!;
    let { highest, squares, weighted } = this;
    const even = from + 2 * Math.floor((to - from) / 2);
    for (let i = from; i < even; i += 2) {
      const p = samples[i]!;
      const q = samples[i + 1]!;
      const shelved = b0 * p + z1;
      const next = b0 * q + b1 * p + z2;
      const shelvedNext = next - a1 * shelved;
      z1 = b1 * q + b2 * p - a1 * next + a11 * shelved;
      z2 = b2 * q - a2 * shelvedNext;
      const passed = shelved + y1;
      const then = shelvedNext - 2 * shelved + y2;
      const passedNext = then - d1 * passed;
      y1 = shelved - 2 * shelvedNext - d1 * then + d11 * passed;
      y2 = shelvedNext - d2 * passedNext;
      weighted += passed * passed + passedNext * passedNext;
      squares += p * p + q * q;
      const first = Math.abs(p);
      const second = Math.abs(q);
      if (first > highest) highest = first;
      if (second > highest) highest = second;
    }
    if (even < to) {
      const p = samples[even]!;
      const shelved = b0 * p + z1;
      z1 = b1 * p + z2 - a1 * shelved;
      z2 = b2 * p - a2 * shelved;
      const passed = shelved + y1;
      y1 = y2 - 2 * shelved - d1 * passed;
      y2 = shelved - d2 * passed;
      weighted += passed * passed;
      squares += p * p;
      if (Math.abs(p) > highest) highest = Math.abs(p);
    }
    held[0] = z1;
    held[1] = z2;
    held[2] = y1;
    held[3] = y2;
    this.highest = highest;
    this.squares = squares;
    this.weighted = weighted;
    // Most recordings never come so far.
    if (highest >= FULL_SCALE) this.clip(samples, c, from, to);
  }

  private clip(samples: Float32Array, c: number, from: number, to: number): void {
    let row = this.inRow[c]!;
    for (let i = from; i < to; i++) {
      if (Math.abs(samples[i]!) < FULL_SCALE) row = 0;
      // A single sample at the top is a peak that just fits.
      else if (++row >= 2) this.clipped += row === 2 ? 2 : 1;
    }
    this.inRow[c] = row;
  }

  private step(): void {
    this.powers.push((this.squares - this.squaresBefore) / (this.stepSamples * this.channels));
    this.squaresBefore = this.squares;
    this.steps.push(this.weighted);
    this.weighted = 0;
    this.filled = 0;
    if (this.steps.length < 4) return;
    const power = this.steps.reduce((a, b) => a + b, 0) / (4 * this.stepSamples);
    if (loudness(power) > ABSOLUTE_GATE_LUFS) this.blocks.push(power);
    this.steps.shift();
  }

  /**
   * The level of the room: the mean power of the tenths of a second in which nobody sounds, or, where somebody always does,
   * of the softest twentieth of them.
   * @param sounding stretches in which somebody sounds, in order
   * @returns null for digital silence, or a recording shorter than a tenth of a second
   */
  noiseFloorDbfs(sounding: readonly Stretch[]): number | null {
    const powers = this.powers.take();
    let at = 0;
    const quiet = powers.filter((_, k) => {
      const [from, to] = [k * STEP_SEC - 0.03, (k + 1) * STEP_SEC + 0.03];
      while (at < sounding.length && sounding[at]!.endSec < from) at += 1;
      return at === sounding.length || sounding[at]!.startSec > to;
    });
    const softest = powers
      .slice()
      .sort()
      .slice(0, Math.ceil(powers.length / 20));
    const heard = quiet.length > 0 ? quiet : softest;
    const power = heard.reduce((a, b) => a + b, 0) / heard.length;
    return power > 0 ? 10 * Math.log10(power) : null;
  }

  finish(): Level {
    const finite = (db: number) => (Number.isFinite(db) ? db : null);
    const mean = (powers: Float32Array) => powers.reduce((a, b) => a + b, 0) / powers.length;
    const blocks = this.blocks.take();
    const gate = loudness(mean(blocks)) + RELATIVE_GATE_LU;
    const kept = blocks.filter(power => loudness(power) > gate);
    return {
      peakDbfs: finite(dbfs(this.highest)),
      rmsDbfs: finite(dbfs(Math.sqrt(this.squares / Math.max(1, this.count * this.channels)))),
      loudnessLufs: kept.length > 0 ? loudness(mean(kept)) : null,
      clippedSamples: this.clipped,
    };
  }
}

function loudness(power: number): number {
  return OFFSET_LU + 10 * Math.log10(power);
}
