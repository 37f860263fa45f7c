/** What ffmpeg and ffprobe are asked, in one place. Runs in worker threads. */
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { fileTypeFromFile } from 'file-type';
import { PeakMeter, type Measured } from '@ecoute/core/audio/peaks';
import type { RecordingProblem } from '@ecoute/contract/recordings';

/** Decoding rate for peaks and duration: fine enough for both, quick for long takes. */
const INSPECT_RATE_HZ = 16_000;
/** Shorter than this there is nothing to listen to. */
const SHORTEST_SOUND_MS = 200;

/** Containers that may hold a voice; decided by content. Playlists and other texts never reach ffmpeg. */
const CONTAINERS = new Set([
  'audio/mpeg',
  'audio/mp4',
  'audio/x-m4a',
  'video/mp4',
  'video/quicktime',
  'audio/wav',
  'audio/vnd.wave',
  'audio/flac',
  'audio/x-flac',
  'audio/ogg',
  'audio/ogg; codecs=opus',
  'audio/opus',
  'video/ogg',
  'application/ogg',
  'video/webm',
  'audio/webm',
  'video/matroska',
  'video/x-matroska',
  'audio/aiff',
  'video/3gpp',
  'video/3gpp2',
  'audio/amr',
  'audio/aac',
]);

export interface Inspection {
  problem: RecordingProblem | null;
  mediaType: string | null;
  sizeBytes: number;
  sha256: string;
  measured: Measured | null;
}

interface Finished {
  code: number | null;
  stderr: string;
}

function tool(name: 'ffmpeg' | 'ffprobe', args: string[], onOut: (chunk: Buffer) => void): Promise<Finished> {
  return new Promise((resolve, reject) => {
    const child = spawn(name, args, { stdio: ['ignore', 'pipe', 'pipe'] });
    let stderr = '';
    child.stdout.on('data', onOut);
    child.stderr.on('data', (chunk: Buffer) => (stderr = (stderr + chunk.toString()).slice(-4_000)));
    child.once('error', reject);
    child.once('close', code => resolve({ code, stderr }));
  });
}

const READ_ONLY = ['-v', 'error', '-protocol_whitelist', 'file'];

async function hasAudio(path: string): Promise<boolean> {
  let out = '';
  const args = [
    ...READ_ONLY,
    '-select_streams',
    'a:0',
    '-show_entries',
    'stream=codec_type',
    '-of',
    'csv=p=0',
    path,
  ];
  const { code } = await tool('ffprobe', args, chunk => (out += chunk.toString()));
  return code === 0 && out.includes('audio');
}

async function digest(path: string): Promise<{ sha256: string; sizeBytes: number }> {
  const hash = createHash('sha256');
  let sizeBytes = 0;
  await pipeline(createReadStream(path), async source => {
    for await (const chunk of source) {
      hash.update(chunk as Buffer);
      sizeBytes += (chunk as Buffer).length;
    }
  });
  return { sha256: hash.digest('hex'), sizeBytes };
}

/**
 * Decodes a sound as mono samples of `INSPECT_RATE_HZ`.
 * @returns null when nothing could be decoded
 */
async function measure(path: string): Promise<Measured | null> {
  const meter = new PeakMeter(INSPECT_RATE_HZ);
  let rest = Buffer.alloc(0);
  const args = [
    ...READ_ONLY,
    '-i',
    path,
    '-map',
    '0:a:0',
    '-ac',
    '1',
    '-ar',
    String(INSPECT_RATE_HZ),
    '-f',
    'f32le',
    '-',
  ];
  const { code } = await tool('ffmpeg', args, chunk => {
    const data = rest.length ? Buffer.concat([rest, chunk]) : chunk;
    const whole = data.length - (data.length % 4);
    // A copy: Float32Array wants an offset divisible by four, Buffers come from a shared pool.
    meter.push(new Float32Array(data.buffer.slice(data.byteOffset, data.byteOffset + whole)));
    rest = Buffer.from(data.subarray(whole));
  });
  const measured = meter.finish();
  // A file cut short ends with an error but holds sound: what is there counts.
  if (measured.durationMs === 0 && code !== 0) return null;
  return measured;
}

/** Looks at a sound that has arrived: what it is, how long it really is, whether it can be heard. */
export async function inspect(path: string): Promise<Inspection> {
  const { sha256, sizeBytes } = await digest(path);
  const result: Inspection = { problem: null, mediaType: null, sizeBytes, sha256, measured: null };
  if (sizeBytes === 0) return { ...result, problem: 'empty' };
  const type = await fileTypeFromFile(path);
  result.mediaType = type?.mime ?? null;
  if (!type || !CONTAINERS.has(type.mime)) return { ...result, problem: 'notAudio' };
  if (!(await hasAudio(path)))
    return { ...result, problem: type.mime.startsWith('video/') ? 'notAudio' : 'damaged' };
  const measured = await measure(path);
  if (!measured) return { ...result, problem: 'damaged' };
  if (measured.durationMs < SHORTEST_SOUND_MS) return { ...result, problem: 'empty', measured };
  return { ...result, measured };
}

/**
 * Makes the copy that plays in every browser and can be sought in: AAC in MP4, index first.
 * @throws Error with ffmpeg's words when it fails
 */
export async function makePlayable(input: string, output: string): Promise<void> {
  const args = [
    ...READ_ONLY,
    '-y',
    '-i',
    input,
    '-map',
    '0:a:0',
    '-vn',
    '-ac',
    '2',
    '-ar',
    '48000',
    '-c:a',
    'aac',
    '-b:a',
    '112k',
    '-movflags',
    '+faststart',
    '-f',
    'mp4',
    output,
  ];
  const { code, stderr } = await tool('ffmpeg', args, () => undefined);
  if (code !== 0) throw new Error(`ffmpeg ended with ${code}: ${stderr}`);
}
