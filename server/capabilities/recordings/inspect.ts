/** Looking at a file that has arrived: what it is, by its content alone, and whether it may stand in its place. */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { fileTypeFromFile } from 'file-type';
import { silence, type Measured } from '@ecoute/core/audio/peaks';
import type { MediaDetails, Medium, RecordingProblem, Wanted } from '@ecoute/contract/recordings';
import { readNotation } from './notation';
import { countPages, isPages, isSlides, slidesToPdf } from './pages';
import { isPicture, makePicture, makeStill } from './pictures';
import { CONTAINERS, filmMs, holesIn, measure, SHORTEST_SOUND_MS, streamsOf } from './sound';

export interface Inspection {
  problem: RecordingProblem | null;
  medium: Medium | null;
  mediaType: string | null;
  sizeBytes: number;
  sha256: string;
  /** Of a sound or film; with the place of the recorder's gate, where there is one. */
  measured: (Measured & { gateMs?: number | null }) | null;
  details: MediaDetails | null;
}

/** Where copies made while looking may be written: the one to show, as picture, PDF or plain MusicXML. */
export interface Beside {
  shown: string;
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

const ACCEPTS: Record<Wanted, readonly Medium[]> = {
  sound: ['sound'],
  voice: ['sound', 'video'],
  video: ['video'],
  picture: ['picture'],
  show: ['picture', 'pages', 'notation'],
  file: ['sound', 'video', 'picture', 'pages', 'file'],
};

type Found = Pick<Inspection, 'problem'> & Partial<Inspection>;

/**
 * Looks at a file.
 * @param wanted what may stand in its place
 * @param beside where copies go; nothing is copied without it
 * @param mostMs no more of a sound or film is decoded
 */
export async function inspect(
  path: string,
  wanted: Wanted,
  beside: Beside | null,
  mostMs: number,
): Promise<Inspection> {
  const { sha256, sizeBytes } = await digest(path);
  const bare: Inspection = {
    problem: null,
    medium: null,
    mediaType: null,
    sizeBytes,
    sha256,
    measured: null,
    details: null,
  };
  if (sizeBytes === 0) return { ...bare, problem: 'empty' };
  const type = await fileTypeFromFile(path);
  const mediaType = type?.mime ?? null;
  const found = await inspectAs(path, mediaType, wanted, beside, mostMs);
  return { ...bare, mediaType, ...found };
}

async function inspectAs(
  path: string,
  mime: string | null,
  wanted: Wanted,
  beside: Beside | null,
  mostMs: number,
): Promise<Found> {
  const accepts = ACCEPTS[wanted];
  const may = (medium: Medium) => accepts.includes(medium);
  const other: Found = may('file')
    ? { problem: null, medium: 'file' }
    : { problem: may('sound') ? 'notAudio' : may('video') ? 'noVideo' : 'notWanted' };
  if (mime !== null && CONTAINERS.has(mime)) {
    if (!may('sound') && !may('video')) return other;
    return inspectSound(path, mime, accepts, beside, mostMs);
  }
  if (isPicture(mime)) {
    if (!may('picture')) return other;
    const size = await makePicture(path, beside?.shown ?? '/dev/null');
    return size || !beside ? { problem: null, medium: 'picture', details: size } : { problem: 'damaged' };
  }
  if (isPages(mime)) {
    if (!may('pages')) return other;
    const found = await inspectPages(path, mime!, beside);
    // What cannot be drawn here can still be handed in and opened by whoever has the means.
    return may('file') && found.problem && found.problem !== 'damaged' ? other : found;
  }
  if (may('notation')) {
    const notation = await readNotation(path, mime);
    if (notation && 'xml' in notation) {
      if (beside) await writeFile(beside.shown, notation.xml);
      return { problem: null, medium: 'notation', details: { score: notation.score } };
    }
    if (notation)
      return { problem: notation.problem, details: notation.line ? { line: notation.line } : null };
  }
  return other;
}

/** Containers whose packets have times of their own; in others sound simply follows sound. */
const HAS_TIMES = /webm|matroska|mp4|m4a|quicktime|ogg|3gpp/;

async function inspectSound(
  path: string,
  mime: string,
  accepts: readonly Medium[],
  beside: Beside | null,
  mostMs: number,
): Promise<Found> {
  const { hasSound, hasFilm } = await streamsOf(path);
  const asFilm = hasFilm && accepts.includes('video');
  if (!hasSound && !asFilm) return { problem: mime.startsWith('video/') && hasFilm ? 'noSound' : 'damaged' };
  if (!asFilm && !accepts.includes('sound')) return { problem: 'noVideo' };
  const medium: Medium = asFilm ? 'video' : 'sound';
  if (asFilm && beside) await makeStill(path, beside.shown);
  const measured = hasSound ? await measure(path, mostMs) : null;
  if (!measured || (asFilm && measured.durationMs < SHORTEST_SOUND_MS)) {
    const durationMs = asFilm ? await filmMs(path) : null;
    if (durationMs === null) return { problem: 'damaged' };
    // A film that nothing is heard in.
    return { problem: null, medium, measured: silence(durationMs) };
  }
  if (measured.durationMs < SHORTEST_SOUND_MS) return { problem: 'empty', medium, measured };
  const holes = hasSound && HAS_TIMES.test(mime) ? await holesIn(path) : [];
  return { problem: null, medium, measured, ...(holes.length > 0 && { details: { holes } }) };
}

async function inspectPages(path: string, mime: string, beside: Beside | null): Promise<Found> {
  let pdf = path;
  if (isSlides(mime)) {
    if (!beside) return { problem: null, medium: 'pages' };
    const problem = await slidesToPdf(path, beside.shown);
    if (problem) return { problem };
    pdf = beside.shown;
  }
  const counted = await countPages(pdf);
  if ('problem' in counted) return { problem: counted.problem };
  return { problem: null, medium: 'pages', details: { pages: counted.pages, pagesReady: 0, pageTexts: [] } };
}
