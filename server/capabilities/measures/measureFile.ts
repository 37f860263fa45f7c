/** Measures a file: decoding by ffmpeg, all else in core. Runs in worker threads and from the command line. */
import { stat } from 'node:fs/promises';
import { ANALYSIS_HZ } from '@ecoute/core/audio/halves';
import { Measurer, type HeardAs, type HeardWith, type Measures } from '@ecoute/core/audio/measure';
import { cepstraOf } from '@ecoute/core/words/cepstra';
import { soundsHeard } from '@ecoute/core/words/speechSounds';
import { CopyFailed, decode, type CopyBeside, type Listener, type Span } from './decode';

/** Samples that are held at once are of so much at most. */
export const LONGEST_HELD_SEC = 20 * 60;

/** Nothing could be decoded. */
export class NotDecoded extends Error {}

/**
 * Measures a file, or a stretch of it; times in what is returned count from the beginning of the stretch.
 * @param known what is known besides: a score for music, the gaps of a conversation (in seconds of the stretch), the text that was to be spoken
 * @throws NotDecoded with the reason in a line; RangeError for a stretch that ends before it begins
 */
export async function measureFile(
  path: string,
  as: HeardAs,
  known: HeardWith = {},
  span: Span = { fromSec: 0, toSec: null },
): Promise<Measures> {
  return measured(path, as, known, span, null);
}

/**
 * Measures a file and writes the copy of it that plays, in one pass.
 * @returns whether the copy is whole; where it could not be written, the file is measured without it
 */
export async function measureAndCopy(
  path: string,
  as: HeardAs,
  known: HeardWith,
  span: Span,
  copy: CopyBeside,
): Promise<{ measures: Measures; isCopied: boolean }> {
  try {
    return { measures: await measured(path, as, known, span, copy), isCopied: true };
  } catch (error) {
    if (!(error instanceof CopyFailed)) throw error;
    return { measures: await measured(path, as, known, span, null), isCopied: false };
  }
}

async function measured(
  path: string,
  as: HeardAs,
  known: HeardWith,
  span: Span,
  copy: CopyBeside | null,
): Promise<Measures> {
  if (!(span.fromSec >= 0) || (span.toSec !== null && !(span.toSec > span.fromSec)))
    throw new RangeError('The stretch must begin at 0 or later and end after it begins.');
  const roomSec = await mostSecondsOf(path);
  let measurer: Measurer | null = null;
  // The two forms of the sound come side by side; the format is known with the first of one of them.
  const early: Float32Array[] = [];
  const listener: Listener = {
    onFormat: (rateHz, channels) => {
      measurer = new Measurer(rateHz, channels, {
        as,
        roomSec,
        forText: Boolean(known.text),
        forScore: as === 'music' && Boolean(known.score) && !known.score!.isUnpitched,
      });
      for (const samples of early.splice(0)) measurer.push(samples);
    },
    onRaw: pieces => measurer!.pushRaw(pieces),
    onSamples: samples => {
      if (!measurer) early.push(samples);
      // By itself the engine collects what is old once in an hour of sound. Only the command lets it be asked.
      else if (measurer.push(samples)) globalThis.gc?.();
    },
  };
  const problem = await decode(path, span, listener, copy);
  // Assigned in a callback, which the compiler does not follow.
  const whole = measurer as Measurer | null;
  if (problem !== null || !whole) throw new NotDecoded(problem ?? 'there is no sound in it');
  return whole.finish(as, known);
}

/** Speech that is packed very tightly still takes as much for a second; what is even smaller finds its room as it comes. */
const LEAST_BYTES_PER_SEC = 2_000;
const MOST_ROOM_SEC = 2 * 3_600;
const LEAST_ROOM_SEC = 60;

/** About how long a file can be, by its size alone: room that is not written to takes no memory. */
async function mostSecondsOf(path: string): Promise<number> {
  // A file that is not there is told by whoever decodes it.
  const bytes = await stat(path).then(
    s => s.size,
    () => 0,
  );
  return Math.max(LEAST_ROOM_SEC, Math.min(MOST_ROOM_SEC, Math.ceil(bytes / LEAST_BYTES_PER_SEC)));
}

/** The beginning of a file as samples at `ANALYSIS_HZ`, mono; null where nothing can be decoded. */
export async function samplesOf(path: string, toSec: number): Promise<Float32Array | null> {
  const pieces: Float32Array[] = [];
  const ignore = () => undefined;
  const problem = await decode(
    path,
    { fromSec: 0, toSec },
    { onFormat: ignore, onRaw: ignore, onSamples: samples => pieces.push(samples) },
  );
  if (problem !== null) return null;
  const all = new Float32Array(pieces.reduce((n, p) => n + p.length, 0));
  pieces.reduce((at, p) => (all.set(p, at), at + p.length), 0);
  return all;
}

/** The kinds of speech sound in a stretch of a file, as `soundsHeard` has them; null for music, which is followed by its pitch. */
export async function soundsIn(
  path: string,
  as: HeardAs,
  { fromSec, toSec }: Span,
): Promise<Float32Array | null> {
  if (as === 'music') return null;
  const samples = await samplesOf(path, toSec ?? LONGEST_HELD_SEC);
  return samples && soundsHeard(cepstraOf(samples.subarray(Math.round(fromSec * ANALYSIS_HZ))));
}
