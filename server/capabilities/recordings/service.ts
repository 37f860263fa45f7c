import { MemoryLocker, Server as TusServer, Upload } from '@tus/server';
import { randomUUID } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import type { RequestHandler } from 'express';
import { endedAs, isWhole, mayComeBack, serverStep } from '@ecoute/core/takes/fate';
import { answeredMs, withinLimit } from '@ecoute/core/timing/itemRun';
import type { RecordingProblem, RecordingView, Wanted } from '@ecoute/contract/recordings';
import { insertChange } from '../../platform/changes/store';
import type { Quotas } from '../../platform/config';
import { isDuplicate, transaction, type Pool, type Queryable } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import { growing, UNTIL_DONE, type JobQueue } from '../../platform/jobs/queue';
import { notFound } from '../../platform/trouble';
import type { SessionCookies } from '../../platform/rights/cookies';
import type { RememberedRights } from '../../platform/rights/remembered';
import type { Worker } from '../../worker';
import { filesOfRecording, original, peaksOf, shown, trimmed } from './files';
import type { Inspection } from './inspect';
import { LARGE_BYTES, Looks } from './looks';
import { Room } from './room';
import { Allowances } from './allowances';
import { Copies } from './copies';
import { Cuts } from './cuts';
import { QuickPiece, takesNoMore } from './quickPiece';
import { Served } from './served';
import { SyncedStore } from './syncedStore';
import { BEYOND_LIMIT_MS, LONGEST_DECODED_MS } from './sound';
import * as store from './store';
import { serverSideOf, viewOf, type Came } from './view';

/** @returns true where it has the copy that plays made as well */
type SettledListener = (db: Queryable, id: string) => Promise<boolean | void>;

/** Programs that look at recordings at the same time. */
const LOOKS_AT_ONCE = Math.max(2, availableParallelism());

/** Sounds from their announcement until they stand. Prompts and takes go the same way (core/takes/fate). */
export class Recordings {
  readonly tus: TusServer;
  private readonly locker = new MemoryLocker();
  private pieces: QuickPiece | null = null;
  private readonly tusStore: SyncedStore;

  private readonly settledListeners: SettledListener[] = [
    // Whoever sends it waits for this word, and does not ask again and again.
    async (db, id) => {
      const { ownerId } = (await store.findRecording(db, id))!;
      await insertChange(db, { kind: 'recording', subjectId: id, classId: null, personId: ownerId });
    },
  ];
  /** Whether the recorder let a recording through its gate; only then is a silence at its beginning the gate's. */
  private isGated: (db: Queryable, id: string) => Promise<boolean> = async () => false;
  readonly served: Served;
  readonly cuts: Cuts;
  readonly copies: Copies;
  private readonly looks: Looks;
  private readonly allowances: Allowances;
  private readonly room: Room;

  /**
   * @param worker does the heavy part in another thread
   * @param quotas how much a person, a release and a guests' door may keep
   */
  constructor(
    private readonly pool: Pool,
    private readonly files: FileStore,
    private readonly jobs: JobQueue,
    private readonly worker: Worker,
    quotas: Quotas,
  ) {
    this.room = new Room(pool, quotas);
    this.allowances = new Allowances(pool);
    this.served = new Served(pool, files);
    this.copies = new Copies(pool, files, jobs, worker, id => this.settleUnseen(id));
    this.cuts = new Cuts(pool, files, worker, {
      bringIn: (path, recording) => this.bringIn(path, recording),
      tellSettled: (db, id) => this.tellSettled(db, id),
    });
    const directory = files.localPath('originals');
    this.tusStore = new SyncedStore({ directory }, id => files.sync(original(id)));
    this.tus = new TusServer({
      path: '/api/uploads',
      datastore: this.tusStore,
      locker: this.locker,
      relativeLocation: true,
      maxSize: async (_req, id) => this.allowances.of(id),
      // Nobody else reads these answers: no other origin is named to them.
      allowedOrigins: [],
      // The connection went in the middle of the last piece, and its page cannot know whether the length was heard: said again,
      // it is heard once. The protocol's server would refuse the rest for good.
      onIncomingRequest: async ({ headers }, id) => {
        const length = headers.get('upload-length');
        if (length === null) return;
        this.pieces?.lengthIsTold(id);
        if ((await this.came(id))?.length === Number(length)) headers.delete('upload-length');
      },
      onUploadFinish: async (_req, upload) => {
        await this.arrived(upload.id);
        return {};
      },
    });
    this.looks = new Looks(worker, LOOKS_AT_ONCE);
    jobs.on('inspectRecording', ({ id }: { id: string }, failed) => this.inspect(id, failed), {
      slot: 'inspect',
      waitMs: failures => growing(failures, 60_000),
      // A file that no try could look into is damaged: it stays as it came, and its student may record again.
      givenUp: ({ id }: { id: string }) => this.settleUnseen(id),
    });
    jobs.on('removeFiles', () => this.removeFiles(), UNTIL_DONE);
    jobs.onSweep(() => this.sweep());
  }

  /** Takes the pieces of recordings that are under way before anything else is looked at. */
  quickPieces(rights: RememberedRights, cookies: SessionCookies): RequestHandler {
    this.pieces = new QuickPiece(this.pool, this.files, rights, cookies, this.allowances, this.locker, {
      tell: (id, length) => {
        this.pieces!.lengthIsTold(id);
        return this.tusStore.declareUploadLength(id, length);
      },
      came: (id, ownerId) => this.arrived(id, ownerId),
    });
    return this.pieces.take;
  }

  /** Settles a recording while no piece is put to it. */
  private withoutPieces<T>(id: string, settle: () => Promise<T>): Promise<T> {
    return this.pieces ? this.pieces.holdOff(id, settle) : settle();
  }

  /** Makes the folders; call once before the first upload. */
  async prepare(): Promise<void> {
    for (const folder of ['originals', 'playable', 'peaks', 'shown', 'pages', 'trimmed'])
      await mkdir(this.files.localPath(folder), { recursive: true, mode: 0o700 });
    await this.moveOldCuts();
  }

  /** Cuts of an earlier Ecoute lay under the id alone. */
  private async moveOldCuts(): Promise<void> {
    for (const take of await store.cutRecordings(this.pool)) {
      const old = `trimmed/${take.id}.flac`;
      if ((await this.files.size(old)) === null) continue;
      await this.files.put(peaksOf(take), await this.files.read(`peaks/${take.id}.json`));
      await this.files.adopt(this.files.localPath(old), trimmed(take));
    }
  }

  /** Says which recordings went through the recorder's gate. */
  expectGate(isGated: (db: Queryable, id: string) => Promise<boolean>): void {
    this.isGated = isGated;
  }

  /**
   * Looks for whatever has no way on: bytes that are all here and were not noticed, what nobody brings any more, what
   * waits to be looked at without a job for it, copies that are missing, files whose rows are gone.
   */
  private async sweep(): Promise<void> {
    for (const recording of await store.recordingsArriving(this.pool)) {
      const step = serverStep(serverSideOf(recording, await this.came(recording.id)));
      if (step === 'lookAtIt') await this.arrived(recording.id);
      else if (step === 'endIt') await this.endAsItCame(recording.id);
    }
    for (const { id, ownerId } of await store.waitingWithoutJob(this.pool))
      await this.jobs.ensure(this.pool, 'inspectRecording', { id }, { urgent: true, subjectId: id, ownerId });
    for (const { id, ownerId } of await store.pagesWithoutJob(this.pool))
      await this.jobs.ensure(this.pool, 'makePages', { id }, { urgent: true, subjectId: id, ownerId });
    for (const { id, ownerId } of await store.withoutPlayable(this.pool))
      await this.jobs.ensure(this.pool, 'makePlayable', { id }, { subjectId: id, ownerId });
    if (await store.filesWait(this.pool)) await this.jobs.ensure(this.pool, 'removeFiles', {});
  }

  /** What waits without a job that would go on with it, in words; the next sweep makes them, or `mend` at once. */
  async stranded(): Promise<{ stranded: string[]; mend: () => Promise<void> }> {
    const waiting = await store.waitingWithoutJob(this.pool);
    const pages = await store.pagesWithoutJob(this.pool);
    return {
      stranded: [
        ...waiting.map(({ id }) => `Recording ${id} waits to be looked at, and no job does it.`),
        ...pages.map(({ id }) => `The pages of ${id} wait to be drawn, and no job does it.`),
      ],
      mend: () => this.sweep(),
    };
  }

  /** What has come of a recording whose bytes are under way; null where nothing of it is on the disk. */
  private async came(id: string): Promise<Came | null> {
    try {
      const { offset, size = null } = await this.tusStore.getUpload(id);
      const lastAt = offset > 0 ? await this.files.changedAt(original(id)) : null;
      return { bytes: offset, length: size, lastAt };
    } catch {
      return null;
    }
  }

  /** What has come of those of some recordings whose bytes are still under way. */
  async cameOf(recordings: readonly store.RecordingRow[]): Promise<Map<string, Came>> {
    const found = new Map<string, Came>();
    for (const { id, state } of recordings) {
      const came = state === 'arriving' ? await this.came(id) : null;
      if (came) found.set(id, came);
    }
    return found;
  }

  /**
   * Ends a recording whose rest nobody brings: what came is looked at; where nothing came, it is lost. Whoever comes with
   * its bytes before the hand-in may go on with it all the same (`comeBack`).
   * @returns what became of it; null when there was nothing to end
   */
  async endAsItCame(id: string): Promise<'lookedAt' | 'lost' | null> {
    return this.withoutPieces(id, async () => {
      const came = await this.came(id);
      const becomes = endedAs({ bytes: came?.bytes ?? 0 });
      return transaction(this.pool, async db => {
        if (!(await store.endEarly(db, id, becomes))) return null;
        if (becomes === 'lookedAt') await this.askToInspect(db, id);
        else await this.tellSettled(db, id);
        return becomes;
      });
    });
  }

  /**
   * A device has come (back) with the bytes of a recording that was ended without it: it is open again.
   * @returns false when it may not come back any more
   */
  async comeBack(db: Queryable, id: string): Promise<boolean> {
    const recording = await store.findRecording(db, id);
    if (!recording || recording.trimFromMs !== null) return false;
    if (!mayComeBack(serverSideOf(recording, null))) return false;
    if (recording.state !== 'arriving') await store.openAgain(db, id);
    return true;
  }

  /** @throws Trouble gone for bytes of what was let go of, or stands already */
  async refuseWhenSettled(id: string): Promise<void> {
    if ((await store.stateOf(this.pool, id)) !== 'arriving') throw takesNoMore();
  }

  /**
   * Makes room for a sound that will come in pieces. Announcing the same id again by the same person is
   * harmless; by anybody else it looks like an id that does not exist.
   * @param releaseId the release that it is recorded for, whose room is limited as well
   * @throws Trouble overQuota; notFound for an id that is taken
   */
  async announce(
    db: Queryable,
    recording: Parameters<typeof store.insertRecording>[1],
    releaseId: string | null = null,
  ): Promise<void> {
    await this.room.refuseWhenFull(db, recording.ownerId, releaseId);
    try {
      await store.insertRecording(db, recording);
    } catch (error) {
      if (!isDuplicate(error)) throw error;
      const known = await store.findRecording(db, recording.id);
      if (known?.ownerId !== recording.ownerId || known.purpose !== recording.purpose) throw notFound();
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
    await this.files.bring(path, original(recording.id));
    await store.markArrived(this.pool, recording.id);
    await this.inspect(recording.id);
    await this.copies.drawPages(recording.id, Infinity);
    return this.view(recording.id);
  }

  /** Makes room for a sound whose file is brought afterwards (`fill`): whatever refers to it can stand first. */
  reserve(db: Queryable, recording: Parameters<typeof store.insertRecording>[1]): Promise<void> {
    return store.insertRecording(db, recording);
  }

  /** Brings the file of a sound that room was made for, and waits until it was looked at. Again is harmless. @param path copied */
  async fill(path: string, id: string): Promise<void> {
    if ((await store.stateOf(this.pool, id)) !== 'arriving') return;
    // Whole or not at all: two who bring the same at once do not read half of each other's.
    const coming = `originals/${id}.${randomUUID()}`;
    await this.files.bring(path, coming);
    await this.files.adopt(this.files.localPath(coming), original(id));
    if (await store.markArrived(this.pool, id)) await this.inspect(id);
  }

  /** Lets go of a copy that nothing refers to any more, with its files. */
  async letGoOfCopy(db: Queryable, id: string): Promise<void> {
    if (await store.removeCopy(db, id)) await this.removeLater(db, id);
  }

  /** Looks at a local file as an arriving one would be looked at, without keeping anything of it. */
  inspectFile(path: string, wanted: Wanted): Promise<Inspection> {
    return this.worker({ kind: 'inspect', path, wanted, beside: null, mostMs: LONGEST_DECODED_MS });
  }

  /** Its owner no longer wants it: what is under way with it ends, and its bytes go. What was stored stays. */
  async cancel(id: string): Promise<RecordingView> {
    await this.withoutPieces(id, async () => {
      const came = await this.came(id);
      await transaction(this.pool, async db => {
        if (!(await store.cancel(db, id, came?.bytes ?? null))) return;
        await this.removeLater(db, id);
        await this.tellSettled(db, id);
      });
    });
    return this.view(id);
  }

  /** What nothing refers to any more goes, with its files; where something still does, it stays. */
  async letGoOf(db: Queryable, id: string): Promise<void> {
    if (await store.removeUnused(db, id)) await this.removeLater(db, id);
  }

  /** The files of a recording are removed once the transaction stands, and after a crash in between as well. */
  async removeLater(db: Queryable, id: string): Promise<void> {
    await store.keepToRemove(db, filesOfRecording(id));
    await this.jobs.ensure(db, 'removeFiles', {});
  }

  /** Job: removes files that nothing belongs to any more. */
  private async removeFiles(): Promise<void> {
    for (;;) {
      const keys = await store.filesToRemove(this.pool, 200);
      if (keys.length === 0) return;
      for (const key of keys) await this.files.remove(key);
      await store.filesRemoved(this.pool, keys);
    }
  }

  /** Called when a recording was looked at, within the transaction that says what came of it. */
  onSettled(listener: SettledListener): void {
    this.settledListeners.push(listener);
  }

  /** Tells it, and asks for the copy that plays, unless whoever was told makes that besides. */
  private async tellSettled(db: Queryable, id: string): Promise<void> {
    let isCopied = false;
    for (const listener of this.settledListeners) if (await listener(db, id)) isCopied = true;
    if (!isCopied) await this.copies.ask(db, id, true);
  }

  /** Every byte is here: have it looked at. Safe to call twice. */
  async arrived(id: string, knownOwnerId?: string): Promise<void> {
    await transaction(this.pool, async db => {
      if (await store.markArrived(db, id)) await this.askToInspect(db, id, knownOwnerId);
    });
  }

  private async askToInspect(db: Queryable, id: string, knownOwnerId?: string): Promise<void> {
    const ownerId = knownOwnerId ?? (await store.findRecording(db, id))?.ownerId;
    await this.jobs.add(db, 'inspectRecording', { id }, { urgent: true, subjectId: id, ownerId });
  }

  /** Job: looks at a sound, measures it, and says whether it stands. @param failed how often that failed before */
  private async inspect(id: string, failed = 0): Promise<void> {
    const recording = await store.findRecording(this.pool, id);
    if (!recording || recording.state !== 'checking') return;
    const { ownerId, wanted, limitMs } = recording;
    const isTimed = wanted !== 'file';
    const size = (await this.files.size(original(id))) ?? 0;
    const found = await this.looks.look(
      {
        path: this.files.localPath(original(id)),
        wanted,
        beside: { shown: this.files.localPath(shown(id)) },
        mostMs: isTimed ? limitMs + BEYOND_LIMIT_MS : LONGEST_DECODED_MS,
      },
      failed === 0 && size <= LARGE_BYTES,
    );
    const { measured } = found;
    const gateMs = measured && (await this.isGated(this.pool, id)) ? (measured.gateMs ?? null) : null;
    let problem: RecordingProblem | null = found.problem;
    if (!problem && measured && isTimed) {
      const { durationMs, soundsUntilMs = durationMs } = measured;
      const holes = found.details?.holes ?? [];
      // Of what is longer than was listened to nothing is known to be lost, and a copy of it would lack its end.
      const isHeardWhole = durationMs < limitMs + BEYOND_LIMIT_MS;
      const answerMs =
        gateMs === null || !isHeardWhole
          ? durationMs
          : answeredMs({ gateMs, soundsUntilMs: Math.min(durationMs, soundsUntilMs), holes });
      if (!withinLimit(answerMs, limitMs)) problem = 'tooLong';
    }
    const drawn = !problem && found.medium === 'pages';
    // Pages of a teacher's stand once each of them is drawn; a student's file stands at once.
    const waits = drawn && recording.purpose === 'prompt';
    if (measured) await this.files.put(peaksOf(recording), JSON.stringify(measured.peaks));
    await transaction(this.pool, async db => {
      const settled = await store.settle(db, id, {
        state: problem ? 'refused' : waits ? 'checking' : 'stored',
        problem,
        medium: found.medium,
        details: found.details,
        mediaType: found.mediaType,
        sizeBytes: found.sizeBytes,
        sha256: found.sha256,
        durationMs: measured?.durationMs ?? null,
        peakDbfs: measured ? Math.max(-200, measured.peakDbfs) : null,
        gateMs,
        arrivedAt: recording.arrivedAt,
      });
      // Let go of meanwhile, or its device has come back with the rest.
      if (!settled) return;
      await this.tellSettled(db, id);
      const job = { subjectId: id, ownerId };
      // Whoever brought it looks at the page where its pages appear.
      if (drawn) await this.jobs.add(db, 'makePages', { id }, { ...job, urgent: true });
    });
  }

  /** A recording that could not be looked at, however often it was tried, does not stand; it is kept as it came. */
  private async settleUnseen(id: string): Promise<void> {
    const sizeBytes = await this.files.size(original(id));
    await transaction(this.pool, async db => {
      if (!(await store.settleUnseen(db, id, sizeBytes))) return;
      await this.tellSettled(db, id);
    });
  }

  /** What is known of a recording. One whose last byte came without being noticed is looked at from now on. */
  async view(id: string): Promise<RecordingView> {
    const recording = await store.findRecording(this.pool, id);
    if (!recording) throw notFound();
    if (recording.state !== 'arriving') return viewOf(recording);
    const came = await this.came(id);
    if (!came || !isWhole(came)) return viewOf(recording, came);
    await this.arrived(id);
    return viewOf((await store.findRecording(this.pool, id)) ?? recording, came);
  }

  /** How much somebody keeps here, and how much they may. In bytes. */
  roomOf(personId: string): Promise<{ usedBytes: number; quotaBytes: number }> {
    return this.room.of(personId);
  }

  /** Bytes that somebody may still record for a release; null where nothing is limited. */
  roomLeft(personId: string, releaseId: string): Promise<number | null> {
    return this.room.leftFor(personId, releaseId);
  }
}
