import { FileStore as TusFileStore } from '@tus/file-store';
import { Server as TusServer, Upload } from '@tus/server';
import { copyFile, mkdir } from 'node:fs/promises';
import { isSilent } from '@ecoute/core/audio/peaks';
import { withinLimit } from '@ecoute/core/timing/itemRun';
import { clock, inWords } from '@ecoute/core/timing/words';
import type { RecordingProblem, RecordingView } from '@ecoute/contract/recordings';
import { isDuplicate, transaction, type Pool, type Queryable } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import type { JobQueue } from '../../platform/jobs/queue';
import { notFound } from '../../platform/trouble';
import type { Inspection } from './sound';
import * as store from './store';
import type { Task } from './worker';

export const original = (id: string) => `originals/${id}`;
export const playable = (id: string) => `playable/${id}.m4a`;
export const peaksOf = (id: string) => `peaks/${id}.json`;

/** Generous for a browser's voice recording (256 kbit/s), so that only what is plainly too long is stopped early. */
const BYTES_PER_MS = 32;
const LEAST_ALLOWANCE_BYTES = 4 * 1024 * 1024;

export type Worker = (task: Task) => Promise<Inspection | null>;

/** Sounds from their announcement to the playable copy. Prompts and takes go the same way. */
export class Recordings {
  readonly tus: TusServer;
  private readonly tusStore: TusFileStore;

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
  }

  /** Makes the folders; call once before the first upload. */
  async prepare(): Promise<void> {
    for (const folder of ['originals', 'playable', 'peaks'])
      await mkdir(this.files.localPath(folder), { recursive: true });
  }

  private async allowance(id: string | null): Promise<number> {
    const recording = id ? await store.findRecording(this.pool, id) : null;
    if (!recording) return 0;
    if (recording.purpose === 'prompt') return 300 * 1024 * 1024;
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
    return this.view(recording.id);
  }

  /** Looks at a local file as an arriving sound would be looked at, without keeping anything of it. */
  async look(path: string): Promise<Inspection> {
    const found = await this.worker({ kind: 'inspect', path });
    if (!found) throw new Error('The worker did not answer.');
    return found;
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
    const found = await this.look(this.files.localPath(original(id)));
    const { measured } = found;
    let problem: RecordingProblem | null = found.problem;
    if (!problem && measured && !withinLimit(measured.durationMs, recording.limitMs)) problem = 'tooLong';
    if (measured) await this.files.put(peaksOf(id), JSON.stringify(measured.peaks));
    await transaction(this.pool, async db => {
      await store.settle(db, id, {
        state: problem ? 'refused' : 'stored',
        problem,
        mediaType: found.mediaType,
        sizeBytes: found.sizeBytes,
        sha256: found.sha256,
        durationMs: measured?.durationMs ?? null,
        peakDbfs: measured ? Math.max(-200, measured.peakDbfs) : null,
      });
      if (measured && problem !== 'empty') await this.jobs.add(db, 'makePlayable', { id });
    });
  }

  /** Job: the copy that plays everywhere. */
  private async makePlayable(id: string): Promise<void> {
    const temporary = `${this.files.localPath(playable(id))}.part`;
    await this.worker({ kind: 'makePlayable', input: this.files.localPath(original(id)), output: temporary });
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
      ? { path: this.files.localPath(playable(id)), type: 'audio/mp4' }
      : { path: this.files.localPath(original(id)), type: recording.mediaType ?? 'application/octet-stream' };
  }

  /** The stored peaks as JSON text. @throws Trouble notFound until the sound was looked at */
  async peaks(id: string): Promise<string> {
    if ((await this.files.size(peaksOf(id))) === null) throw notFound();
    return (await this.files.read(peaksOf(id))).toString('utf8');
  }
}

/** What the owner of a recording is told of it. */
export function viewOf(recording: store.RecordingRow): RecordingView {
  const { id, state, problem, durationMs, sizeBytes, sha256, limitMs, peakDbfs, purpose } = recording;
  return {
    id,
    state,
    problem,
    message: problem ? problemInWords(problem, durationMs, limitMs, purpose) : null,
    durationMs,
    silent: state === 'stored' && peakDbfs !== null && isSilent(peakDbfs),
    sizeBytes,
    sha256,
  };
}

function problemInWords(
  problem: RecordingProblem,
  durationMs: number | null,
  limitMs: number,
  purpose: 'prompt' | 'take',
): string {
  const again = purpose === 'take' ? 'Record again.' : 'Choose another file, or record the prompt here.';
  switch (problem) {
    case 'empty':
      return `Nothing was recorded: the sound is empty. ${again}`;
    case 'notAudio':
      return `This is not a sound that we know (mp3, m4a, wav, flac, ogg, webm, aiff, 3gp or the sound of a video work). ${again}`;
    case 'damaged':
      return `The sound is damaged and cannot be played. It is kept as it came. ${again}`;
    case 'tooLong':
      return `This is ${clock(durationMs ?? 0)} long; the limit is ${inWords(limitMs)}. It is kept, but does not count. ${again}`;
  }
}
