/** What a short test recording says of a microphone and its room. */
import { dbfs, SILENT_PEAK_DBFS } from './peaks';

export type CheckVerdict = 'good' | 'silent' | 'faint' | 'clipped' | 'noisy';

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
/** A voice or an instrument whose loudest moment is softer than this is drowned by what else is recorded. */
const FAINT_PEAK_DBFS = -32;
const FRAME_SEC = 0.04;

/** What repeats is looked for at this rate: enough for the fundamentals of voices and instruments. */
const TONE_HZ = 12_000;
const HIGHEST_TONE_HZ = 1_200;
const LOWEST_TONE_HZ = 80;
/** A tone comes back to itself after having been something else; noise does not. */
const [UNLIKE, ALIKE] = [0.5, 0.75];

/**
 * Whether a stretch is a tone rather than a room: its normalised autocorrelation falls, and rises again at the period.
 * What it cannot do: tell a room that hums from somebody who does.
 */
function isTone(samples: Float32Array, sampleRateHz: number): boolean {
  const every = Math.max(1, Math.round(sampleRateHz / TONE_HZ));
  const rateHz = sampleRateHz / every;
  const slow = Float64Array.from({ length: Math.floor(samples.length / every) }, (_, i) => {
    let sum = 0;
    for (let k = 0; k < every; k++) sum += samples[i * every + k]!;
    return sum / every;
  });
  const longest = Math.round(rateHz / LOWEST_TONE_HZ);
  let isUnlike = false;
  for (let lag = Math.floor(rateHz / HIGHEST_TONE_HZ / 2); lag <= longest; lag++) {
    let [both, one, other] = [0, 0, 0];
    for (let i = 0; i + lag < slow.length; i++) {
      both += slow[i]! * slow[i + lag]!;
      one += slow[i]! ** 2;
      other += slow[i + lag]! ** 2;
    }
    const alike = both / (Math.sqrt(one * other) || 1);
    if (alike < UNLIKE) isUnlike = true;
    else if (isUnlike && alike >= ALIKE) return true;
  }
  return false;
}

/**
 * Who speaks leaves the room audible between the words. Who plays or sings legato does not: where the softest moments are
 * tones as well, nothing is said of the room.
 * @param samples mono, −1…1
 * @param sampleRateHz samples a second
 */
export function checkSound(samples: Float32Array, sampleRateHz: number): SoundCheck {
  const size = Math.max(1, Math.round(FRAME_SEC * sampleRateHz));
  const frames: { from: number; level: number }[] = [];
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
    frames.push({ from, level: Math.sqrt(squares / size) });
  }
  frames.sort((a, b) => a.level - b.level);
  const [peakDbfs, noiseDbfs] = [dbfs(peak), dbfs(frames[Math.floor(frames.length / 10)]?.level ?? 0)];
  const softest = frames.slice(0, Math.ceil(frames.length / 5));
  const isRoom = () => {
    const tones = softest.filter(f => isTone(samples.subarray(f.from, f.from + size), sampleRateHz));
    return 2 * tones.length < softest.length;
  };
  let verdict: CheckVerdict = 'good';
  if (peakDbfs < SILENT_PEAK_DBFS) verdict = 'silent';
  else if (clippedSamples > MOST_CLIPPED) verdict = 'clipped';
  else if (noiseDbfs > NOISY_DBFS && isRoom()) verdict = 'noisy';
  else if (peakDbfs < FAINT_PEAK_DBFS) verdict = 'faint';
  return { verdict, peakDbfs, noiseDbfs, clippedSamples };
}
