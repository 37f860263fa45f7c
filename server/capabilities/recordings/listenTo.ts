/**
 * Sounds as they are when they have arrived: length, peaks, gate and holes, by one program for one file or for several. Starting
 * ffmpeg takes as long as decoding half a minute, so a class that ends an exam together is listened to by the handful. Runs in
 * worker threads.
 */
import type { ChildProcess } from 'node:child_process';
import type { Readable } from 'node:stream';
import { GateFinder } from '@ecoute/core/audio/gate';
import { PeakMeter, type Measured } from '@ecoute/core/audio/peaks';
import { HoleFinder, INSPECT_RATE_HZ, WITH_HOLES, type Hole } from './sound';
import { BY_BLOCKS, READ_ONLY, started, USUAL } from './tools';

export interface ToHear {
  path: string;
  /** No more of it is decoded. */
  mostMs: number;
}

export interface Heard extends Measured {
  /** Where the recorder's gate opened; null where there was none. */
  gateMs: number | null;
  /** After this there is digital silence alone. */
  soundsUntilMs: number;
  holes: Hole[];
}

const LISTENING_MS = 60_000;

/** Lines of text that come in any pieces. */
function lines(stream: Readable, onLine: (line: string) => void): void {
  let rest = '';
  stream.setEncoding('utf8');
  stream.on('data', (chunk: string) => {
    const all = (rest + chunk).split('\n');
    rest = all.pop()!;
    for (const line of all) onLine(line);
  });
}

/** What is asked of one file among others, and what comes of it. */
class Listening {
  private readonly meter = new PeakMeter(INSPECT_RATE_HZ);
  private readonly gate = new GateFinder(INSPECT_RATE_HZ);
  private readonly holes = new HoleFinder();
  private secondsATick: number | null = null;
  private hasFilm = false;
  private rest = Buffer.alloc(0);

  constructor(private readonly file: ToHear) {}

  args(index: number, samples: number, packets: number): string[] {
    const most = ['-t', (this.file.mostMs / 1000).toFixed(3)];
    return [
      ...['-map', `${index}:a:0`, '-vn', ...most, '-af', WITH_HOLES],
      ...['-ac', '1', '-ar', String(INSPECT_RATE_HZ), ...BY_BLOCKS, '-f', 'f32le', `pipe:${samples}`],
      // Times and lengths of its packets, as they lie in the file; a picture or film beside is named in the head.
      ...[
        '-map',
        `${index}:a:0`,
        '-map',
        `${index}:v?`,
        ...most,
        '-c',
        'copy',
        ...BY_BLOCKS,
        '-f',
        'framecrc',
      ],
      `pipe:${packets}`,
    ];
  }

  read(samples: Readable, packets: Readable): void {
    samples.on('data', (chunk: Buffer) => {
      const data = this.rest.length > 0 ? Buffer.concat([this.rest, chunk]) : chunk;
      const whole = data.length - (data.length % 4);
      // A copy: Float32Array wants an offset divisible by four, Buffers come from a shared pool.
      const floats = new Float32Array(data.buffer.slice(data.byteOffset, data.byteOffset + whole));
      this.meter.push(floats);
      this.gate.push(floats);
      this.rest = Buffer.from(data.subarray(whole));
    });
    lines(packets, line => this.packet(line));
  }

  /** Of the head `#tb 0: 1/1000` and `#media_type 1: video`; then `stream, dts, pts, duration, size, checksum`. */
  private packet(line: string): void {
    if (line.startsWith('#')) {
      const tick = /^#tb 0: (\d+)\/(\d+)/.exec(line);
      if (tick) this.secondsATick = Number(tick[1]) / Number(tick[2]);
      if (/^#media_type \d+: video/.test(line)) this.hasFilm = true;
      return;
    }
    const [stream, , pts, length] = line.split(',').map(Number);
    // What has no length of its own says nothing of what comes after it.
    if (stream !== 0 || this.secondsATick === null || !(length! > 0)) return;
    this.holes.add(1000 * this.secondsATick * pts!, 1000 * this.secondsATick * length!);
  }

  /** Null where only a closer look can say what this is: a film, nothing that could be decoded, longer than it may be. */
  heard(): Heard | null {
    const measured = this.meter.finish();
    if (this.hasFilm || measured.durationMs === 0 || measured.durationMs >= this.file.mostMs - 50)
      return null;
    return {
      ...measured,
      gateMs: this.gate.openedAtMs,
      soundsUntilMs: this.gate.soundsUntilMs,
      holes: this.holes.found,
    };
  }
}

/**
 * Listens to sounds by one program.
 * @returns for each of them, in their order; null for what must be looked at by itself: also all of them where one of several
 *   ends the program
 * @throws Error ENOENT when ffmpeg is not installed
 */
export async function listenTo(files: readonly ToHear[]): Promise<(Heard | null)[]> {
  const all = files.map(file => new Listening(file));
  // 0 nothing, 1 and 2 for words; then two pipes for each file.
  const [samplesOf, packetsOf] = [(i: number) => 3 + 2 * i, (i: number) => 4 + 2 * i];
  const args = [
    ...READ_ONLY,
    ...files.flatMap(({ path }) => ['-i', path]),
    ...all.flatMap((one, i) => one.args(i, samplesOf(i), packetsOf(i))),
  ];
  const pipes = files.flatMap(() => ['pipe', 'pipe'] as const);
  const child: ChildProcess = started(
    'ffmpeg',
    ['-nostdin', ...args],
    { ...USUAL, timeoutMs: LISTENING_MS },
    ['ignore', 'ignore', 'ignore', ...pipes],
  );
  all.forEach((one, i) =>
    one.read(child.stdio[samplesOf(i)] as Readable, child.stdio[packetsOf(i)] as Readable),
  );
  const code = await new Promise<number | null>((resolve, reject) => {
    child.once('error', reject);
    child.once('close', resolve);
  });
  return all.map(one => (code === 0 ? one.heard() : null));
}
