/**
 * Speech and silence on a track of prompts, to turn its silences into gaps. Works on an envelope, so a track of
 * ten minutes takes milliseconds.
 *
 * Method: endpoints by energy with two thresholds that adapt to the recording (after L. R. Rabiner and
 * M. R. Sambur, "An algorithm for determining the endpoints of isolated utterances", Bell System Technical
 * Journal 54, 1975). It cannot tell a voice from other sound: music under speech leaves no silence to find.
 */
import { dbfs, type Peaks } from './peaks';

export interface SoundStretch {
  startMs: number;
  endMs: number;
}

export interface GapOptions {
  /** Silences shorter than this belong to the turn. */
  shortestGapMs: number;
  /** Sounds shorter than this (a click, a cough) are no turn. */
  shortestSoundMs?: number;
  /** Kept before and after each stretch, so that no soft beginning or end is cut. */
  marginMs?: number;
}

/** Quieter than any room that somebody recorded in; stands for digital silence. */
const FLOOR_DBFS = -60;
/** With less than this between loud and quiet there is nothing to tell apart. */
const LEAST_CONTRAST_DB = 9;

/** The level of each step of stored peaks, in dBFS, not below −60. */
export function envelopeOf(peaks: Peaks): Float32Array {
  const out = new Float32Array(peaks.values.length / 2);
  for (let p = 0; p < out.length; p++) {
    const amplitude = Math.max(Math.abs(peaks.values[2 * p]!), Math.abs(peaks.values[2 * p + 1]!)) / 127;
    out[p] = Math.max(FLOOR_DBFS, dbfs(amplitude));
  }
  return out;
}

function percentile(sorted: Float32Array, share: number): number {
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? FLOOR_DBFS;
}

/**
 * Stretches of sound between silences.
 * @param envelope level per step, dBFS
 * @param hopMs    length of a step
 * @returns stretches in order, not touching; empty for a silent track, one for a track without silences
 * @throws RangeError for a hop that is not positive
 */
export function soundStretches(
  envelope: Float32Array,
  hopMs: number,
  { shortestGapMs, shortestSoundMs = 80, marginMs = 120 }: GapOptions,
): SoundStretch[] {
  if (!(hopMs > 0)) throw new RangeError(`A hop of ${hopMs} ms is no step.`);
  const lengthMs = envelope.length * hopMs;
  const sorted = Float32Array.from(envelope).sort();
  const quiet = percentile(sorted, 0.1);
  const loud = percentile(sorted, 0.95);
  if (loud - quiet < LEAST_CONTRAST_DB)
    return loud <= FLOOR_DBFS + LEAST_CONTRAST_DB ? [] : [{ startMs: 0, endMs: lengthMs }];
  // Upper threshold: this is sound. Lower: it belongs to the sound beside it (soft consonants, fading vowels).
  const upper = quiet + 0.5 * (loud - quiet);
  const lower = quiet + 0.25 * (loud - quiet);

  const raw: { from: number; to: number }[] = [];
  for (let i = 0; i < envelope.length; i++) {
    if (envelope[i]! < upper) continue;
    let from = i;
    while (from > 0 && envelope[from - 1]! >= lower) from--;
    let to = i + 1;
    while (to < envelope.length && envelope[to]! >= lower) to++;
    raw.push({ from, to });
    i = to;
  }
  // Pauses inside a sentence are closed before short sounds go: a turn may be made of short words.
  const joined: { from: number; to: number; soundMs: number }[] = [];
  for (const { from, to } of raw) {
    const last = joined.at(-1);
    const soundMs = (to - from) * hopMs;
    if (last && (from - last.to) * hopMs < shortestGapMs) {
      last.to = to;
      last.soundMs += soundMs;
    } else joined.push({ from, to, soundMs });
  }
  return joined
    .filter(s => s.soundMs >= shortestSoundMs)
    .map(s => ({
      startMs: Math.max(0, Math.round(s.from * hopMs - marginMs)),
      endMs: Math.min(lengthMs, Math.round(s.to * hopMs + marginMs)),
    }))
    .map((s, i, all) => {
      // Margins of neighbours may not meet.
      const next = all[i + 1];
      return next && s.endMs > next.startMs ? { ...s, endMs: next.startMs } : s;
    });
}
