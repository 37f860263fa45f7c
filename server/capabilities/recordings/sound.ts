/** Sounds and films: what ffmpeg and ffprobe are asked, in one place. Runs in worker threads. */
import { GateFinder } from '@ecoute/core/audio/gate';
import { PeakMeter, type Measured } from '@ecoute/core/audio/peaks';
import { BY_BLOCKS, asked, READ_ONLY, tool, type Bounds } from './tools';

/** Decoding rate for peaks and duration: fine enough for both, quick for long takes. */
export const INSPECT_RATE_HZ = 16_000;
/** Shorter than this there is nothing to listen to. */
export const SHORTEST_SOUND_MS = 200;
/** Of a file without a limit of its own, no more than this is decoded. */
export const LONGEST_DECODED_MS = 4 * 3_600_000;
/** What came after the limit is not decoded: it could be a file that unpacks to days of sound. */
export const BEYOND_LIMIT_MS = 5_000;
const DECODING_MS = 5 * 60_000;
const COPYING_MS = 30 * 60_000;
/** The copy that plays, by the length that it may have: sound at 128 kbit/s, films at some 4 Mbit/s, and their index. */
const COPY_BYTES_PER_MS = { sound: 32, film: 1_024 };
const LEAST_COPY_BYTES = 4 * 1024 * 1024;

/** Containers that may hold a voice; decided by content. Playlists and other texts never reach ffmpeg. */
export const CONTAINERS = new Set([
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

/** Which streams a file holds. A cover picture in a sound file is no film. */
export async function streamsOf(path: string): Promise<{ hasSound: boolean; hasFilm: boolean }> {
  const which = ['-show_entries', 'stream=codec_type:stream_disposition=attached_pic', '-of', 'json', path];
  const { code, out } = await asked('ffprobe', [...READ_ONLY, ...which]);
  if (code !== 0) return { hasSound: false, hasFilm: false };
  const { streams = [] } = JSON.parse(out) as {
    streams?: { codec_type?: string; disposition?: { attached_pic?: number } }[];
  };
  return {
    hasSound: streams.some(s => s.codec_type === 'audio'),
    hasFilm: streams.some(s => s.codec_type === 'video' && !s.disposition?.attached_pic),
  };
}

/** Length of a film without sound, in ms; null when nothing can be read. */
export async function filmMs(path: string): Promise<number | null> {
  // Packets are counted: films from a browser's recorder do not know their own length.
  const which = ['-select_streams', 'v:0', '-show_entries', 'packet=pts_time', '-of', 'csv=p=0', path];
  const { out } = await asked('ffprobe', [...READ_ONLY, ...which], 120_000);
  const times = out
    .split(/[\s,]+/)
    .map(Number)
    .filter(Number.isFinite);
  return times.length > 1
    ? Math.round(1000 * (Math.max(...times.slice(-100)) - Math.min(...times.slice(0, 100))))
    : null;
}

/** How long a file says that it is, in ms; null where it does not. */
async function saidMs(path: string): Promise<number | null> {
  const which = ['-show_entries', 'format=duration', '-of', 'csv=p=0', path];
  const seconds = Number((await asked('ffprobe', [...READ_ONLY, ...which])).out.trim());
  return Number.isFinite(seconds) && seconds > 0 ? Math.min(Math.round(seconds * 1000), 0xffffffff) : null;
}

/** A hole shorter than this is a packet that came late. In ms. */
const LEAST_HOLE_MS = 100;
const MOST_HOLES = 50;
/** Where a file's own times leave a hole, there is silence: what is said at 0:08 is heard, drawn and measured at 0:08. */
export const WITH_HOLES = 'aresample=async=1';

export interface Hole {
  fromMs: number;
  toMs: number;
}

/** Stretches for which a file has times and no sound: a microphone that was away for a moment. */
export class HoleFinder {
  readonly found: Hole[] = [];
  private endMs: number | null = null;

  /** The next packet. @param atMs where it begins; @param lengthMs of its sound */
  add(atMs: number, lengthMs: number): void {
    if (!Number.isFinite(atMs) || !Number.isFinite(lengthMs)) return;
    const { endMs } = this;
    if (endMs !== null && atMs - endMs >= LEAST_HOLE_MS && this.found.length < MOST_HOLES)
      this.found.push({ fromMs: Math.round(endMs), toMs: Math.round(atMs) });
    this.endMs = Math.max(endMs ?? 0, atMs + lengthMs);
  }
}

/** Holes in the first sound of a file. */
export async function holesIn(path: string): Promise<Hole[]> {
  const which = [
    '-select_streams',
    'a:0',
    '-show_entries',
    'packet=pts_time,duration_time',
    '-of',
    'csv=p=0',
  ];
  const { code, out } = await asked('ffprobe', [...READ_ONLY, ...which, path], 120_000);
  if (code !== 0) return [];
  const holes = new HoleFinder();
  for (const line of out.split('\n')) {
    const [atSec, lengthSec] = line.split(',').map(Number);
    holes.add(1000 * atSec!, 1000 * lengthSec!);
  }
  return holes.found;
}

/**
 * Decodes a sound as mono samples of `INSPECT_RATE_HZ`.
 * @param mostMs no more is decoded; of a longer file the length is the one that it says itself
 * @returns null when nothing could be decoded
 */
export async function measure(
  path: string,
  mostMs: number,
): Promise<(Measured & { gateMs: number | null; soundsUntilMs: number }) | null> {
  const meter = new PeakMeter(INSPECT_RATE_HZ);
  const gate = new GateFinder(INSPECT_RATE_HZ);
  let rest = Buffer.alloc(0);
  const args = [
    ...READ_ONLY,
    '-i',
    path,
    '-map',
    '0:a:0',
    '-t',
    (mostMs / 1000).toFixed(3),
    '-af',
    WITH_HOLES,
    '-ac',
    '1',
    '-ar',
    String(INSPECT_RATE_HZ),
    ...BY_BLOCKS,
    '-f',
    'f32le',
    '-',
  ];
  const take = (chunk: Buffer) => {
    const data = rest.length ? Buffer.concat([rest, chunk]) : chunk;
    const whole = data.length - (data.length % 4);
    // A copy: Float32Array wants an offset divisible by four, Buffers come from a shared pool.
    const samples = new Float32Array(data.buffer.slice(data.byteOffset, data.byteOffset + whole));
    meter.push(samples);
    gate.push(samples);
    rest = Buffer.from(data.subarray(whole));
  };
  const { code } = await tool('ffmpeg', args, take, { timeoutMs: DECODING_MS });
  const measured = meter.finish();
  // A file cut short ends with an error but holds sound: what is there counts.
  if (measured.durationMs === 0 && code !== 0) return null;
  const { durationMs } = measured;
  const wholeMs = durationMs >= mostMs - 50 ? Math.max(durationMs, (await saidMs(path)) ?? 0) : durationMs;
  // Of what was not decoded nobody knows that it is silent.
  const soundsUntilMs = wholeMs > durationMs ? wholeMs : gate.soundsUntilMs;
  return { ...measured, durationMs: wholeMs, gateMs: gate.openedAtMs, soundsUntilMs };
}

/**
 * The copy that plays in every browser: AAC (what has one channel keeps one), and H.264 for films no larger than 720 lines; index
 * first. The encoder's quick way, in half the time; at 128 kbit/s its noise lies under that of its slow way at 112.
 */
const SOUND = [
  '-af',
  `${WITH_HOLES},aformat=channel_layouts=stereo|mono`,
  '-ar',
  '48000',
  '-c:a',
  'aac',
  '-aac_coder',
  'fast',
  '-b:a',
  '128k',
];
const FILM = [
  '-vf',
  "scale='trunc(min(1280,iw)/2)*2':'trunc(min(720,ih)/2)*2':force_original_aspect_ratio=decrease:force_divisible_by=2",
  '-c:v',
  'libx264',
  '-preset',
  'veryfast',
  '-crf',
  '24',
  '-pix_fmt',
  'yuv420p',
];

/** How the first sound of a file is written as that copy, for a program that does other things beside it. */
export const asPlayable = (output: string, mostMs: number): string[] => [
  ...['-map', '0:a:0', '-vn', '-t', (mostMs / 1000).toFixed(3), ...SOUND],
  ...['-movflags', '+faststart', '-f', 'mp4', output],
];

/**
 * Makes the copy that plays in every browser and can be sought in.
 * @param mostMs no more of it is copied
 * @throws Error with ffmpeg's words when it fails
 */
export async function makePlayable(
  input: string,
  output: string,
  withFilm: boolean,
  mostMs: number,
): Promise<void> {
  const streams = withFilm ? ['-map', '0:v:0', '-map', '0:a:0?', ...FILM] : ['-map', '0:a:0', '-vn'];
  const length = ['-t', (mostMs / 1000).toFixed(3)];
  const form = ['-movflags', '+faststart', '-f', 'mp4', output];
  const mostBytes = LEAST_COPY_BYTES + mostMs * (withFilm ? COPY_BYTES_PER_MS.film : COPY_BYTES_PER_MS.sound);
  await ffmpeg(['-y', '-i', input, ...length, ...streams, ...SOUND, ...form], {
    timeoutMs: COPYING_MS,
    mostBytes: Math.round(mostBytes),
    inBackground: true,
  });
}

/**
 * Cuts an excerpt to the sample: sound without loss (FLAC), a film encoded anew (Matroska).
 * @throws Error with ffmpeg's words when it fails
 */
export async function cut(
  input: string,
  output: string,
  fromMs: number,
  toMs: number,
  withFilm: boolean,
): Promise<void> {
  const [from, length] = [fromMs / 1000, (toMs - fromMs) / 1000].map(s => s.toFixed(3));
  // Sought after opening: slower, and exact in every format.
  const piece = ['-ss', from!, '-t', length!];
  await ffmpeg(
    withFilm
      ? [
          '-y',
          '-i',
          input,
          ...piece,
          '-map',
          '0:v:0',
          '-map',
          '0:a:0?',
          ...FILM,
          ...SOUND,
          '-f',
          'matroska',
          output,
        ]
      : [
          '-y',
          '-i',
          input,
          ...piece,
          '-map',
          '0:a:0',
          '-vn',
          '-af',
          WITH_HOLES,
          '-c:a',
          'flac',
          '-f',
          'flac',
          output,
        ],
  );
}

/** Of a sound that others are joined with: all alike, so that they follow each other without a seam. */
const PART = { rate: 48_000, channels: 1 };

/**
 * Writes a sound without loss (FLAC, 48 kHz, one channel) with quiet after it.
 * @returns its length in ms, to the sample
 * @throws Error with ffmpeg's words when it fails
 */
export async function asPart(input: string, output: string, gapMs: number): Promise<number> {
  await ffmpeg(
    [
      '-y',
      '-i',
      input,
      ...['-map', '0:a:0', '-vn', '-ar', String(PART.rate), '-ac', String(PART.channels)],
      ...['-af', `${WITH_HOLES},apad=pad_dur=${(gapMs / 1000).toFixed(3)}`],
      ...['-c:a', 'flac', '-f', 'flac', output],
    ],
    { timeoutMs: DECODING_MS, inBackground: true },
  );
  const { out, code } = await asked('ffprobe', [
    ...READ_ONLY,
    ...['-select_streams', 'a:0', '-show_entries', 'stream=duration_ts', '-of', 'csv=p=0', output],
  ]);
  const samples = Number.parseInt(out, 10);
  if (code !== 0 || !(samples > 0)) throw new Error('A part has no length.');
  return (samples / PART.rate) * 1000;
}

/**
 * Joins parts to one sound with chapters, as M4A (AAC) and as Matroska (the same stream, copied).
 * @param list names them, one after the other, as ffmpeg's concat reads it; @param metadata chapters as ffmetadata
 * @throws Error with ffmpeg's words when it fails
 */
export async function joinParts({
  list,
  metadata,
  output,
  matroska,
  lengthMs,
}: {
  list: string;
  metadata: string;
  output: string;
  matroska: string;
  lengthMs: number;
}): Promise<void> {
  const bounds = {
    // Encoding a voice takes a hundredth of its length; a busy machine gets ten times that.
    timeoutMs: DECODING_MS + Math.round(lengthMs / 10),
    mostBytes: Math.round(LEAST_COPY_BYTES + lengthMs * COPY_BYTES_PER_MS.sound),
    inBackground: true,
  };
  const chapters = ['-map_metadata', '1', '-map_chapters', '1'];
  await ffmpeg(
    [
      '-y',
      ...['-f', 'concat', '-safe', '0', '-i', list, '-f', 'ffmetadata', '-i', metadata],
      ...['-map', '0:a:0', ...chapters, ...SOUND, '-movflags', '+faststart', '-f', 'mp4', output],
    ],
    bounds,
  );
  await ffmpeg(
    [
      '-y',
      ...['-i', output, '-f', 'ffmetadata', '-i', metadata],
      ...['-map', '0:a:0', ...chapters, '-c:a', 'copy', '-f', 'matroska', matroska],
    ],
    bounds,
  );
}

async function ffmpeg(args: string[], bounds: Partial<Bounds> = { timeoutMs: DECODING_MS }): Promise<void> {
  const { code, stderr } = await tool('ffmpeg', [...READ_ONLY, ...args], undefined, bounds);
  if (code !== 0) throw new Error(`ffmpeg ended with ${code}: ${stderr}`);
}
