import { spawnSync } from 'node:child_process';
import { expect } from '@playwright/test';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';

/** Envelope values a second. */
const ENVELOPE_HZ = 100;

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

/** Effective level in each hundredth of a second of any sound that ffmpeg reads. */
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

/** The best correlation of `recorded` with any stretch of the endless repetition of `source`. */
function bestFit(recorded: readonly number[], source: readonly number[]): number {
  // Roots, so that what the browser's gain control does to loud and soft weighs less than the rhythm.
  const [a, b] = [recorded.map(Math.sqrt), source.map(Math.sqrt)];
  let best = -1;
  for (let lag = 0; lag < b.length; lag++) {
    const part = a.map((_, i) => b[(lag + i) % b.length]!);
    best = Math.max(best, correlation(a, part));
  }
  return best;
}

/**
 * Holds a stored recording against the sound that was played into the microphone: one unbroken stretch of it,
 * by the shape of the envelope. The same sound backwards must not fit, or the comparison would prove nothing.
 * @param recorded,source files that ffmpeg reads
 * @returns the length of what the recorder's gate let through, in ms
 */
export function expectSameSound(recorded: string, source: string): number {
  const [stored, played] = [withinGate(envelopeOf(recorded)), envelopeOf(source)];
  // The first and last tenth of a second are the recorder's own fade.
  const inner = stored.slice(10, -10);
  const forward = bestFit(inner, played);
  const backward = bestFit(inner, [...played].reverse());
  expect(forward, `envelope of ${recorded} against what was played`).toBeGreaterThan(0.85);
  expect(backward, 'the same backwards').toBeLessThan(0.7);
  return (1000 * stored.length) / ENVELOPE_HZ;
}
