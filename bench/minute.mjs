// ./ecoute bench minute: a minute of speech measured, and decoded by ffmpeg, in turns, so that both meet the same machine.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { note } from './notes.mjs';
import { nth } from './visitor.mjs';

const TURNS = 15;

function ffmpeg(...args) {
  const done = spawnSync('ffmpeg', ['-nostdin', '-v', 'error', ...args], { maxBuffer: 1 << 28 });
  if (done.status !== 0) throw new Error(`ffmpeg: ${done.stderr}`);
  return done.stdout;
}

function samplesOf(path, rateHz) {
  const raw = ffmpeg('-i', path, '-ac', '1', '-ar', String(rateHz), '-f', 'f32le', '-');
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
}

/** @param core the Measurer of core @returns ms of each turn, of both */
export function minute({ Measurer }, scratch, root) {
  const path = join(scratch, 'minute.ogg');
  const voice = join(root, 'demo/audio/morning-wake-amara.ogg');
  const form = ['-t', '60', '-c:a', 'libopus', '-b:a', '24k', path];
  ffmpeg('-y', '-stream_loop', '200', '-i', voice, ...form);
  const [whole, small] = [samplesOf(path, 48_000), samplesOf(path, 16_000)];
  const measured = [];
  const decoded = [];
  const timed = (to, doing) => {
    const from = performance.now();
    doing();
    to.push(performance.now() - from);
  };
  for (let turn = 0; turn < TURNS; turn++) {
    // In the pieces in which a decoder hands them over: loudness at full rate, all else at 16 kHz.
    timed(measured, () => {
      const measurer = new Measurer(48_000, 1);
      for (let i = 0; i < whole.length; i += 16_384) measurer.pushRaw([whole.subarray(i, i + 16_384)]);
      for (let i = 0; i < small.length; i += 8_192) measurer.push(small.subarray(i, i + 8_192));
      measurer.finish('speech');
    });
    timed(decoded, () => ffmpeg('-i', path, '-f', 'null', '-'));
  }
  return { measured, decoded };
}

export function printMinute({ measured, decoded }) {
  const line = (name, share) => {
    const [own, bare] = [nth(measured, share), nth(decoded, share)];
    console.log(
      `${name.padEnd(36)}${`${own.toFixed(0)} ms`.padStart(10)}   ${(own / bare).toFixed(2)} of ffmpeg’s decoding (${bare.toFixed(0)} ms)`,
    );
  };
  line('a minute of speech, least', 0);
  line('  median', 0.5);
  note('minute', nth(measured, 0.5), nth(decoded, 0.5));
}
