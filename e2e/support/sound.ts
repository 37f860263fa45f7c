import { spawnSync } from 'node:child_process';
import { expect } from '@playwright/test';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';

/** Envelope values a second. */
const ENVELOPE_HZ = 50;

/**
 * A voice for the microphone: some answers of the demo world one after the other, as 48 kHz WAV. Real speech, for
 * the browser's speech processing takes tones and noise away, and no stretch of it is like another.
 * @param first which answer to begin with, so that each test speaks differently
 */
export function speak(path: string, seconds: number, first = 0): void {
  const folder = join(import.meta.dirname, '../../demo/audio');
  const answers = readdirSync(folder)
    .filter(f => /^(morning|market)-/.test(f))
    .sort();
  const chosen = Array.from({ length: 6 }, (_, i) =>
    join(folder, answers[(first * 7 + i) % answers.length]!),
  );
  const inputs = chosen.flatMap(f => ['-i', f]);
  const joined = `concat=n=${chosen.length}:v=0:a=1,silenceremove=stop_periods=-1:stop_duration=0.6:stop_threshold=-38dB,loudnorm`;
  const made = spawnSync('ffmpeg', [
    ...['-v', 'error', '-y', ...inputs, '-filter_complex', joined],
    ...['-t', String(seconds), '-ac', '1', '-ar', '48000', '-c:a', 'pcm_s16le', path],
  ]);
  if (made.status !== 0) throw new Error(made.stderr.toString());
}

/** Prompts of the demo world on one track, with silences of the given lengths after them. */
export function trackOf(path: string, silencesSec: number[]): void {
  const voices = ['morning-wake', 'morning-breakfast', 'market-order'].map(n =>
    join(import.meta.dirname, `../../demo/audio/prompt-${n}.ogg`),
  );
  const padded = voices.map((_, i) => `[${i}]apad=pad_dur=${silencesSec[i]}[p${i}]`).join(';');
  const made = spawnSync('ffmpeg', [
    ...['-v', 'error', '-y', ...voices.flatMap(v => ['-i', v])],
    ...['-filter_complex', `${padded};[p0][p1][p2]concat=n=3:v=0:a=1`, '-ar', '44100', path],
  ]);
  if (made.status !== 0) throw new Error(made.stderr.toString());
}

/** Nothing at all, as a dead microphone gives it: 48 kHz WAV of zeros. */
export function silence(path: string, seconds: number): void {
  const from = ['-f', 'lavfi', '-i', 'anullsrc=r=48000:cl=mono', '-t', String(seconds)];
  const made = spawnSync('ffmpeg', ['-v', 'error', '-y', ...from, '-c:a', 'pcm_s16le', path]);
  if (made.status !== 0) throw new Error(made.stderr.toString());
}

/** A voice through some filter of ffmpeg's, as 48 kHz WAV. */
function voiceThrough(path: string, seconds: number, filter: string): void {
  const clean = `${path}.clean.wav`;
  speak(clean, seconds, 3);
  const made = spawnSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    clean,
    '-af',
    filter,
    '-c:a',
    'pcm_s16le',
    path,
  ]);
  if (made.status !== 0) throw new Error(made.stderr.toString());
}

/** A voice as from another room: heard, and hardly. */
export function faint(path: string, seconds: number): void {
  voiceThrough(path, seconds, 'volume=0.012');
}

/** A voice far beyond what the microphone can take: its tops are cut flat. */
export function distorted(path: string, seconds: number): void {
  voiceThrough(path, seconds, 'volume=30');
}

/** A room with a machine in it, and nobody who speaks. */
export function noise(path: string, seconds: number): void {
  const from = ['-f', 'lavfi', '-i', 'anoisesrc=r=48000:a=0.05:c=white:seed=7', '-t', String(seconds)];
  const made = spawnSync('ffmpeg', ['-v', 'error', '-y', ...from, '-ac', '1', '-c:a', 'pcm_s16le', path]);
  if (made.status !== 0) throw new Error(made.stderr.toString());
}

/** Effective level in each fiftieth of a second of any sound that ffmpeg reads. */
function envelopeOf(path: string): number[] {
  const decoded = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-ac', '1', '-ar', '16000', '-f', 'f32le', '-'],
    {
      maxBuffer: 1 << 28,
    },
  );
  const bytes = decoded.stdout;
  const samples = new Float32Array(
    bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length - (bytes.length % 4)),
  );
  const step = 16_000 / ENVELOPE_HZ;
  return Array.from({ length: Math.floor(samples.length / step) }, (_, k) => {
    let sum = 0;
    for (let i = 0; i < step; i++) sum += samples[k * step + i]! ** 2;
    return Math.sqrt(sum / step);
  });
}

/** Without the digital silence before the recorder's gate opens and after it shuts. */
function withinGate(envelope: readonly number[]): number[] {
  const loud = (x: number) => x > 1e-5;
  return envelope.slice(envelope.findIndex(loud), envelope.findLastIndex(loud) + 1);
}

function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (v: readonly number[]) => v.reduce((s, x) => s + x, 0) / v.length;
  const [ma, mb] = [mean(a), mean(b)];
  let ab = 0;
  let aa = 0;
  let bb = 0;
  a.forEach((x, i) => {
    ab += (x - ma) * (b[i]! - mb);
    aa += (x - ma) ** 2;
    bb += (b[i]! - mb) ** 2;
  });
  return aa === 0 || bb === 0 ? 0 : ab / Math.sqrt(aa * bb);
}

/**
 * A machine that is stopped for a moment loses it from its microphone: so many moments may be missing from one
 * recording, or silent in it (one in so many seconds, where it is long), each no longer than this.
 */
const LOST_MOMENTS = 2;
const LOST_ONCE_IN_FRAMES = 6 * ENVELOPE_HZ;
const LOST_FRAMES = 0.3 * ENVELOPE_HZ;
/** What it costs to leave the unbroken stretch, so that nobody leaves it for a little. */
const COST_OF_A_LOSS = 15;

const standardised = (v: readonly number[]): Float64Array => {
  const mean = v.reduce((s, x) => s + x, 0) / v.length;
  const spread = Math.sqrt(v.reduce((s, x) => s + (x - mean) ** 2, 0) / v.length) || 1;
  return Float64Array.from(v, x => (x - mean) / spread);
};

interface Fit {
  correlation: number;
  /** Where the recording leaves the stretch, in frames of the recording, and by how many frames of the source. */
  losses: { at: number; frames: number }[];
}

/**
 * Where `recorded` lies in the endless repetition of `source`: the path of least difference in all that leaves its
 * unbroken stretch as seldom as a stopped machine explains (found forwards, read backwards).
 */
function bestFit(recorded: readonly number[], source: readonly number[]): Fit {
  // Roots, so that what the browser's gain control does to loud and soft weighs less than the rhythm.
  const [a, b] = [standardised(recorded.map(Math.sqrt)), standardised(source.map(Math.sqrt))];
  const n = b.length;
  const lost = Math.max(LOST_MOMENTS, Math.round(a.length / LOST_ONCE_IN_FRAMES));
  const places = n * (lost + 1);
  let cost = new Float64Array(places);
  const from = a.reduce<Int32Array[]>((steps, x, i) => {
    const next = new Float64Array(places);
    const came = new Int32Array(places);
    for (let place = 0; place < places; place++) {
      const [losses, lag] = [Math.floor(place / n), place % n];
      let best = cost[place]!;
      came[place] = place;
      if (losses > 0)
        for (let jump = -LOST_FRAMES; jump <= LOST_FRAMES; jump++) {
          const other = (losses - 1) * n + ((lag - jump + n) % n);
          const there = cost[other]! + COST_OF_A_LOSS;
          if (there < best) [best, came[place]] = [there, other];
        }
      next[place] = best + (x - b[(lag + i) % n]!) ** 2;
    }
    cost = next;
    steps.push(came);
    return steps;
  }, []);
  let place = cost.indexOf(Math.min(...cost));
  const fitted = new Array<number>(a.length);
  const losses: Fit['losses'] = [];
  for (let i = a.length - 1; i >= 0; i--) {
    fitted[i] = b[(place + i) % n]!;
    const before = from[i]![place]!;
    if (before !== place) losses.unshift({ at: i, frames: (place % n) - (before % n) });
    place = before;
  }
  return { correlation: correlation([...a], fitted), losses };
}

/**
 * Holds a stored recording against the sound that was played into the microphone: one stretch of it, in order, by
 * the shape of the envelope. The same sound backwards must not fit, or the comparison would prove nothing.
 * @param recorded,source files that ffmpeg reads
 * @returns the length of what the recorder's gate let through, in ms
 */
export function expectSameSound(recorded: string, source: string): number {
  const [stored, played] = [withinGate(envelopeOf(recorded)), envelopeOf(source)];
  // The first and last tenth of a second are the recorder's own fade.
  const inner = stored.slice(0.1 * ENVELOPE_HZ, -0.1 * ENVELOPE_HZ);
  const forward = bestFit(inner, played);
  const backward = bestFit(inner, [...played].reverse());
  const what = `${recorded} against what was played: ${JSON.stringify(forward)}`;
  if (forward.losses.length > 0) process.stdout.write(`  (moments lost: ${what})\n`);
  // A machine that stumbled twice within one take gave 0.84; backwards it must still fit clearly worse.
  expect(forward.correlation, what).toBeGreaterThan(0.8);
  expect(backward.correlation, `backwards: ${JSON.stringify(backward)}`).toBeLessThan(
    forward.correlation - 0.15,
  );
  return (1000 * stored.length) / ENVELOPE_HZ;
}
