/** A microphone that is listened to before it counts: nothing is recorded, and what is wrong is said while one speaks. */
import { checkSound, type CheckVerdict } from './soundCheck';
import { dbfs, SILENT_PEAK_DBFS } from './peaks';

/** So much of the latest sound is judged. */
const KEPT_FRAMES = 60;
/** So many frames with something in them are a voice or an instrument, not a chair. */
const HEARD_FRAMES = 12;
/** The verdict is formed anew after so many frames: it need not flicker, nor cost much. */
const EVERY = 8;
/** With nothing heard for so long, that is said. */
const SILENT_AFTER_MS = 4_000;
/** Length of a frame; the verdict compares loud frames with soft ones. In seconds. */
export const CHECK_FRAME_SEC = 0.04;

/**
 * Takes frames of the microphone's sound, some twenty a second; they need not touch each other.
 * @example
 * const check = new LiveCheck(48_000, nowMs); check.hear(frame, nowMs) // 'good'
 */
export class LiveCheck {
  private readonly frames: { samples: Float32Array; isHeard: boolean }[] = [];
  private looks = 0;
  private verdict: CheckVerdict | null = null;
  private readonly size: number;

  /** @param sampleRateHz of the frames */
  constructor(
    private readonly sampleRateHz: number,
    private readonly beganAtMs: number,
  ) {
    this.size = Math.round(CHECK_FRAME_SEC * sampleRateHz);
  }

  /**
   * @param samples mono, −1…1, at least as long as a frame
   * @returns null while there is too little to go by
   */
  hear(samples: Float32Array, nowMs: number): CheckVerdict | null {
    const own = samples.slice(0, this.size);
    this.frames.push({ samples: own, isHeard: dbfs(peakOf(own)) >= SILENT_PEAK_DBFS });
    if (this.frames.length > KEPT_FRAMES) this.frames.shift();
    if (++this.looks % EVERY === 0) this.verdict = this.judge(nowMs);
    return this.verdict;
  }

  private judge(nowMs: number): CheckVerdict | null {
    const heard = this.frames.filter(f => f.isHeard).length;
    if (heard === 0) return nowMs - this.beganAtMs >= SILENT_AFTER_MS ? 'silent' : null;
    if (heard < HEARD_FRAMES) return null;
    const all = new Float32Array(this.frames.length * this.size);
    this.frames.forEach((f, i) => all.set(f.samples, i * this.size));
    return checkSound(all, this.sampleRateHz).verdict;
  }
}

function peakOf(samples: Float32Array): number {
  let peak = 0;
  for (const x of samples) peak = Math.max(peak, Math.abs(x));
  return peak;
}

/** Above a telephone's band, and inside it. In Hz. */
const [BAND_FROM, BAND_TO] = [300, 3_000];
const [ABOVE_FROM, ABOVE_TO] = [4_600, 7_500];
/** A voice's sibilants lie less far below its vowels than this, through any microphone that lets them through. */
const LOST_DB = 65;

/**
 * Whether a sound comes in telephone quality, as some wireless headsets send it once their microphone is on.
 * @param highestDb the highest level seen in each bin of a spectrum while somebody spoke, in dB; bins from 0 Hz up to half the rate
 * @param sampleRateHz of the sound that was analysed
 * @returns null where too little was heard to tell
 */
export function isTelephone(highestDb: Float32Array, sampleRateHz: number): boolean | null {
  const highest = (from: number, to: number) => {
    const bin = (hz: number) => Math.round((hz / (sampleRateHz / 2)) * highestDb.length);
    return Math.max(...highestDb.subarray(bin(from), bin(to)));
  };
  // A context that runs at a telephone's own rate has nothing above it to look at.
  if (sampleRateHz / 2 < ABOVE_TO) return true;
  const voice = highest(BAND_FROM, BAND_TO);
  if (!Number.isFinite(voice) || voice < -55) return null;
  return voice - highest(ABOVE_FROM, ABOVE_TO) > LOST_DB;
}
