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
import { listenTo, type Heard } from './listenTo';
import { CONTAINERS, filmMs, holesIn, measure, SHORTEST_SOUND_MS, streamsOf } from './sound';

export interface Inspection {
  problem: RecordingProblem | null;
  medium: Medium | null;
  mediaType: string | null;
  sizeBytes: number;
  sha256: string;
  /** Of a sound or film; with the place of the recorder's gate, where there is one. */
  measured: (Measured & { gateMs?: number | null; soundsUntilMs?: number }) | null;
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

export interface ToInspect {
  path: string;
  /** What may stand in its place. */
  wanted: Wanted;
  /** Where copies go; nothing is copied without it. */
  beside: Beside | null;
  /** No more of a sound or film is decoded. */
  mostMs: number;
}

/** What its bytes say, before anything is decoded. */
interface Begun {
  bare: Inspection;
  isSound: boolean;
}

async function begin({ path, wanted }: ToInspect): Promise<Begun> {
  const { sha256, sizeBytes } = await digest(path);
  const mediaType = sizeBytes > 0 ? ((await fileTypeFromFile(path))?.mime ?? null) : null;
  const isSound = mediaType !== null && CONTAINERS.has(mediaType) && ACCEPTS[wanted].includes('sound');
  return {
    bare: { problem: null, medium: null, mediaType, sizeBytes, sha256, measured: null, details: null },
    isSound,
  };
}

async function finish(task: ToInspect, { bare }: Begun, heard: Heard | null): Promise<Inspection> {
  if (bare.sizeBytes === 0) return { ...bare, problem: 'empty' };
  const found = heard ? soundOf(heard, bare.mediaType!) : await inspectAs(task, bare.mediaType);
  return { ...bare, ...found };
}

/** Looks at a file. */
export async function inspect(task: ToInspect): Promise<Inspection> {
  const [inspection] = await inspectMany([task]);
  return inspection!;
}

/**
 * Looks at files; sounds among them are listened to by one program. What that cannot tell is looked at by itself.
 * @throws where one of them throws: look at each by itself then
 */
export async function inspectMany(tasks: readonly ToInspect[]): Promise<Inspection[]> {
  const begun = await Promise.all(tasks.map(begin));
  const sounds = tasks.filter((_, i) => begun[i]!.isSound);
  const heard = sounds.length > 0 ? await listenTo(sounds) : [];
  // One that is no sound after all ends the program for all of them.
  const again = sounds.length > 1 && heard.every(h => h === null);
  const of = new Map<ToInspect, Heard | null>();
  for (const [i, task] of sounds.entries()) of.set(task, again ? (await listenTo([task]))[0]! : heard[i]!);
  const inspections: Inspection[] = [];
  for (const [i, task] of tasks.entries())
    inspections.push(await finish(task, begun[i]!, of.get(task) ?? null));
  return inspections;
}

/** Of what was listened to. */
function soundOf({ holes, ...measured }: Heard, mime: string): Found {
  if (measured.durationMs < SHORTEST_SOUND_MS) return { problem: 'empty', medium: 'sound', measured };
  const details = holes.length > 0 && HAS_TIMES.test(mime) ? { holes } : null;
  return { problem: null, medium: 'sound', measured, details };
}

async function inspectAs({ path, wanted, beside, mostMs }: ToInspect, mime: string | null): Promise<Found> {
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
