/**
 * The level of a sound in some bands, and how much of it rises, each 5 ms: what speech activity, syllables and onsets are
 * found from.
 */
import FFT from 'fft.js';
import { HALF_HZ, type Halves } from './halves';
import { Series } from './series';
import { Tail } from './tail';

export const BAND_HOP_SEC = 0.005;
const HOP = BAND_HOP_SEC * HALF_HZ;
const FFT_SIZE = 256;
/** A Hann window of 25 ms. */
const HALF = 99;
const SIZE = 2 * HALF + 1;
const WINDOW = Float64Array.from({ length: SIZE }, (_, k) => {
  return 0.5 + 0.5 * Math.cos((Math.PI * (k - HALF)) / (HALF + 1));
});
const WINDOW_POWER = WINDOW.reduce((sum, w) => sum + w * w, 0);

/** First bins of narrow bands, about three to an octave, from 60 Hz to 3.9 kHz; bins are 31.25 Hz apart. */
const EDGES = [2, 3, 4, 5, 6, 7, 8, 10, 12, 14, 17, 20, 24, 28, 33, 39, 46, 54, 64, 76, 90, 106, 125];
const NARROW = EDGES.length - 1;
/** First narrow bands of the wide ones: 60, 190, 310, 530, 880, 1440, 2370 Hz; the last wide band is 4 to 8 kHz. */
const WIDE = [0, 4, 7, 10, 13, 16, 19];
export const BANDS = WIDE.length + 1;
/** Samples that are free to differ in a window of a band: what its level varies by in steady noise follows from it. */
export const BAND_FREEDOM = [4, 4, 7, 11, 19, 31, 51, 133] as const;

const FLOOR_DB = -120;
/** A rise is looked at against the level of so many hops before. */
const RISE_HOPS = 3;
/** The first hop whose rise is looked at: what it is compared with must lie wholly in the sound. */
const FIRST_RISE = RISE_HOPS + Math.ceil(HALF / HOP);
/** Softer than this below the loudest so far nothing rises. */
const RISE_RANGE_DB = 50;
const MOST_RISE_DB = 24;
/** The loudest is forgotten by so much a hop: 6 dB in five seconds. */
const FADE_DB = 0.006;

export interface BandLevels {
  /** Hops of 5 ms, the first at 0 s. */
  count: number;
  /** `BANDS` levels for each hop, in half decibels above −120 dBFS. */
  levels: Uint8Array;
  /** Level over all bands at each hop. dBFS */
  total: Float32Array;
  /** Of each hop, what rose since 15 ms before, in dB, as a mean over narrow bands; a partial that only wavers does not. None where it was not asked for. */
  rise: Float32Array;
}

/** Level of a band at a hop. dBFS */
export function bandDb({ levels }: BandLevels, hop: number, band: number): number {
  return dbOf(levels[hop * BANDS + band]!);
}

/** dBFS of a stored level. */
export function dbOf(step: number): number {
  return step / 2 + FLOOR_DB;
}

/** Measures bands of a sound that comes in pieces. */
export class BandMeter {
  private readonly fft = new FFT(FFT_SIZE);
  private readonly input = new Float64Array(2 * FFT_SIZE);
  private readonly spectrum = new Float64Array(2 * FFT_SIZE);
  private readonly lowTail = new Tail();
  private readonly highTail = new Tail();
  private low = this.lowTail.samples;
  private high = this.highTail.samples;
  private base = 0;
  private made = 0;
  private forgotten = 0;
  private levels: Uint8Array;
  private readonly rise: Series<Float32Array> | null;
  private readonly total: Series<Float32Array>;
  /** Narrow levels of the last hops, newest at `made % length`. */
  private readonly recent = Array.from({ length: RISE_HOPS + 1 }, () =>
    new Float64Array(NARROW).fill(FLOOR_DB),
  );
  private readonly powerOfFirst = new Float64Array(NARROW);
  private readonly powerOfSecond = new Float64Array(NARROW);
  private loudest = FLOOR_DB;

  /** @param wanted how many hops there is room for at first, and whether what rises is wanted: of speech it is not */
  constructor({ room = 1_024, rises = true }: { room?: number; rises?: boolean } = {}) {
    this.levels = new Uint8Array(room * BANDS);
    this.total = Series.floats(room);
    this.rise = rises ? Series.floats(room) : null;
  }

  push({ low, high }: Halves): void {
    this.lowTail.add(low);
    this.highTail.add(high);
    this.look();
    while ((this.made + 1) * HOP + HALF < this.base + this.low.length) this.twoHops();
    const gone = Math.max(0, this.made * HOP - HALF - this.base);
    this.lowTail.drop(gone);
    this.highTail.drop(gone);
    this.look();
    this.base += gone;
  }

  /** How many hops are kept. */
  get kept(): number {
    return this.made - this.forgotten;
  }

  /** What is kept so far, where it lies: valid until more comes, or some of it is forgotten. */
  soFar(): BandLevels {
    return this.first(this.kept);
  }

  /** Lets go of the oldest hops: the first that is kept is then hop 0 of what is handed out. @param hops at most `kept` */
  forget(hops: number): void {
    this.levels.copyWithin(0, hops * BANDS, this.kept * BANDS);
    this.total.drop(hops);
    this.rise?.drop(hops);
    this.forgotten += hops;
  }

  private look(): void {
    this.low = this.lowTail.samples;
    this.high = this.highTail.samples;
  }

  finish(): BandLevels {
    const end = this.base + this.low.length;
    const count = end === 0 ? 0 : Math.floor((end - 1) / HOP) + 1;
    while (this.made < count) this.twoHops();
    return this.first(count - this.forgotten);
  }

  private first(count: number): BandLevels {
    return {
      count,
      levels: this.levels.subarray(0, count * BANDS),
      total: this.total.take(count),
      rise: this.rise?.take(count) ?? new Float32Array(0),
    };
  }

  /** Two hops by one transform: the one as real, the other as imaginary part. */
  private twoHops(): void {
    const start = this.made * HOP - HALF - this.base;
    const isInside = start >= 0 && start + HOP + SIZE <= this.low.length;
    const [first, second] = isInside ? this.fill(start) : this.fillAtEnd(start);
    this.fft.transform(this.spectrum, this.input);
    this.powers();
    this.hop(this.powerOfFirst, first / WINDOW_POWER);
    this.hop(this.powerOfSecond, second / WINDOW_POWER);
  }

  /** Windows both hops, in one go through what they share. @returns the power of the upper half in each, times the window's */
  private fill(start: number): [number, number] {
    const { input, low, high } = this;
    let first = 0;
    let second = 0;
    for (let k = 0; k < SIZE; k++) {
      const a = (start + k) | 0;
      const b = (a + HOP) | 0;
      const w = WINDOW[k]!;
      input[2 * k] = low[a]! * w;
      input[2 * k + 1] = low[b]! * w;
      const x = high[a]! * w;
      const y = high[b]! * w;
      first += x * x;
      second += y * y;
    }
    return [first, second];
  }

  /** The same where a window reaches beyond what there is. */
  private fillAtEnd(start: number): [number, number] {
    const { input, low, high } = this;
    input.fill(0);
    const powers: [number, number] = [0, 0];
    for (let part = 0; part < 2; part++) {
      const own = start + part * HOP;
      const to = Math.min(SIZE, low.length - own);
      for (let k = Math.max(0, -own); k < to; k++) {
        input[2 * k + part] = low[own + k]! * WINDOW[k]!;
        const x = high[own + k]! * WINDOW[k]!;
        powers[part]! += x * x;
      }
    }
    return powers;
  }

  /** Powers of the narrow bands of both hops, from the even and odd parts of the one spectrum. */
  private powers(): void {
    const { spectrum, powerOfFirst, powerOfSecond } = this;
    // Two sides of the spectrum, and the halves that two hops were added by.
    const scale = 2 / (4 * FFT_SIZE * WINDOW_POWER);
    for (let b = 0; b < NARROW; b++) {
      let first = 0;
      let second = 0;
      for (let k = EDGES[b]!; k < EDGES[b + 1]!; k++) {
        const m = FFT_SIZE - k;
        const ar = spectrum[2 * k]!;
        const ai = spectrum[2 * k + 1]!;
        const br = spectrum[2 * m]!;
        const bi = spectrum[2 * m + 1]!;
        first += (ar + br) * (ar + br) + (ai - bi) * (ai - bi);
        second += (ai + bi) * (ai + bi) + (ar - br) * (ar - br);
      }
      powerOfFirst[b] = first * scale;
      powerOfSecond[b] = second * scale;
    }
  }

  private hop(powers: Float64Array, high: number): void {
    const { recent } = this;
    const narrow = recent[this.made % recent.length]!;
    const before = recent[(this.made + 1) % recent.length]!;
    const base = this.kept * BANDS;
    if (base + BANDS > this.levels.length) {
      const larger = new Uint8Array(2 * this.levels.length);
      larger.set(this.levels);
      this.levels = larger;
    }
    // Narrow levels are looked at by what rises alone, and a logarithm takes longer than all else here.
    if (this.rise) for (let b = 0; b < NARROW; b++) narrow[b] = decibels(powers[b]!);
    let all = 0;
    for (let wide = 0; wide < WIDE.length; wide++) {
      let together = 0;
      const end = WIDE[wide + 1] ?? NARROW;
      for (let b = WIDE[wide]!; b < end; b++) together += powers[b]!;
      this.levels[base + wide] = 2 * (decibels(together) - FLOOR_DB) + 0.5;
      all += together;
    }
    this.levels[base + WIDE.length] = 2 * (decibels(high) - FLOOR_DB) + 0.5;
    this.total.push(decibels(all + high));
    if (this.rise) {
      // At the beginning there is nothing that it could have risen from.
      const risen = this.risen(narrow, before);
      this.rise.push(this.made < FIRST_RISE ? 0 : risen);
    }
    this.made += 1;
  }

  /**
   * Spectral flux against the highest of neighbouring bands, so that vibrato is no rise (S. Böck and G. Widmer, "Maximum
   * filter vibrato suppression for onset detection", DAFx 2013), in decibels above a floor that follows the loudest.
   */
  private risen(now: Float64Array, before: Float64Array): number {
    for (let b = 0; b < NARROW; b++) if (now[b]! > this.loudest) this.loudest = now[b]!;
    const floor = this.loudest - RISE_RANGE_DB;
    this.loudest -= FADE_DB;
    let sum = 0;
    for (let b = 0; b < NARROW; b++) {
      let held = Math.max(floor, before[b]!);
      if (b > 0 && before[b - 1]! > held) held = before[b - 1]!;
      if (b + 1 < NARROW && before[b + 1]! > held) held = before[b + 1]!;
      const up = now[b]! - held;
      if (up > 0) sum += up < MOST_RISE_DB ? up : MOST_RISE_DB;
    }
    return sum / NARROW;
  }
}

const DB_OF_LOG = 10 / Math.LN10;

function decibels(power: number): number {
  // The natural logarithm takes half as long, and thirty are taken for each hop.
  const db = DB_OF_LOG * Math.log(power + 1e-13);
  return db < FLOOR_DB ? FLOOR_DB : db > 0 ? 0 : db;
}
