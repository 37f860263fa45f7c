// Sounds for the benches, made and read by ffmpeg and fluidsynth.
import { spawnSync } from 'node:child_process';

export const RATE = 16_000;
/** What instruments are rendered by; another one may be named. */
export const SOUNDFONT = process.env.ECOUTE_SOUNDFONT ?? '/usr/share/sounds/sf2/TimGM6mb.sf2';

export function ran(program, args, input) {
  const done = spawnSync(program, args, { input, maxBuffer: 1 << 29 });
  if (done.error || done.status !== 0) throw new Error(`${program}: ${done.error ?? done.stderr}`);
  return done.stdout;
}

/** @param filter of ffmpeg @returns mono at 16 kHz */
export function samplesOf(path, filter = 'anull') {
  const how = ['-i', path, '-af', filter, '-ac', '1', '-ar', String(RATE), '-f', 'f32le', '-'];
  const bytes = ran('ffmpeg', ['-nostdin', '-v', 'error', ...how]);
  return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
}

export function write(path, samples) {
  ran(
    'ffmpeg',
    ['-v', 'error', '-y', '-f', 'f32le', '-ar', String(RATE), '-ac', '1', '-i', '-', path],
    Buffer.from(samples.buffer),
  );
}

/** Notes as a MIDI file of one track, a tick being a millisecond. @param channel 9 is percussion, whose notes are instruments */
export function midiFile(notes, program, channel = 0) {
  const events = notes
    .flatMap(n => [
      [n.startSec, 0x90 | channel, n.midi, 90],
      [n.startSec + n.sec, 0x80 | channel, n.midi, 0],
    ])
    .sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const bytes = [0, 0xff, 0x51, 3, 0x07, 0xa1, 0x20, 0, 0xc0 | channel, program];
  const length = n => {
    const out = [n & 127];
    for (let rest = n >> 7; rest > 0; rest >>= 7) out.unshift((rest & 127) | 128);
    return out;
  };
  let last = 0;
  for (const [sec, ...message] of events) {
    const tick = Math.round(1000 * sec);
    bytes.push(...length(tick - last), ...message);
    last = tick;
  }
  bytes.push(...length(1_500), 0xff, 0x2f, 0);
  const head = Buffer.alloc(22);
  head.write('MThd');
  head.writeUInt32BE(6, 4);
  head.writeUInt16BE(1, 10);
  head.writeUInt16BE(500, 12);
  head.write('MTrk', 14);
  head.writeUInt32BE(bytes.length, 18);
  return Buffer.concat([head, Buffer.from(bytes)]);
}

/** Two octaves of a scale, walked at random. */
export function walk(low, count, bpm, random) {
  const scale = [0, 2, 4, 5, 7, 9, 11];
  let at = 0.3;
  let degree = 3;
  return Array.from({ length: count }, () => {
    const beats = [0.5, 0.5, 1, 1, 1, 1.5, 2][Math.floor(random() * 7)];
    degree = Math.max(0, Math.min(12, degree + Math.round((random() - 0.5) * 6)));
    const sec = (beats * 60) / bpm;
    const note = {
      startSec: at,
      sec: 0.9 * sec,
      midi: low + scale[degree % 7] + 12 * Math.floor(degree / 7),
    };
    at += sec;
    return note;
  });
}
