/** What sounds just now: for a tuner that runs along while somebody practises. */
import { dbfs } from './peaks';
import { ANALYSIS_HZ, HalfSplitter } from './halves';
import { PitchTracker } from './pitch';
import { median } from './ranks';
import { resampled } from './resample';
import { midiOfHz } from './notes';

/** So much of the sound is looked at; what is heard now is the end of it. */
export const TUNER_WINDOW_SEC = 0.4;
/** The pitch is the middle one of so many of the last hops. */
const HOPS = 12;
/** Fewer of them with a pitch are no tone. */
const LEAST_HOPS = 5;
const LEAST_DBFS = -55;

export interface HeardNow {
  /** Effective level of the last tenth of a second; −120 in digital silence. */
  dbfs: number;
  /** Null where no tone is heard. */
  hz: number | null;
  /** The nearest tempered note (A4 = 440 Hz), and how far from it, −50…50. */
  midi: number | null;
  cents: number | null;
}

/**
 * @param samples the last of what the microphone gave, at least a fifth of a second
 * @param rateHz their rate
 */
export function heardNow(samples: Float32Array, rateHz: number): HeardNow {
  const last = samples.subarray(Math.max(0, samples.length - Math.round(rateHz / 10)));
  const power = last.reduce((sum, x) => sum + x * x, 0) / Math.max(1, last.length);
  const level = dbfs(Math.sqrt(power));
  const none: HeardNow = { dbfs: Math.max(-120, level), hz: null, midi: null, cents: null };
  if (level < LEAST_DBFS) return none;
  const splitter = new HalfSplitter();
  const tracker = new PitchTracker();
  const recent = samples.subarray(Math.max(0, samples.length - Math.round(rateHz * TUNER_WINDOW_SEC)));
  tracker.push(splitter.push(resampled(recent, rateHz, ANALYSIS_HZ)).low);
  tracker.push(splitter.finish().low);
  const heard = Array.from(tracker.finish().hz.subarray(-HOPS)).filter(hz => hz > 0);
  if (heard.length < LEAST_HOPS) return none;
  const hz = median(heard);
  const exact = midiOfHz(hz);
  const midi = Math.round(exact);
  return { dbfs: level, hz, midi, cents: 100 * (exact - midi) };
}
