/**
 * How loud each half tone is, fifty times a second: a spectrum whose bands have the same width on a keyboard (J. C. Brown,
 * "Calculation of a constant Q spectral transform", Journal of the Acoustical Society of America 89(1), 1991), here from three
 * windows: long for low notes, short for high ones. What several notes at once are followed by.
 *
 * A third of a half tone apart are its bands: which third of them the notes lie on is told at the end, so that an instrument
 * may be tuned as it likes.
 */
import FFT from 'fft.js';
import { HALF_HZ } from '../audio/halves';
import { Tail } from '../audio/tail';

export const SEMITONE_HOP_SEC = 0.02;
const HOP = SEMITONE_HOP_SEC * HALF_HZ;
/** MIDI numbers of the lowest half tone, and how many there are: up to 3.5 kHz. */
export const LOWEST_MIDI = 36;
export const SEMITONES = 69;
const THIRDS = 3;
const BANDS = SEMITONES * THIRDS;

/** Windows in samples, and the half tone from which each is used. */
const SIZES = [
  { size: 2_000, fft: 2_048, fromMidi: LOWEST_MIDI },
  { size: 1_000, fft: 1_024, fromMidi: 60 },
  { size: 500, fft: 512, fromMidi: 73 },
] as const;
const REACH = SIZES[0].size / 2;
/** A band is heard so far to both sides, in half tones, but never less than a bin of its spectrum. */
const WIDTH = 0.5;

const FLOOR_DB = -110;
/** Stored in half decibels above the floor. */
const STEPS_PER_DB = 2;

interface Band {
  first: number;
  weights: number[];
}

interface Resolution {
  fft: FFT;
  window: Float64Array;
  input: Float64Array;
  spectrum: Float64Array;
  fromBand: number;
  bands: Band[];
}

function resolutions(): Resolution[] {
  return SIZES.map(({ size, fft, fromMidi }, k) => {
    const window = Float64Array.from({ length: size }, (_, n) => {
      return 0.5 - 0.5 * Math.cos((2 * Math.PI * (n + 0.5)) / size);
    });
    const scale = 2 / window.reduce((sum, w) => sum + w, 0);
    for (let n = 0; n < size; n++) window[n]! *= scale;
    const fromBand = (fromMidi - LOWEST_MIDI) * THIRDS;
    const next = SIZES[k + 1];
    const toBand = next ? (next.fromMidi - LOWEST_MIDI) * THIRDS : BANDS;
    const bands = Array.from({ length: toBand - fromBand }, (_, b): Band => {
      // The first third lies below the half tone, the second on it.
      const midi = LOWEST_MIDI + (fromBand + b - 1) / THIRDS;
      const bin = (440 * 2 ** ((midi - 69) / 12) * fft) / HALF_HZ;
      const half = Math.max(bin * (2 ** (WIDTH / 12) - 1), 1);
      const first = Math.ceil(bin - half);
      const weights: number[] = [];
      for (let i = first; i <= bin + half; i++) weights.push(1 - Math.abs(i - bin) / half);
      return { first, weights };
    });
    return {
      fft: new FFT(fft),
      window,
      input: new Float64Array(fft),
      spectrum: new Float64Array(2 * fft),
      fromBand,
      bands,
    };
  });
}

/** What each half tone sounded like. */
export interface SemitoneLevels {
  /** Frames of `SEMITONE_HOP_SEC`, the middle of the first at 0 s. */
  count: number;
  /** `SEMITONES` levels for each frame, dBFS of a sine. */
  db: (frame: number, semitone: number) => number;
  /** How far the notes lie from 440 Hz tuning, in half tones: −1/3, 0 or 1/3. */
  tuning: number;
}

/**
 * Takes a sound in pieces; keeps about 10 kB for a second of it.
 * @example
 * const meter = new SemitoneMeter(); meter.push(samples); const levels = meter.finish();
 */
export class SemitoneMeter {
  private readonly resolutions = resolutions();
  private readonly tail = new Tail();
  private frames: Uint8Array[] = [];

  constructor() {
    this.tail.add(new Float32Array(REACH));
  }

  /** @param samples mono at 8 kHz */
  push(samples: Float32Array): void {
    this.tail.add(samples);
    while (this.tail.length >= 2 * REACH) {
      this.frames.push(this.frame(this.tail.samples));
      this.tail.drop(HOP);
    }
  }

  private frame(samples: Float32Array): Uint8Array {
    const out = new Uint8Array(BANDS);
    for (const { fft, window, input, spectrum, fromBand, bands } of this.resolutions) {
      const from = REACH - window.length / 2;
      for (let n = 0; n < window.length; n++) input[n] = samples[from + n]! * window[n]!;
      fft.realTransform(spectrum, input);
      bands.forEach(({ first, weights }, b) => {
        let power = 0;
        for (let k = 0; k < weights.length; k++) {
          const at = 2 * (first + k);
          power += weights[k]! * (spectrum[at]! ** 2 + spectrum[at + 1]! ** 2);
        }
        const db = 10 * Math.log10(power + 1e-12);
        out[fromBand + b] = Math.max(0, Math.min(255, STEPS_PER_DB * (db - FLOOR_DB)));
      });
    }
    return out;
  }

  /** After this nothing more may come. */
  finish(): SemitoneLevels {
    this.push(new Float32Array(REACH));
    const { frames } = this;
    const third = tuningOf(frames);
    return {
      count: frames.length,
      db: (frame, semitone) => frames[frame]![semitone * THIRDS + third]! / STEPS_PER_DB + FLOOR_DB,
      tuning: (third - 1) / THIRDS,
    };
  }
}

/** Softer than the loudest band of a frame by so much, a band says nothing of how it is tuned. */
const TUNING_RANGE = 20 * STEPS_PER_DB;

/** The third on which bands that stand above their neighbours lie. */
function tuningOf(frames: readonly Uint8Array[]): number {
  const votes = [0, 0, 0];
  for (const frame of frames) {
    const loudest = frame.reduce((a, b) => Math.max(a, b), 0);
    for (let b = 1; b < BANDS - 1; b++) {
      const here = frame[b]!;
      if (here > 0 && here >= loudest - TUNING_RANGE && here > frame[b - 1]! && here > frame[b + 1]!)
        votes[b % THIRDS]! += here + TUNING_RANGE - loudest;
    }
  }
  // As it is usual, unless another is clearly better.
  return votes.reduce((best, v, k) => (v > 1.2 * votes[best]! ? k : best), 1);
}
