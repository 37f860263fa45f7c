import { randomUUID } from 'node:crypto';
import { mkdir, rm } from 'node:fs/promises';
import { LIMITS } from '@ecoute/contract/limits';
import type { NewExcerpt, RecordingView } from '@ecoute/contract/recordings';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import { notFound, Trouble } from '../../platform/trouble';
import type { Worker } from '../../worker';
import { original, peaksOf, trimmed } from './files';
import { BEYOND_LIMIT_MS, SHORTEST_SOUND_MS } from './sound';
import * as store from './store';

/** What cutting asks of whoever keeps recordings. */
interface Keeper {
  bringIn: (path: string, recording: Parameters<typeof store.insertRecording>[1]) => Promise<RecordingView>;
  tellSettled: (db: Queryable, id: string) => Promise<void>;
}

/** Stretches of sounds: an excerpt that becomes a file of its own, a take of which only a part is heard. */
export class Cuts {
  /** People whose cut is being made: one after the other, so that nobody's cutting delays others. */
  private readonly cutting = new Set<string>();

  constructor(
    private readonly pool: Pool,
    private readonly files: FileStore,
    private readonly worker: Worker,
    private readonly keeper: Keeper,
  ) {}

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
      return await this.keeper.bringIn(temporary, {
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
    if (this.cutting.has(take.ownerId))
      throw new Trouble('busy', 'Another cut is being made just now. Wait a moment, then cut again.');
    this.cutting.add(take.ownerId);
    // Files of their own, named by the stretch: until the rows say so, what was heard before is heard.
    const cut = { id, trimFromMs: stretch?.fromMs ?? null, trimToMs: stretch?.toMs ?? null };
    const temporary = `${this.files.localPath(trimmed({ ...cut, trimFromMs: cut.trimFromMs ?? 0 }))}.${randomUUID()}`;
    const mostMs = take.limitMs + BEYOND_LIMIT_MS;
    try {
      const input = this.files.localPath(original(id));
      await mkdir(this.files.localPath(`trimmed/${id}`), { recursive: true, mode: 0o700 });
      if (stretch) await this.worker({ kind: 'cut', input, output: temporary, ...stretch, withFilm: false });
      const path = stretch ? temporary : input;
      const { measured } = await this.worker({
        kind: 'inspect',
        path,
        wanted: 'sound',
        beside: null,
        mostMs,
      });
      if (!measured) throw notFound();
      await this.files.put(peaksOf(cut), JSON.stringify(measured.peaks));
      if (stretch) await this.files.adopt(temporary, trimmed(cut));
      await transaction(this.pool, async db => {
        await within(db);
        await store.keepTrim(db, id, stretch && { ...stretch, wholeMs }, {
          durationMs: measured.durationMs,
          peakDbfs: Math.max(-200, measured.peakDbfs),
        });
        await this.keeper.tellSettled(db, id);
      });
    } finally {
      this.cutting.delete(take.ownerId);
      await rm(temporary, { force: true });
    }
  }
}
