/** What a short test recording says of a microphone and its room. */
import { dbfs, SILENT_PEAK_DBFS } from './peaks';

export type CheckVerdict = 'good' | 'silent' | 'clipped' | 'noisy';

export interface SoundCheck {
  verdict: CheckVerdict;
  peakDbfs: number;
  /** The level that a tenth of the time is not louder than: the room between the words. */
  noiseDbfs: number;
  clippedSamples: number;
}

/** At this amplitude and above a sample is at its stop. */
const CLIPPED = 0.985;
/** Single samples at the stop are no distortion that is heard. */
const MOST_CLIPPED = 5;
/** A room louder than this between words makes answers hard to hear. */
const NOISY_DBFS = -38;
const FRAME_SEC = 0.04;

/**
 * @param samples mono, −1…1
 * @param sampleRateHz samples a second
 */
export function checkSound(samples: Float32Array, sampleRateHz: number): SoundCheck {
  const size = Math.max(1, Math.round(FRAME_SEC * sampleRateHz));
  const levels: number[] = [];
  let peak = 0;
  let clippedSamples = 0;
  for (let from = 0; from + size <= samples.length; from += size) {
    let squares = 0;
    for (let i = from; i < from + size; i++) {
      const magnitude = Math.abs(samples[i]!);
      if (magnitude > peak) peak = magnitude;
      if (magnitude >= CLIPPED) clippedSamples += 1;
      squares += magnitude * magnitude;
    }
    levels.push(Math.sqrt(squares / size));
  }
  levels.sort((a, b) => a - b);
  const [peakDbfs, noiseDbfs] = [dbfs(peak), dbfs(levels[Math.floor(levels.length / 10)] ?? 0)];
  const verdict =
    peakDbfs < SILENT_PEAK_DBFS
      ? 'silent'
      : clippedSamples > MOST_CLIPPED
        ? 'clipped'
        : noiseDbfs > NOISY_DBFS
          ? 'noisy'
          : 'good';
  return { verdict, peakDbfs, noiseDbfs, clippedSamples };
}
