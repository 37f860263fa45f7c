import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { LIMITS } from '@ecoute/contract/limits';
import { transaction, type Pool } from '../../platform/database';
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
    jobs.on('makePlayable', (payload: { id: string }) => this.makePlayable(payload.id));
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

  /** Job: the copy that plays everywhere. */
  private async makePlayable(id: string): Promise<void> {
    const recording = await store.findRecording(this.pool, id);
    if (recording?.state !== 'stored') return;
    // Two jobs of one take (cut, cut again) never write into one file.
    const temporary = `${this.files.localPath(playable(id))}.${randomUUID()}.part`;
    const input = this.files.localPath(heardFrom(recording));
    const withFilm = recording.medium === 'video';
    const mostMs = recording.wanted === 'file' ? LONGEST_DECODED_MS : recording.limitMs + BEYOND_LIMIT_MS;
    try {
      await this.worker({ kind: 'makePlayable', input, output: temporary, withFilm, mostMs });
      await transaction(this.pool, async db => {
        // Cut meanwhile: another job makes the copy of what is left.
        const now = await store.findRecording(db, id, true);
        if (now?.trimFromMs !== recording.trimFromMs || now?.trimToMs !== recording.trimToMs) return;
        await this.files.adopt(temporary, playable(id));
        await store.markPlayable(db, id);
      });
    } finally {
      await rm(temporary, { force: true });
    }
  }
}
