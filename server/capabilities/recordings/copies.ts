import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { LIMITS } from '@ecoute/contract/limits';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import type { JobQueue } from '../../platform/jobs/queue';
import type { Worker } from '../../worker';
import { heardFrom, original, playable, shown } from './files';
import { BEYOND_LIMIT_MS, LONGEST_DECODED_MS } from './sound';
import * as store from './store';

/** Pages drawn before other urgent jobs have their turn. */
const PAGES_A_JOB = 3;

/** What is made of a file that stands: the copy that plays everywhere, pictures of pages. */
export class Copies {
  /** @param pagesGivenUp what becomes of a file whose pages cannot be drawn */
  constructor(
    private readonly pool: Pool,
    private readonly files: FileStore,
    private readonly jobs: JobQueue,
    private readonly worker: Worker,
    pagesGivenUp: (id: string) => Promise<void>,
  ) {
    jobs.on('makePlayable', (payload: { id: string }) => this.makePlayable(payload.id), { slot: 'media' });
    jobs.on('makePages', (payload: { id: string }) => this.makePages(payload.id), {
      givenUp: ({ id }: { id: string }) => pagesGivenUp(id),
    });
  }

  /**
   * Job: pictures of the next few pages, then another job for those after them, so that a long deck never makes
   * a student's take wait. Goes on where a killed server stopped; ends when its owner lets go of it.
   */
  private async makePages(id: string): Promise<void> {
    if (await this.drawPages(id, PAGES_A_JOB))
      await this.jobs.add(this.pool, 'makePages', { id }, { urgent: true, subjectId: id });
  }

  /** Draws so many pages at once. @returns true when there are pages left to draw */
  async drawPages(id: string, most: number): Promise<boolean> {
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

  /** Asks for the copy of a sound or film that stands and has none. @param always also where it is being made already: of another stretch */
  async ask(db: Queryable, id: string, always: boolean): Promise<void> {
    const recording = await store.findRecording(db, id);
    if (recording?.state !== 'stored' || recording.playableAt !== null) return;
    if (recording.medium !== 'sound' && recording.medium !== 'video') return;
    const of = { subjectId: id, ownerId: recording.ownerId };
    if (always) await this.jobs.add(db, 'makePlayable', { id }, of);
    else await this.jobs.ensure(db, 'makePlayable', { id }, of);
  }

  /** A place to write the copy to that no other writer has, and how much of the recording goes into it. */
  placeFor(recording: store.RecordingRow): { output: string; mostMs: number } {
    const mostMs = recording.wanted === 'file' ? LONGEST_DECODED_MS : recording.limitMs + BEYOND_LIMIT_MS;
    return { output: `${this.files.localPath(playable(recording.id))}.${randomUUID()}.part`, mostMs };
  }

  /** Puts a copy into its place, unless the recording was cut since: then another job makes the copy of what is left. */
  async keep({ id, trimFromMs, trimToMs }: store.RecordingRow, output: string): Promise<void> {
    await transaction(this.pool, async db => {
      const now = await store.findRecording(db, id, true);
      if (now?.state !== 'stored' || now.trimFromMs !== trimFromMs || now.trimToMs !== trimToMs) return;
      await this.files.adopt(output, playable(id));
      await store.markPlayable(db, id);
    });
  }

  /** Job: the copy that plays everywhere. Safe to do twice, and beside anything else. */
  async makePlayable(id: string): Promise<void> {
    const recording = await store.findRecording(this.pool, id);
    if (recording?.state !== 'stored') return;
    // Made meanwhile, by whoever measured it.
    if (recording.playableAt !== null && (await this.files.size(playable(id))) !== null) return;
    const { output, mostMs } = this.placeFor(recording);
    const input = this.files.localPath(heardFrom(recording));
    const withFilm = recording.medium === 'video';
    try {
      await this.worker({ kind: 'makePlayable', input, output, withFilm, mostMs });
      await this.keep(recording, output);
    } finally {
      await rm(output, { force: true });
    }
  }
}
