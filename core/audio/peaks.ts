/**
 * Waveform peaks: for each stretch of 10 ms the lowest and highest sample, as signed bytes. Small enough to
 * send with a page of lanes (1 kB for five seconds), fine enough to see where speech begins.
 */

export const PEAKS_PER_SECOND = 100;

export interface Peaks {
  perSecond: number;
  durationMs: number;
  /** min, max, min, max … each −127…127. */
  values: number[];
}

export interface Measured {
  peaks: Peaks;
  durationMs: number;
  /** Highest absolute sample; −Infinity for digital silence. dB relative to full scale. */
  peakDbfs: number;
  rmsDbfs: number;
}

/** Amplitude 0…1 as dB relative to full scale. */
export function dbfs(amplitude: number): number {
  return amplitude > 0 ? 20 * Math.log10(amplitude) : -Infinity;
}

/**
 * Takes mono samples piece by piece and keeps only the peaks, so that memory does not grow with the sound.
 * @example
 * const meter = new PeakMeter(16_000); meter.push(samples); meter.finish().durationMs
 */
export class PeakMeter {
  private readonly values: number[] = [];
  private low = Infinity;
  private high = -Infinity;
  private bucket = 0;
  /** Where the bucket that is being filled ends, in samples. */
  private bucketEnd: number;
  private count = 0;
  private squares = 0;
  private highest = 0;

  /** @param sampleRateHz samples a second of what will be pushed */
  constructor(private readonly sampleRateHz: number) {
    if (!(sampleRateHz >= PEAKS_PER_SECOND))
      throw new RangeError(`A sample rate of ${sampleRateHz} Hz has no peaks.`);
    this.bucketEnd = this.endOf(0);
  }

  /** @param samples mono, −1…1 */
  push(samples: Float32Array): void {
    // In numbers of its own: read from the meter for each sample, a class that ends an exam together waited for this loop.
    let { low, high, highest, squares } = this;
    for (let i = 0; i < samples.length;) {
      const end = Math.min(samples.length, i + this.bucketEnd - this.count);
      this.count += end - i;
      for (; i < end; i++) {
        const x = samples[i]!;
        if (x < low) low = x;
        if (x > high) high = x;
        squares += x * x;
      }
      if (this.count < this.bucketEnd) break;
      highest = Math.max(highest, high, -low);
      this.close(low, high);
      low = Infinity;
      high = -Infinity;
    }
    Object.assign(this, { low, high, highest, squares });
  }

  private close(low: number, high: number): void {
    this.values.push(toByte(low), toByte(high));
    this.bucket += 1;
    // Reckoned from the start, so that rates not divisible by 100 do not drift.
    this.bucketEnd = this.endOf(this.bucket);
  }

  private endOf(bucket: number): number {
    return Math.round(((bucket + 1) * this.sampleRateHz) / PEAKS_PER_SECOND);
  }

  finish(): Measured {
    if (this.high >= this.low) {
      this.highest = Math.max(this.highest, this.high, -this.low);
      this.close(this.low, this.high);
      [this.low, this.high] = [Infinity, -Infinity];
    }
    const durationMs = Math.round((this.count / this.sampleRateHz) * 1000);
    return {
      peaks: { perSecond: PEAKS_PER_SECOND, durationMs, values: this.values },
      durationMs,
      peakDbfs: dbfs(this.highest),
      rmsDbfs: dbfs(this.count ? Math.sqrt(this.squares / this.count) : 0),
    };
  }
}

/** Where somebody begins and ends to sound in a recording, in ms. */
export function soundingSpan(peaks: Peaks): { fromMs: number; toMs: number } {
  const quiet = silencesOf(peaks, 150);
  const first = quiet[0];
  const last = quiet.at(-1);
  const fromMs = first && first.fromMs <= 50 ? first.toMs : 0;
  const toMs =
    last && last.toMs >= peaks.durationMs - 150 && last.fromMs > fromMs ? last.fromMs : peaks.durationMs;
  return { fromMs: Math.round(fromMs), toMs: Math.round(toMs) };
}

/** What recordings are brought to when their levels are matched: sounding level in dBFS. */
export const MATCHED_LEVEL_DBFS = -12;
/** More would lift the room instead of the voice. */
const MOST_GAIN_DB = 24;
const LEAST_GAIN_DB = -12;

/**
 * How loud somebody is while they sound: the mean power of the highest sample of each 10 ms, over those that lie within
 * 20 dB of the 95th percentile, so that pauses do not count. Peaks are stored in steps of 1/127: below about −36 dBFS the
 * figure is a few decibels coarse.
 * @returns dBFS; null where nothing sounds
 */
export function soundingLevelDbfs(peaks: Peaks): number | null {
  const heights: number[] = [];
  for (let i = 0; i + 1 < peaks.values.length; i += 2)
    heights.push(Math.max(Math.abs(peaks.values[i]!), Math.abs(peaks.values[i + 1]!)) / 127);
  const ordered = [...heights].sort((a, b) => a - b);
  const loud = ordered[Math.min(ordered.length - 1, Math.floor(ordered.length * 0.95))] ?? 0;
  if (loud === 0) return null;
  const sounding = heights.filter(h => h >= loud / 10);
  const power = sounding.reduce((sum, h) => sum + h * h, 0) / sounding.length;
  return 10 * Math.log10(power);
}

/** What brings a recording to the matched level, held within what helps; 0 where nothing sounds. In dB. */
export function matchingGainDb(levelDbfs: number | null): number {
  if (levelDbfs === null) return 0;
  return Math.max(LEAST_GAIN_DB, Math.min(MOST_GAIN_DB, MATCHED_LEVEL_DBFS - levelDbfs));
}

function toByte(sample: number): number {
  return Math.max(-127, Math.min(127, Math.round(sample * 127)));
}

/**
 * Peaks gathered into `columns` columns for drawing: the extremes under each column, −1…1.
 * @returns pairs [low, high]; an empty column repeats silence.
 */
export function columnsOf(peaks: Peaks, columns: number): [number, number][] {
  const pairs = peaks.values.length / 2;
  const out: [number, number][] = [];
  for (let c = 0; c < columns; c++) {
    const from = Math.floor((c * pairs) / columns);
    const to = Math.max(from + 1, Math.floor(((c + 1) * pairs) / columns));
    let low = 0;
    let high = 0;
    for (let p = from; p < Math.min(to, pairs); p++) {
      low = Math.min(low, peaks.values[2 * p]!);
      high = Math.max(high, peaks.values[2 * p + 1]!);
    }
    out.push([low / 127, high / 127]);
  }
  return out;
}

/** Quieter than this at its loudest, a recording holds nobody's voice: most likely a muted microphone. */
export const SILENT_PEAK_DBFS = -50;

/** The tick of a recorder's gate is the loudest there is in a take in which nobody was heard; an encoder may raise it by this. */
const TICK_PEAK_DBFS = -42;

/** True when nothing in the recording can be heard. @param gated it begins with the tick of a gate, which is nobody's voice */
export function isSilent(peakDbfs: number, gated = false): boolean {
  return peakDbfs < (gated ? TICK_PEAK_DBFS : SILENT_PEAK_DBFS);
}

/**
 * Where the next stretch of speech begins after `fromMs`, by a simple gate on the peaks (10 % of the loudest);
 * good for stepping through a recording, not a measurement.
 * @returns ms, or null when nothing follows
 */
export function nextSpeechMs(peaks: Peaks, fromMs: number, quietMs = 400): number | null {
  const loud = peaks.values.reduce((m, v) => Math.max(m, Math.abs(v)), 0) * 0.1;
  const step = 1000 / peaks.perSecond;
  let quiet = 0;
  for (let p = Math.ceil(fromMs / step); p < peaks.values.length / 2; p++) {
    const high = Math.max(Math.abs(peaks.values[2 * p]!), Math.abs(peaks.values[2 * p + 1]!));
    if (high <= loud) quiet += step;
    else if (quiet >= quietMs) return Math.round(p * step);
    else quiet = 0;
  }
  return null;
}

/** What is left of a silence on both sides when it is skipped, so that no breath and no consonant is cut. */
const KEPT_MS = 150;

/**
 * Silences that a listener may skip, by the same simple gate as `nextSpeechMs`: for listening faster, not a measurement.
 * @param longestMs silences up to this length are left as they are
 * @returns stretches in ms, in order, with a little of each silence left on both sides
 */
export function silencesOf(peaks: Peaks, longestMs = 700): { fromMs: number; toMs: number }[] {
  const loud = peaks.values.reduce((m, v) => Math.max(m, Math.abs(v)), 0) * 0.1;
  if (loud === 0) return [];
  const step = 1000 / peaks.perSecond;
  const last = peaks.values.length / 2;
  const found: { fromMs: number; toMs: number }[] = [];
  let since: number | null = null;
  for (let p = 0; p <= last; p++) {
    const quiet =
      p < last && Math.max(Math.abs(peaks.values[2 * p]!), Math.abs(peaks.values[2 * p + 1]!)) <= loud;
    if (quiet) {
      since ??= p;
      continue;
    }
    if (since !== null && (p - since) * step > longestMs) {
      // At the beginning and the end there is nobody to be cut off on the outer side.
      const fromMs = since === 0 ? 0 : Math.round(since * step + KEPT_MS);
      const toMs = Math.round(p === last ? p * step : p * step - KEPT_MS);
      found.push({ fromMs, toMs });
    }
    since = null;
  }
  return found;
}

/** The peaks of a stretch, for a closer look. @param fromMs,toMs held inside the recording */
export function peaksBetween(peaks: Peaks, fromMs: number, toMs: number): Peaks {
  const last = peaks.values.length / 2;
  const from = Math.max(0, Math.min(last, Math.round((fromMs * peaks.perSecond) / 1000)));
  const to = Math.max(from, Math.min(last, Math.round((toMs * peaks.perSecond) / 1000)));
  return {
    perSecond: peaks.perSecond,
    durationMs: ((to - from) * 1000) / peaks.perSecond,
    values: peaks.values.slice(2 * from, 2 * to),
  };
}

/** The quietest moment of a stretch, in ms: where a cut is heard least. */
export function quietestMs(peaks: Peaks, fromMs: number, toMs: number): number {
  const step = 1000 / peaks.perSecond;
  // Over a tenth of a second, so that the crossing of zero inside a vowel is not taken for silence.
  const span = 5;
  let best = (fromMs + toMs) / 2;
  let least = Infinity;
  for (let p = Math.ceil(fromMs / step); p <= Math.floor(toMs / step); p++) {
    let loud = 0;
    for (let q = p - span; q <= p + span; q++)
      loud += Math.abs(peaks.values[2 * q] ?? 0) + Math.abs(peaks.values[2 * q + 1] ?? 0);
    if (loud < least) [least, best] = [loud, p * step];
  }
  return Math.round(best);
}

/** What is measured of a film in which nothing is heard. */
export function silence(durationMs: number): Measured {
  const meter = new PeakMeter(1_000);
  meter.push(new Float32Array(durationMs));
  return meter.finish();
}
