/** Sounds as samples, by ffmpeg: as they were recorded, and the same at 16 kHz, mono, in one pass and piece by piece. */
import type { Readable } from 'node:stream';
import { ANALYSIS_HZ } from '@ecoute/core/audio/halves';
import { asPlayable, WITH_HOLES } from '../recordings/sound';
import { BY_BLOCKS, READ_ONLY, started, USUAL } from '../recordings/tools';

/** Seconds of the sound, counted from its first decoded sample. */
export interface Span {
  fromSec: number;
  toSec: number | null;
}

export interface Listener {
  /** Before the first sample. */
  onFormat: (rateHz: number, channels: number) => void;
  /** The samples as they were recorded, one array for each channel. */
  onRaw: (pieces: Float32Array[]) => void;
  /** At 16 kHz, mono. */
  onSamples: (samples: Float32Array) => void;
}

/** An hour of sound takes about half a minute. */
const DECODING_MS = 10 * 60_000;

/** Whole little-endian floats out of bytes that come in any pieces. */
class Floats {
  private rest = Buffer.alloc(0);
  constructor(private readonly group: number) {}

  take(chunk: Buffer): Float32Array {
    const data = this.rest.length > 0 ? Buffer.concat([this.rest, chunk]) : chunk;
    const size = 4 * this.group;
    const whole = data.length - (data.length % size);
    // What was read lies in memory of its own; what was put together may begin anywhere in a shared one.
    const isAligned = data.byteOffset % 4 === 0;
    const [buffer, at] = isAligned
      ? [data.buffer, data.byteOffset]
      : [data.buffer.slice(data.byteOffset, data.byteOffset + whole), 0];
    const samples = new Float32Array(buffer, at, whole / 4);
    this.rest = Buffer.from(data.subarray(whole));
    return samples;
  }
}

interface Format {
  rateHz: number;
  channels: number;
}

/** The header of a WAV stream: its format, and where the samples begin. Null until all of it is there. */
function wavHeader(bytes: Buffer): (Format & { dataAt: number }) | null {
  let at = 12;
  let format: Format | null = null;
  while (at + 8 <= bytes.length) {
    const name = bytes.toString('latin1', at, at + 4);
    if (name === 'data') return format && { ...format, dataAt: at + 8 };
    if (name === 'fmt ' && at + 24 <= bytes.length)
      format = { channels: bytes.readUInt16LE(at + 10), rateHz: bytes.readUInt32LE(at + 12) };
    at += 8 + bytes.readUInt32LE(at + 4);
  }
  return null;
}

/** The copy that plays everywhere, written while the sound is decoded for its measures. */
export interface CopyBeside {
  output: string;
  mostMs: number;
}

/** The program ended before the end, and a copy was wanted besides: one of both may be why. */
export class CopyFailed extends Error {}

/**
 * Decodes the first sound of a file. What a file cut short still holds is decoded.
 * @param copy where the copy that plays is written besides, whole
 * @returns ffmpeg's words when nothing could be decoded; null when something was
 * @throws Error ENOENT when ffmpeg is not installed; CopyFailed
 */
export async function decode(
  path: string,
  { fromSec, toSec }: Span,
  listener: Listener,
  copy: CopyBeside | null = null,
): Promise<string | null> {
  // Sought after opening: exact in every format.
  const span = [
    ...(fromSec > 0 ? ['-ss', String(fromSec)] : []),
    ...(toSec === null ? [] : ['-t', String(toSec - fromSec)]),
  ];
  const sound = ['-map', '0:a:0', '-vn', '-af', WITH_HOLES, ...span];
  const args = [
    ...[...READ_ONLY, '-y', '-i', path],
    ...[...sound, '-c:a', 'pcm_f32le', ...BY_BLOCKS, '-f', 'wav', 'pipe:1'],
    ...[...sound, '-ac', '1', '-ar', String(ANALYSIS_HZ), ...BY_BLOCKS, '-f', 'f32le', 'pipe:3'],
    ...(copy ? asPlayable(copy.output, copy.mostMs) : []),
  ];
  const child = started('ffmpeg', args, { ...USUAL, timeoutMs: DECODING_MS, inBackground: true }, [
    'ignore',
    'pipe',
    'pipe',
    'pipe',
  ]);
  let words = '';
  let samplesSeen = 0;
  child.stderr!.on('data', (chunk: Buffer) => (words = (words + chunk.toString()).slice(-2_000)));

  let header = Buffer.alloc(0);
  let raw: { floats: Floats; channels: number } | null = null;
  child.stdout!.on('data', (chunk: Buffer) => {
    let bytes = chunk;
    if (!raw) {
      header = Buffer.concat([header, chunk]);
      const found = wavHeader(header);
      if (!found) return;
      listener.onFormat(found.rateHz, found.channels);
      raw = { floats: new Floats(found.channels), channels: found.channels };
      bytes = header.subarray(found.dataAt);
    }
    const together = raw.floats.take(bytes);
    if (together.length > 0) listener.onRaw(apart(together, raw.channels));
  });
  const analysis = new Floats(1);
  (child.stdio[3] as Readable).on('data', (chunk: Buffer) => {
    const samples = analysis.take(chunk);
    samplesSeen += samples.length;
    if (samples.length > 0) listener.onSamples(samples);
  });
  const code = await new Promise<number | null>((resolve, reject) => {
    child.once('error', reject);
    child.once('close', resolve);
  });
  if (copy && code !== 0) throw new CopyFailed(words);
  if (samplesSeen > 0) return null;
  // Without the address in memory that ffmpeg puts before its words.
  const [first = ''] = words.trim().split('\n');
  return first.replace(/^\[.*? @ 0x\w+\] /, '') || 'there is no sound in it';
}

function apart(together: Float32Array, channels: number): Float32Array[] {
  if (channels === 1) return [together];
  const length = together.length / channels;
  return Array.from({ length: channels }, (_, c) => {
    const own = new Float32Array(length);
    for (let i = 0; i < length; i++) own[i] = together[i * channels + c]!;
    return own;
  });
}
