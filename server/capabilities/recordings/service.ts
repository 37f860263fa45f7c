import { FileStore as TusFileStore } from '@tus/file-store';
import { Server as TusServer, Upload } from '@tus/server';
import { randomUUID } from 'node:crypto';
import { copyFile, mkdir, rm } from 'node:fs/promises';
import { isSilent } from '@ecoute/core/audio/peaks';
import { withinLimit } from '@ecoute/core/timing/itemRun';
import { clock, inWords } from '@ecoute/core/timing/words';
import { LIMITS } from '@ecoute/contract/limits';
import type { NewExcerpt, RecordingProblem, RecordingView, Wanted } from '@ecoute/contract/recordings';
import { isDuplicate, transaction, type Pool, type Queryable } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import type { JobQueue } from '../../platform/jobs/queue';
import { notFound, Trouble } from '../../platform/trouble';
import type { Inspection } from './look';
import { SHORTEST_SOUND_MS } from './sound';
import * as store from './store';
import type { Tasks } from './worker';

export const original = (id: string) => `originals/${id}`;
export const playable = (id: string) => `playable/${id}.m4a`;
export const peaksOf = (id: string) => `peaks/${id}.json`;
/** What was measured of a take. */
export const measuresOf = (id: string) => `measures/${id}.json`;
/** The copy that is looked at: a picture, the PDF that slides became, or plain MusicXML. */
export const shown = (id: string) => `shown/${id}`;
/** What is left of a take that its student cut. */
export const trimmed = (id: string) => `trimmed/${id}.flac`;
/** Where what is heard of a recording comes from. */
export const heardFrom = (r: Pick<store.RecordingRow, 'id' | 'trimFromMs'>) =>
  r.trimFromMs === null ? original(r.id) : trimmed(r.id);
/** Every file that there may be of a recording. */
export const filesOfRecording = (id: string) => [
  original(id),
  `${original(id)}.json`,
  playable(id),
  trimmed(id),
  peaksOf(id),
  measuresOf(id),
  shown(id),
  `pages/${id}`,
];
export const pageOf = (id: string, number: number) => `pages/${id}/${number}.jpg`;

/** Generous for a browser's voice recording (256 kbit/s), so that only what is plainly too long is stopped early. */
const BYTES_PER_MS = 32;
/** The same for camera and screen (4 Mbit/s). */
const FILM_BYTES_PER_MS = 512;
const MOST_ALLOWANCES = 5_000;
const BROUGHT_LEAST_BYTES = 64 * 1024 * 1024;
const LEAST_ALLOWANCE_BYTES = 4 * 1024 * 1024;

/** Pages drawn before other urgent jobs have their turn. */
const PAGES_A_JOB = 3;

export type Worker = <K extends keyof Tasks>(task: { kind: K } & Tasks[K][0]) => Promise<Tasks[K][1]>;

/** Sounds from their announcement to the playable copy. Prompts and takes go the same way. */
export class Recordings {
  readonly tus: TusServer;
  private readonly tusStore: TusFileStore;

  private readonly settledListeners: ((db: Queryable, id: string) => Promise<void>)[] = [];

  constructor(
    private readonly pool: Pool,
    private readonly files: FileStore,
    private readonly jobs: JobQueue,
    private readonly worker: Worker,
  ) {
    const directory = files.localPath('originals');
    this.tusStore = new TusFileStore({ directory });
    this.tus = new TusServer({
      path: '/api/uploads',
      datastore: this.tusStore,
      relativeLocation: true,
      maxSize: async (_req, id) => this.allowance(id),
      onUploadFinish: async (_req, upload) => {
        await this.arrived(upload.id);
        return {};
      },
    });
    jobs.on('inspectRecording', (payload: { id: string }) => this.inspect(payload.id));
    jobs.on('makePlayable', (payload: { id: string }) => this.makePlayable(payload.id));
    jobs.on('makePages', (payload: { id: string }) => this.makePages(payload.id));
  }

  /** Makes the folders; call once before the first upload. */
  async prepare(): Promise<void> {
    for (const folder of ['originals', 'playable', 'peaks', 'shown', 'pages', 'trimmed'])
      await mkdir(this.files.localPath(folder), { recursive: true });
  }

  /** How much may come, by id: asked for each second of each recording, and never another for the same one. */
  private readonly allowances = new Map<string, number>();

  private async allowance(id: string | null): Promise<number> {
    const known = id ? this.allowances.get(id) : undefined;
    if (known !== undefined) return known;
    const found = await this.allowanceOf(id);
    // What is long over makes room.
    if (this.allowances.size >= MOST_ALLOWANCES) this.allowances.delete(this.allowances.keys().next().value!);
    if (id && found > 0) this.allowances.set(id, found);
    return found;
  }

  private async allowanceOf(id: string | null): Promise<number> {
    const recording = id ? await store.findRecording(this.pool, id) : null;
    if (!recording) return 0;
    if (recording.purpose === 'prompt') return LIMITS.promptBytes;
    if (recording.wanted === 'file' || recording.wanted === 'picture') return LIMITS.fileBytes;
    // A recording brought as a file may be a film, or sound without compression.
    if (recording.fileName !== null)
      return Math.min(LIMITS.fileBytes, BROUGHT_LEAST_BYTES + recording.limitMs * FILM_BYTES_PER_MS);
    if (recording.wanted === 'video')
      return Math.max(LEAST_ALLOWANCE_BYTES, recording.limitMs * FILM_BYTES_PER_MS);
    return Math.max(LEAST_ALLOWANCE_BYTES, recording.limitMs * BYTES_PER_MS);
  }

  /**
   * Makes room for a sound that will come in pieces. Announcing the same id again by the same person is
   * harmless; by anybody else it looks like an id that does not exist.
   */
  async announce(db: Queryable, recording: Parameters<typeof store.insertRecording>[1]): Promise<void> {
    try {
      await store.insertRecording(db, recording);
    } catch (error) {
      if (!isDuplicate(error)) throw error;
      const known = await store.findRecording(db, recording.id);
      if (known?.ownerId !== recording.ownerId) throw notFound();
    }
    if ((await this.files.size(original(recording.id))) === null)
      await this.tusStore.create(new Upload({ id: recording.id, offset: 0 }));
  }

  /**
   * Brings a whole file in at once (demo world, imports) and waits until it was looked at.
   * Pages are made at once as well.
   * @param path a local file, copied
   */
  async bringIn(
    path: string,
    recording: Parameters<typeof store.insertRecording>[1],
  ): Promise<RecordingView> {
    await store.insertRecording(this.pool, recording);
    await copyFile(path, this.files.localPath(original(recording.id)));
    await store.markArrived(this.pool, recording.id);
    await this.inspect(recording.id);
    await this.drawPages(recording.id, Infinity);
    return this.view(recording.id);
  }

  /** Looks at a local file as an arriving one would be looked at, without keeping anything of it. */
  look(path: string, wanted: Wanted): Promise<Inspection> {
    return this.worker({ kind: 'inspect', path, wanted, beside: null });
  }

  /**
   * Makes an excerpt a file of its own; the whole stays as it is.
   * @throws Trouble invalid when the stretch is not inside the sound; notFound
   */
  async excerpt(ownerId: string, sourceId: string, wanted: NewExcerpt): Promise<RecordingView> {
    const source = await store.findRecording(this.pool, sourceId);
    // What a student recorded is never made into something else.
    if (source?.purpose !== 'prompt' || source.state !== 'stored' || source.durationMs === null)
      throw notFound();
    const { recordingId: id, fromMs, toMs } = wanted;
    if (toMs - fromMs < 200 || toMs > source.durationMs + 50)
      throw new Trouble(
        'invalid',
        'The excerpt must lie inside the sound and last at least 0.2 seconds. Move its edges.',
      );
    if (await store.findRecording(this.pool, id)) throw notFound();
    const withFilm = source.medium === 'video';
    const temporary = `${this.files.localPath(original(id))}.cut`;
    await this.worker({
      kind: 'cut',
      input: this.files.localPath(original(sourceId)),
      output: temporary,
      fromMs,
      toMs: Math.min(toMs, source.durationMs),
      withFilm,
    });
    try {
      return await this.bringIn(temporary, {
        id,
        ownerId,
        purpose: 'prompt',
        wanted: 'voice',
        assessmentId: source.assessmentId,
        announcedType: withFilm ? 'video/matroska' : 'audio/flac',
        fileName: null,
        limitMs: LIMITS.promptMs,
      });
    } finally {
      await rm(temporary, { force: true });
    }
  }

  /**
   * Lets only a stretch of a take be heard, or the whole again. What came stays as it came.
   * @param stretch in ms of the whole; null for the whole
   * @param within  called in the transaction that makes it so; what it throws leaves everything as it was
   * @throws Trouble invalid when the stretch is not inside the sound; notFound for what is no stored sound
   */
  async trim(
    id: string,
    stretch: { fromMs: number; toMs: number } | null,
    within: (db: Queryable) => Promise<void>,
  ): Promise<void> {
    const take = await store.findRecording(this.pool, id);
    if (take?.purpose !== 'take' || take.state !== 'stored' || take.medium !== 'sound') throw notFound();
    const wholeMs = take.wholeMs ?? take.durationMs ?? 0;
    if (stretch && (stretch.toMs - stretch.fromMs < SHORTEST_SOUND_MS || stretch.toMs > wholeMs + 50))
      throw new Trouble('invalid', 'What is kept must lie inside the take. Move its edges.');
    const whole = this.files.localPath(original(id));
    const temporary = `${this.files.localPath(trimmed(id))}.${randomUUID()}`;
    try {
      if (stretch)
        await this.worker({ kind: 'cut', input: whole, output: temporary, ...stretch, withFilm: false });
      const { measured } = await this.worker({
        kind: 'inspect',
        path: stretch ? temporary : whole,
        wanted: 'sound',
        beside: null,
      });
      if (!measured) throw notFound();
      await transaction(this.pool, async db => {
        await within(db);
        await store.keepTrim(db, id, stretch && { ...stretch, wholeMs }, {
          durationMs: measured.durationMs,
          peakDbfs: Math.max(-200, measured.peakDbfs),
        });
        // Before anybody can be told of it, its files are there.
        if (stretch) await this.files.adopt(temporary, trimmed(id));
        await this.files.put(peaksOf(id), JSON.stringify(measured.peaks));
        for (const listener of this.settledListeners) await listener(db, id);
        await this.jobs.add(db, 'makePlayable', { id });
      });
    } finally {
      await rm(temporary, { force: true });
    }
  }

  /** Its owner no longer wants it: what is under way with it ends. What was stored stays. */
  async cancel(id: string): Promise<RecordingView> {
    await store.cancel(this.pool, id);
    return this.view(id);
  }

  /** Called when a recording was looked at, within the transaction that says what came of it. */
  onSettled(listener: (db: Queryable, id: string) => Promise<void>): void {
    this.settledListeners.push(listener);
  }

  /** Every byte is here: have it looked at. Safe to call twice. */
  async arrived(id: string): Promise<void> {
    await transaction(this.pool, async db => {
      if (await store.markArrived(db, id))
        await this.jobs.add(db, 'inspectRecording', { id }, { urgent: true });
    });
  }

  /** Job: looks at a sound, measures it, and says whether it stands. */
  private async inspect(id: string): Promise<void> {
    const recording = await store.findRecording(this.pool, id);
    if (!recording || recording.state !== 'checking') return;
    const found = await this.worker({
      kind: 'inspect',
      path: this.files.localPath(original(id)),
      wanted: recording.wanted,
      beside: { shown: this.files.localPath(shown(id)) },
    });
    const { measured } = found;
    let problem: RecordingProblem | null = found.problem;
    const timed = measured && recording.wanted !== 'file';
    // The limit runs from the opening of the recorder's gate.
    const answerMs = (measured?.durationMs ?? 0) - (measured?.gateMs ?? 0);
    if (!problem && timed && !withinLimit(answerMs, recording.limitMs)) problem = 'tooLong';
    const drawn = !problem && found.medium === 'pages';
    // Pages of a teacher's stand once each of them is drawn; a student's file stands at once.
    const waits = drawn && recording.purpose === 'prompt';
    if (measured) await this.files.put(peaksOf(id), JSON.stringify(measured.peaks));
    await transaction(this.pool, async db => {
      await store.settle(db, id, {
        state: problem ? 'refused' : waits ? 'checking' : 'stored',
        problem,
        medium: found.medium,
        details: found.details,
        mediaType: found.mediaType,
        sizeBytes: found.sizeBytes,
        sha256: found.sha256,
        durationMs: measured?.durationMs ?? null,
        peakDbfs: measured ? Math.max(-200, measured.peakDbfs) : null,
        gateMs: measured?.gateMs ?? null,
      });
      for (const listener of this.settledListeners) await listener(db, id);
      if (measured && problem !== 'empty') await this.jobs.add(db, 'makePlayable', { id });
      if (drawn) await this.jobs.add(db, 'makePages', { id }, { urgent: waits });
    });
  }

  /**
   * Job: pictures of the next few pages, then another job for those after them, so that a long deck never makes
   * a student's take wait. Goes on where a killed server stopped; ends when its owner lets go of it.
   */
  private async makePages(id: string): Promise<void> {
    if (await this.drawPages(id, PAGES_A_JOB))
      await this.jobs.add(this.pool, 'makePages', { id }, { urgent: true });
  }

  /** @returns true when there are pages left to draw */
  private async drawPages(id: string, most: number): Promise<boolean> {
    for (let n = 0; n < most; n++) {
      const recording = await store.findRecording(this.pool, id);
      if (recording?.medium !== 'pages' || !['checking', 'stored'].includes(recording.state)) return false;
      const { pages = 0, pagesReady = 0, pageTexts = [] } = recording.details ?? {};
      if (pagesReady >= pages) {
        await store.pagesDone(this.pool, id);
        return false;
      }
      const isPdf = (await this.files.size(shown(id))) === null;
      const text = await this.worker({
        kind: 'makePage',
        pdf: this.files.localPath(isPdf ? original(id) : shown(id)),
        number: pagesReady + 1,
        folder: this.files.localPath(`pages/${id}`),
      });
      await store.saveDetails(this.pool, id, {
        pages,
        pagesReady: pagesReady + 1,
        pageTexts: [...pageTexts, text.slice(0, LIMITS.promptText)],
      });
    }
    return true;
  }

  /** Job: the copy that plays everywhere. */
  private async makePlayable(id: string): Promise<void> {
    const temporary = `${this.files.localPath(playable(id))}.part`;
    const recording = await store.findRecording(this.pool, id);
    if (!recording) return;
    const input = this.files.localPath(heardFrom(recording));
    const withFilm = recording.medium === 'video';
    await this.worker({ kind: 'makePlayable', input, output: temporary, withFilm });
    // Cut meanwhile: another job makes the copy of what is left.
    const now = await store.findRecording(this.pool, id);
    if (now?.trimFromMs !== recording.trimFromMs || now?.trimToMs !== recording.trimToMs) {
      await rm(temporary, { force: true });
      return;
    }
    await this.files.adopt(temporary, playable(id));
    await store.markPlayable(this.pool, id);
  }

  async view(id: string): Promise<RecordingView> {
    const recording = await store.findRecording(this.pool, id);
    if (!recording) throw notFound();
    return viewOf(recording);
  }

  /** Key and type of what to play: the playable copy, or the original until that is there. */
  async playing(id: string): Promise<{ path: string; type: string }> {
    const recording = await store.findRecording(this.pool, id);
    if (!recording || recording.state === 'arriving') throw notFound();
    return recording.playableAt
      ? {
          path: this.files.localPath(playable(id)),
          type: recording.medium === 'video' ? 'video/mp4' : 'audio/mp4',
        }
      : {
          path: this.files.localPath(heardFrom(recording)),
          type:
            recording.trimFromMs === null
              ? (recording.mediaType ?? 'application/octet-stream')
              : 'audio/flac',
        };
  }

  /** What is looked at: a picture, the still of a film, a page, or a score. @throws Trouble notFound where there is none */
  async showing(id: string, page: number | null): Promise<{ path: string; type: string }> {
    const recording = await store.findRecording(this.pool, id);
    const key = page === null ? shown(id) : pageOf(id, page);
    if (!recording?.medium || (await this.files.size(key)) === null) throw notFound();
    if (page !== null) return { path: this.files.localPath(key), type: 'image/jpeg' };
    if (['picture', 'video'].includes(recording.medium))
      return { path: this.files.localPath(key), type: 'image/webp' };
    if (recording.medium === 'notation') return { path: this.files.localPath(key), type: 'application/xml' };
    throw notFound();
  }

  /** The file as it came, to be kept by whoever may have it. */
  async asItCame(id: string): Promise<{ path: string; name: string }> {
    const recording = await store.findRecording(this.pool, id);
    if (!recording || recording.state === 'arriving') throw notFound();
    const name = recording.fileName ?? 'recording';
    return {
      path: this.files.localPath(heardFrom(recording)),
      name: recording.trimFromMs === null ? name : `${name.replace(/\.\w+$/, '')}.flac`,
    };
  }

  /** The stored peaks as JSON text. @throws Trouble notFound until the sound was looked at */
  async peaks(id: string): Promise<string> {
    if ((await this.files.size(peaksOf(id))) === null) throw notFound();
    return (await this.files.read(peaksOf(id))).toString('utf8');
  }
}

/** What the owner of a recording is told of it. */
export function viewOf(recording: store.RecordingRow): RecordingView {
  const { id, state, medium, details, problem, durationMs, sizeBytes, sha256, peakDbfs, fileName, gateMs } =
    recording;
  const { trimFromMs, trimToMs, wholeMs } = recording;
  return {
    id,
    state,
    medium,
    details,
    fileName,
    problem,
    message: problem ? problemInWords(problem, recording) : null,
    durationMs,
    silent: state === 'stored' && medium === 'sound' && peakDbfs !== null && isSilent(peakDbfs),
    gateMs,
    trim:
      trimFromMs === null || trimToMs === null || wholeMs === null
        ? null
        : { fromMs: trimFromMs, toMs: trimToMs, wholeMs },
    sizeBytes,
    sha256,
  };
}

function problemInWords(problem: RecordingProblem, recording: store.RecordingRow): string {
  const { durationMs, limitMs, purpose, wanted, details } = recording;
  const again =
    wanted === 'file'
      ? 'Choose another file.'
      : purpose !== 'prompt'
        ? 'Record again.'
        : wanted === 'voice' || wanted === 'sound'
          ? 'Choose another file, or record the prompt here.'
          : 'Choose another file.';
  switch (problem) {
    case 'empty':
      return wanted === 'file' || wanted === 'show' || wanted === 'picture'
        ? `This file is empty. ${again}`
        : `Nothing was recorded: the sound is empty. ${again}`;
    case 'notAudio':
      return `This is not a sound that we know (mp3, m4a, wav, flac, ogg, webm, aiff, 3gp or the sound of a video work). ${again}`;
    case 'noVideo':
      return `There is no picture in this recording. ${again}`;
    case 'notWanted':
      return wanted === 'picture'
        ? `This is not a picture that we know (PNG, JPEG, WebP, GIF, AVIF or TIFF work). ${again}`
        : `This is neither a picture, a PDF, slides (PPTX) nor notation (MusicXML). ${again}`;
    case 'damaged':
      return wanted === 'sound' || wanted === 'voice'
        ? `The sound is damaged and cannot be played. It is kept as it came. ${again}`
        : `This file is damaged and cannot be opened. It is kept as it came. ${again}`;
    case 'tooLong':
      return `This is ${clock(durationMs ?? 0)} long; the limit is ${inWords(limitMs)}. It is kept, but does not count. ${again}`;
    case 'locked':
      return 'This PDF asks for a password before it opens. Save it without a password, then choose it again.';
    case 'tooManyPages':
      return `This PDF has more than ${LIMITS.pages} pages. Choose one with the pages that are needed.`;
    case 'slidesNeedPdf':
      return 'Slides cannot be turned into pages here. Save them as a PDF, then choose the PDF.';
    case 'brokenNotation':
      return details?.line
        ? `This MusicXML breaks off in line ${details.line}. Export it once more from the notation program.`
        : 'This MusicXML is damaged. Export it once more from the notation program.';
    case 'notNotation':
      return 'This is XML, but not MusicXML. Export the score as MusicXML, then choose that file.';
    case 'timewiseNotation':
      return 'This MusicXML is ordered by measures (score-timewise). Export it ordered by parts (score-partwise).';
    case 'emptyNotation':
      return 'There is no part or no measure in this score. Export the one that has notes.';
    case 'cancelled':
      return 'This was let go before it was ready. Choose the file again if it is wanted after all.';
  }
}
