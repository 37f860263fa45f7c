/** Sounds whose truth is known because they are made here: for the tests, and for the bench that shows how well things are measured. */
import { CLICK_HZ, CLICK_SEC, FIRST_CLICK_HZ } from '../timing/accompaniment';
import { ANALYSIS_HZ } from '../audio/halves';

// In a test's own context each look at a global is slow, and these are looked at for every sample.
const { cos, exp, imul, log, min, sin, sqrt, PI } = Math;

/** Numbers that look random and are the same each time. */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = imul(state ^ (state >>> 15), 1 | state);
    t = (t + imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

function normalFrom(random: () => number): () => number {
  return () => sqrt(-2 * log(random() + 1e-12)) * cos(2 * PI * random());
}

export interface ToneKind {
  /** Amplitude of partial n, from 1. */
  partial: (n: number) => number;
  /** Stretch of the partials: B of a stiff string. */
  stiffness?: number;
  /** Each partial fades by e^(−decay · t), higher ones faster. */
  decay?: number;
  vibratoCents?: number;
  /** Seconds until it has its full height. */
  attackSec?: number;
}

export const TONES: Record<string, ToneKind> = {
  sine: { partial: n => (n === 1 ? 1 : 0) },
  rich: { partial: n => 1 / n },
  hollow: { partial: n => (n % 2 ? 1 / n : 0.05 / n) },
  weakFundamental: { partial: n => (n === 1 ? 0.1 : 1 / n) },
  stiffString: { partial: n => 1 / n, stiffness: 5e-4, decay: 1 },
  sung: { partial: n => 1 / n ** 1.4, vibratoCents: 30, attackSec: 0.04 },
};

const VIBRATO_HZ = 5.4;

/**
 * A tone at 16 kHz.
 * @returns the samples, peaking near `amplitude`, and its true pitch (of the first partial) by time in seconds
 */
export function tone(hz: number, sec: number, kind: ToneKind, amplitude = 0.2) {
  const { partial, stiffness = 0, decay = 0, vibratoCents = 0, attackSec = 0.004 } = kind;
  const samples = new Float32Array(Math.round(sec * ANALYSIS_HZ));
  const bend = (t: number) => 2 ** ((vibratoCents * sin(2 * PI * VIBRATO_HZ * t)) / 1_200);
  const steps = Float64Array.from(samples, (_, i) => (2 * PI * hz * bend(i / ANALYSIS_HZ)) / ANALYSIS_HZ);
  for (let n = 1; n <= 14; n++) {
    const ratio = n * sqrt(1 + stiffness * n * n);
    const height = partial(n);
    if (height === 0 || ratio * hz > 0.45 * ANALYSIS_HZ) continue;
    let phase = 1.7 * n;
    for (let i = 0; i < samples.length; i++) {
      phase += ratio * steps[i]!;
      const t = i / ANALYSIS_HZ;
      const shape = min(1, t / attackSec, (sec - t) / 0.01) * exp(-decay * n * t);
      samples[i]! += amplitude * height * shape * sin(phase);
    }
  }
  return { samples, truth: (t: number) => hz * bend(t) * sqrt(1 + stiffness) };
}

function powerOf(samples: Float32Array): number {
  return samples.reduce((sum, x) => sum + x * x, 0) / Math.max(1, samples.length);
}

/** The same with white noise so many decibels below its mean power. */
export function withNoise(samples: Float32Array, snrDb: number, seed = 1): Float32Array {
  const normal = normalFrom(randomFrom(seed));
  const height = sqrt(powerOf(samples) / 10 ** (snrDb / 10));
  return samples.map(x => x + height * normal());
}

/**
 * The same over white noise of a level.
 * @param swell of the noise, in parts of its height, up and down in three seconds
 */
export function overNoise(samples: Float32Array, floorDbfs: number, seed = 1, swell = 0): Float32Array {
  const normal = normalFrom(randomFrom(seed));
  const height = 10 ** (floorDbfs / 20);
  const slow = (2 * PI) / (3 * ANALYSIS_HZ);
  return samples.map((x, i) => x + height * (1 + swell * sin(slow * i)) * normal());
}

export interface PlayedNote {
  startSec: number;
  sec: number;
  midi: number;
  cents?: number;
}

/** A melody at 16 kHz, with half a second of silence after it. */
export function melody(notes: readonly PlayedNote[], kind: ToneKind): Float32Array {
  const end = Math.max(...notes.map(n => n.startSec + n.sec)) + 0.5;
  const out = new Float32Array(Math.ceil(end * ANALYSIS_HZ));
  for (const { startSec, sec, midi, cents = 0 } of notes) {
    const { samples } = tone(440 * 2 ** ((midi - 69 + cents / 100) / 12), sec, kind);
    const from = Math.round(startSec * ANALYSIS_HZ);
    for (let i = 0; i < samples.length && from + i < out.length; i++) out[from + i]! += samples[i]!;
  }
  return out;
}

/** Short hisses, as hands make them, at 16 kHz. @param loud amplitude of each where it begins */
export function strokesAt(
  strokes: readonly { sec: number; loud: number }[],
  lengthSec: number,
): Float32Array {
  const normal = normalFrom(randomFrom(strokes.length));
  const out = new Float32Array(Math.round(lengthSec * ANALYSIS_HZ));
  for (const { sec, loud } of strokes) {
    const from = Math.round(sec * ANALYSIS_HZ);
    for (let i = 0; i < 0.08 * ANALYSIS_HZ && from + i < out.length; i++)
      out[from + i]! += loud * normal() * exp(-i / (0.012 * ANALYSIS_HZ));
  }
  return out;
}

/** Three resonances of a vowel, in Hz. */
const VOWELS = [
  [700, 1_150, 2_500],
  [350, 2_000, 2_700],
  [450, 900, 2_400],
  [300, 750, 2_300],
] as const;

/**
 * Something like speech at 16 kHz: vowels of pulses through resonances, with a soft nasal, a hiss or a stop between them, in
 * phrases apart by silence.
 * @param phrases number of syllables in each
 * @returns the samples, and where each phrase lies in seconds
 */
export function babble(phrases: readonly number[], seed: number, pauseSec = 0.6, syllableSec = 0.2) {
  const random = randomFrom(seed);
  const normal = normalFrom(random);
  const out: number[] = new Array<number>(Math.round(0.4 * ANALYSIS_HZ)).fill(0);
  const spans: { startSec: number; endSec: number }[] = [];
  const voice = 100 + 120 * random();
  for (const count of phrases) {
    const startSec = out.length / ANALYSIS_HZ;
    for (let s = 0; s < count; s++) {
      const formants = VOWELS[Math.floor(random() * VOWELS.length)]!;
      const states = formants.map(() => [0, 0]);
      const length = Math.round(syllableSec * (0.8 + 0.4 * random()) * ANALYSIS_HZ);
      const onset = Math.round(0.35 * length);
      const kind = s === 0 ? 0 : Math.floor(random() * 3);
      let phase = 0;
      for (let i = 0; i < length; i++) {
        const inVowel = i >= onset;
        phase += (voice * (1 - (0.15 * s) / count)) / ANALYSIS_HZ;
        let pulse = 0;
        if (phase >= 1) {
          phase -= 1;
          pulse = 1;
        }
        let sound = 0;
        formants.forEach((f, k) => {
          const radius = exp((-PI * 90) / ANALYSIS_HZ);
          const state = states[k]!;
          const y =
            pulse + 2 * radius * cos((2 * PI * f) / ANALYSIS_HZ) * state[0]! - radius ** 2 * state[1]!;
          state[1] = state[0]!;
          state[0] = y;
          sound += y / (k + 1);
        });
        const swell = inVowel ? min(1, (i - onset) / 200, (length - i) / 300) : [0.12, 0.02, 0][kind]!;
        out.push(0.05 * sound * swell + (!inVowel && kind === 1 ? 0.03 * normal() : 0));
      }
    }
    spans.push({ startSec, endSec: out.length / ANALYSIS_HZ });
    for (let i = 0; i < pauseSec * ANALYSIS_HZ; i++) out.push(0);
  }
  return { samples: Float32Array.from(out), spans, syllables: phrases.reduce((a, b) => a + b, 0) };
}

/**
 * Adds the clicks of a metronome, as the accompanist plays them, to a sound at 16 kHz.
 * @param lagMs how much later each lies than it was sent out
 * @param loud  amplitude of its beginning
 */
export function addClicks(
  samples: Float32Array,
  clicks: readonly { atMs: number; isFirst: boolean }[],
  lagMs: (n: number) => number,
  loud: number,
): void {
  clicks.forEach(({ atMs, isFirst }, n) => {
    const hz = isFirst ? FIRST_CLICK_HZ : CLICK_HZ;
    const fall = Math.log(isFirst ? 500 : 300) / CLICK_SEC;
    const from = ((atMs + lagMs(n)) / 1_000) * ANALYSIS_HZ;
    for (let i = Math.ceil(from); i < from + CLICK_SEC * ANALYSIS_HZ && i < samples.length; i++) {
      const t = (i - from) / ANALYSIS_HZ;
      samples[i]! += loud * Math.sin(2 * Math.PI * hz * t) * Math.exp(-fall * t);
    }
  });
}
