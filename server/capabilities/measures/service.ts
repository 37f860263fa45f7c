import { randomUUID } from 'node:crypto';
import { mkdir, rm } from 'node:fs/promises';
import { EVIDENCE_REVISION, FIGURES, type Evidence } from '@ecoute/core/audio/evidence';
import { usualOf } from '@ecoute/core/statistics/usual';
import { answersIn } from '@ecoute/core/timing/conversation';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { isRun } from '@ecoute/core/timing/strip';
import { answerFromMs, knownBeats, sentBeats, type PlacedTake } from '@ecoute/core/timing/takeClock';
import { heardAs, knownText, modelsOf, targetOf, type ReleaseEvidence } from '@ecoute/contract/evidence';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import type { JobQueue } from '../../platform/jobs/queue';
import { insertChange } from '../../platform/changes/store';
import { log } from '../../platform/log';
import { heardFrom, measuresOf, original, shown } from '../recordings/files';
import type { Worker } from '../../worker';
import type { Recordings } from '../recordings/service';
import { findRecording, type RecordingRow } from '../recordings/store';
import { findRelease } from '../releases/store';
import { contentFor } from '../sittings/situation';
import { findSitting } from '../sittings/store';
import { takesOfSittings } from '../sittings/answers.store';
import { eventsOf } from '../sittings/events.store';
import type { ToMeasure } from './measureTake';
import * as store from './store';

const isSameStretch = (a: RecordingRow, b: RecordingRow | null) =>
  b !== null && a.trimFromMs === b.trimFromMs && a.trimToMs === b.trimToMs;

/** What is measured of each take: by a job after it was stored or cut, worked off in worker threads. */
export class TakeMeasures {
  /** How far the sweep has come through what is kept. */
  private sweptTo: store.Place | null = null;

  constructor(
    private readonly pool: Pool,
    private readonly files: FileStore,
    private readonly jobs: JobQueue,
    private readonly worker: Worker,
    private readonly recordings: Recordings,
  ) {
    jobs.on('measureTake', ({ id }: { id: string }) => this.measure(id), { slot: 'media' });
    recordings.onSettled((db, id) => this.ask(db, id));
    jobs.onSweep(() => this.askForMissing());
  }

  /** Makes the folder. */
  async prepare(): Promise<void> {
    await mkdir(this.files.localPath('measures'), { recursive: true, mode: 0o700 });
  }

  /**
   * Sweep: takes that were not measured, or in an older way, and have no job for it. The newest each time; of all others a step, so
   * that each has its turn, however many there are.
   */
  async askForMissing(): Promise<void> {
    const newest = await this.askFrom(null);
    if (newest) this.sweptTo = await this.askFrom(this.sweptTo ?? newest);
  }

  private async askFrom(before: store.Place | null): Promise<store.Place | null> {
    const { missing, next } = await store.takesNotMeasured(this.pool, EVIDENCE_REVISION, before);
    for (const { id, ownerId } of missing)
      await this.jobs.add(this.pool, 'measureTake', { id }, { subjectId: id, ownerId });
    return next;
  }

  /** A recording was looked at, or cut: what was measured of it before holds no longer. */
  private async ask(db: Queryable, id: string): Promise<boolean> {
    const recording = await findRecording(db, id);
    if (recording?.purpose !== 'take' || recording.state !== 'stored') return false;
    if (recording.medium !== 'sound' && recording.medium !== 'video') return false;
    await store.forgetMeasures(db, id);
    const urgent = await this.isWaitedFor(db, id);
    await this.jobs.add(db, 'measureTake', { id }, { urgent, subjectId: id, ownerId: recording.ownerId });
    return recording.medium === 'sound' && !urgent;
  }

  /** Whoever practises waits for the measures, and hears their own recording as it came. */
  private async isWaitedFor(db: Queryable, id: string): Promise<boolean> {
    return (await store.evidenceOpensFor(db, id)) === 'atOnce';
  }

  /** Job: measures a take, and makes the copy that plays where there is none. Safe to do twice, and to be broken off at any moment. */
  private async measure(id: string): Promise<void> {
    const recording = await findRecording(this.pool, id);
    if (!recording) return;
    try {
      await this.measureAndCopy(recording);
    } finally {
      // Whatever hinders the measures does not hinder listening.
      await this.recordings.copies.ask(this.pool, id, false);
    }
  }

  private async measureAndCopy(recording: RecordingRow): Promise<void> {
    const { id } = recording;
    const place = await store.takePlace(this.pool, id);
    const wanted = place && (await this.wantedOf(recording, place));
    if (!wanted) return;
    const { copies } = this.recordings;
    const { releaseId, classId, ...task } = wanted;
    const output = `${this.files.localPath(measuresOf(id))}.${randomUUID()}`;
    // Decoded once, for its measures and for the copy that plays: writing that takes twice as long as measuring. A film is
    // another matter. A take that nobody stands behind has both at once, side by side: its figures need not wait for the copy.
    const isWanted =
      recording.medium === 'sound' &&
      recording.playableAt === null &&
      !(await this.isWaitedFor(this.pool, id));
    const isAlone = isWanted && (await this.jobs.isAlone('media'));
    const copying = isAlone ? copies.makePlayable(id) : null;
    // Looked at when the figures are there; what goes wrong with it is mended by a job of its own.
    copying?.catch(() => undefined);
    const copy = isWanted && !isAlone ? copies.placeFor(recording) : null;
    try {
      const brief = await this.worker({ kind: 'measureTake', ...task, output, copy });
      if (copy && brief.isCopied) await copies.keep(recording, copy.output);
      // Cut meanwhile: another job measures what is left.
      if (!isSameStretch(recording, await findRecording(this.pool, id))) return;
      if (brief.problem === null) await this.files.adopt(output, measuresOf(id));
      await transaction(this.pool, async db => {
        await store.keepMeasures(db, {
          recordingId: id,
          revision: EVIDENCE_REVISION,
          problem: brief.problem?.slice(0, 300) ?? null,
          figures: brief.figures,
          pauses: brief.pauses,
        });
        await insertChange(db, { kind: 'evidence', subjectId: releaseId, classId, personId: null });
      });
    } finally {
      await rm(output, { force: true });
      if (copy) await rm(copy.output, { force: true });
      await copying?.catch((error: unknown) => log.warn({ err: error }, 'a copy beside its measures'));
    }
  }

  /** How a take is measured, by its item as it was sat; null where the item is no longer known. */
  private async wantedOf(
    recording: RecordingRow,
    { sittingId, itemId }: { sittingId: string; itemId: string },
  ): Promise<(Omit<ToMeasure, 'output'> & { releaseId: string; classId: string }) | null> {
    const sitting = await findSitting(this.pool, sittingId);
    const release = sitting && (await findRelease(this.pool, sitting.releaseId));
    if (!sitting || !release) return null;
    const item = contentFor(release.content, sitting).items.find(i => i.id === itemId);
    const take = (await takesOfSittings(this.pool, [sittingId])).find(t => t.id === recording.id);
    if (!item || !take) return null;
    // Times of what is left, where the take was cut.
    const gateMs =
      recording.trimFromMs === null ? recording.gateMs : (recording.gateMs ?? 0) - recording.trimFromMs;
    const placed: PlacedTake = { clock: take.clock, gateMs };
    const durationMs = recording.durationMs ?? 0;
    const as = heardAs(item, release.subject);
    const target = targetOf(item);
    const text = as === 'speech' ? knownText(item) : null;
    const pausedAtMs = await this.pausedAtMs(sittingId, take);
    const beats = knownBeats(placed, durationMs, pausedAtMs);
    const untilMs = pausedAtMs === null ? durationMs : answerFromMs(placed) + pausedAtMs;
    return {
      releaseId: release.id,
      classId: release.classId,
      path: this.files.localPath(heardFrom(recording)),
      as,
      fromMs: Math.min(Math.max(0, answerFromMs(placed)), Math.max(0, durationMs - 1)),
      score:
        as === 'music' && target?.recordingId
          ? {
              path: this.files.localPath(shown(target.recordingId)),
              part: target.part,
              semitones: target.semitones,
            }
          : null,
      text,
      // What has words or a score of its own is held against those.
      models:
        isRun(item) || text?.of === 'passage' || (as === 'music' && target)
          ? []
          : modelsOf(item).map(m => ({ ...m, path: this.files.localPath(original(m.recordingId)) })),
      gapsMs: isRun(item) ? answersIn(item.turns, placed) : null,
      areGapsRough: take.clock?.loopMeasured === false,
      beatsMs: beats.atMs.length > 1 ? beats.atMs : null,
      beatUnknown: beats.unknown,
      sentBeats: sentBeats(placed, untilMs).map(({ atMs, isFirst, number }) => ({
        atMs,
        isFirst,
        isHeard: number < 0 || (item.music?.metronome?.heard ?? false),
      })),
    };
  }

  /** When a take was first paused, in ms of its answer, by what its page told; null where it was not. */
  private async pausedAtMs(
    sittingId: string,
    { itemId, beganAt }: { itemId: string; beganAt: Date },
  ): Promise<number | null> {
    const own = (await eventsOf(this.pool, sittingId)).filter(
      e => e.itemId === itemId && Date.parse(e.at) > beganAt.getTime(),
    );
    const end = own.findIndex(e => e.kind === 'recordingBegan' || e.kind === 'recordingEnded');
    const paused = own.slice(0, end < 0 ? undefined : end).find(e => e.kind === 'recordingPaused');
    return paused ? Date.parse(paused.at) - beganAt.getTime() : null;
  }

  /**
   * What is measured of a take, as JSON text of a `TakeEvidence`.
   * @param seesModels whether the reader may know model answers already; their melody is not told to others
   */
  async evidence(takeId: string, seesModels: boolean): Promise<string> {
    const state = await store.measuredState(this.pool, takeId);
    if (!state) return JSON.stringify({ state: 'measuring' });
    if (state.problem !== null) {
      const message = 'Nothing can be measured in this recording: it holds no sound that can be read.';
      return JSON.stringify({ state: 'problem', message });
    }
    const text = (await this.files.read(measuresOf(takeId))).toString('utf8');
    const evidence = seesModels ? null : (JSON.parse(text) as Evidence);
    const isBesideModel = evidence?.beside?.of === 'model';
    const isModelSaid = evidence?.words?.of === 'model';
    if (evidence && (isBesideModel || isModelSaid)) {
      const told = {
        ...(isBesideModel && { beside: null }),
        ...(isBesideModel && evidence.target?.of === 'model' && { target: null, line: null }),
        ...(isModelSaid && { words: null, reading: null }),
      };
      return JSON.stringify({ state: 'measured', evidence: { ...evidence, ...told } });
    }
    return `{"state":"measured","evidence":${text}}`;
  }

  /** The measured takes of a release, and what is usual among the answers that count. */
  async ofRelease(releaseId: string): Promise<ReleaseEvidence> {
    const all = await store.measuresOfRelease(this.pool, releaseId);
    const takes: ReleaseEvidence['takes'] = {};
    for (const { recordingId, figures, pauses } of all) takes[recordingId] = { figures, pauses };
    const answers = new Map<string, (typeof all)[number][]>();
    for (const take of all) {
      const key = `${take.itemId} ${take.sittingId}`;
      answers.set(key, [...(answers.get(key) ?? []), take]);
    }
    const counting = [...answers.values()].flatMap(
      own => countingTake(own.map(t => ({ ...t, id: t.recordingId, stands: true, durationMs: null }))) ?? [],
    );
    const usual: ReleaseEvidence['usual'] = {};
    for (const itemId of new Set(counting.map(t => t.itemId))) {
      const figures = counting.filter(t => t.itemId === itemId).map(t => t.figures);
      usual[itemId] = {};
      for (const name of FIGURES) {
        const found = usualOf(figures.flatMap(f => f[name] ?? []));
        if (found) usual[itemId][name] = found;
      }
    }
    return { takes, usual };
  }
}
