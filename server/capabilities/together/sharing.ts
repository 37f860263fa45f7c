import { randomUUID } from 'node:crypto';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { mayBegin, openSitting } from '@ecoute/core/timing/sittingState';
import { hasTakes } from '@ecoute/core/timing/strip';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import type { Me } from '@ecoute/contract/people';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { findRecording, type RecordingRow } from '../recordings/store';
import { exceptionOf } from '../releases/participants.store';
import { findRelease } from '../releases/store';
import {
  chooseTake,
  insertTake,
  removeTake,
  sittingOfTake,
  takesOfSittings,
  type TakeRow,
} from '../sittings/answers.store';
import { keepAgain } from '../sittings/again.store';
import { refreshFacts } from '../sittings/facts';
import * as joint from '../sittings/joint.store';
import type { Sittings } from '../sittings/service';
import { noteInAccount, tellTeachers } from '../sittings/situation';
import * as sittingStore from '../sittings/store';
import * as store from './store';

/** A sound that becomes several people's, with what is known of it. */
export interface Shared {
  path: string;
  like: Pick<RecordingRow, 'wanted' | 'mediaType' | 'limitMs'>;
  clock: Parameters<typeof insertTake>[1]['clock'];
  beganAt: Date;
  /** When those hand in who have nothing else to do; null where each does it. */
  handedInAt: Date | null;
}

/** Makes a recording that some people are heard in the answer of each: a take in a sitting of their own. */
export class Sharing {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly sittings: Sittings,
    private readonly jobs: JobQueue,
  ) {
    jobs.on('shareJoint', ({ id }: { id: string }) => this.shareOneDevice(id));
    // Handed in before its sound was looked at: it becomes the others' once it is.
    recordings.onSettled(async (db, recordingId) => {
      const id = await store.jointLedBy(db, recordingId);
      if (id) await jobs.ensure(db, 'shareJoint', { id }, { urgent: true, subjectId: id });
    });
    jobs.onSweep(async () => {
      for (const { id, way } of await store.unfinished(pool))
        await jobs.ensure(pool, way === 'turns' ? 'joinTurns' : 'shareJoint', { id }, { subjectId: id });
    });
  }

  /** Job: what was recorded on one device and handed in becomes everybody's who is heard in it. */
  private async shareOneDevice(id: string): Promise<void> {
    const of = await joint.findJoint(this.pool, id);
    if (of?.way !== 'oneDevice') return this.askForMarks(id);
    const lead = (await joint.peopleIn(this.pool, [id])).find(p => p.personId === of.leadId);
    const sittingId = lead?.takeId ? await sittingOfTake(this.pool, lead.takeId) : null;
    const sitting = sittingId ? await sittingStore.findSitting(this.pool, sittingId) : null;
    const recording = lead?.takeId ? await findRecording(this.pool, lead.takeId) : null;
    const take =
      sittingId && (await takesOfSittings(this.pool, [sittingId])).find(t => t.id === lead!.takeId);
    // What was not handed in, or does not stand, is nobody's answer.
    const isIn = sitting?.receipt?.lines.some(l => l.takeId === lead!.takeId);
    if (!take || !isIn || recording?.state !== 'stored') return;
    const { path } = await this.recordings.served.asItCame(take.id);
    await this.share(id, {
      path,
      like: recording,
      // What was cut has its silence before the gate no more.
      clock: recording.trimFromMs === null ? take.clock : null,
      beganAt: take.beganAt,
      handedInAt: sitting!.handedInAt,
    });
  }

  /** Gives a sound to everybody of a joint answer who does not have it yet. Again is harmless, also after a crash. */
  async share(id: string, sound: Shared): Promise<void> {
    const of = await joint.findJoint(this.pool, id);
    if (!of) return;
    for (const { personId } of await joint.peopleIn(this.pool, [id])) {
      const takeId = await transaction(this.pool, db => this.makeRoom(db, id, personId, sound));
      if (!takeId) continue;
      await this.recordings.fill(sound.path, takeId);
      await this.handInFor(takeId, sound.handedInAt);
    }
    await this.askForMarks(id);
  }

  /** What is scored already is scored for those who came later. */
  private async askForMarks(id: string): Promise<void> {
    await this.jobs.ask(this.pool, 'mirrorMarks', { id }, { subjectId: id });
  }

  /** Room for somebody's own recording in their sitting. @returns its take; null for who has none, and why is kept */
  private async makeRoom(
    db: Queryable,
    jointId: string,
    personId: string,
    sound: Shared,
  ): Promise<string | null> {
    const of = (await joint.findJoint(db, jointId, true))!;
    const person = (await joint.peopleIn(db, [jointId])).find(p => p.personId === personId);
    if (!person || person.leftAt || person.missed) return null;
    if (person.takeId) return person.takeId;
    const exception = await exceptionOf(db, of.releaseId, personId, true);
    const release = await findRelease(db, of.releaseId);
    const without = async (missed: 'handedIn' | 'gone') => {
      await joint.setMissed(db, { jointId, personId, missed });
      return null;
    };
    if (!exception || !release) return without('gone');
    const known = await sittingStore.sittingsWith(db, { releaseId: of.releaseId, studentId: personId });
    const inLine = known.map(s => ({
      ...s,
      handedInAtMs: s.handedInAt?.getTime() ?? null,
      setAside: s.setAsideAt !== null,
    }));
    const open = openSitting(inLine);
    if (!open && !mayBegin(inLine, release.sittingsAllowed, exception)) return without('handedIn');
    const sittingId =
      open?.id ??
      (await sittingStore.ensureSitting(db, {
        id: randomUUID(),
        releaseId: of.releaseId,
        studentId: personId,
        number: (known.at(-1)?.number ?? 0) + 1,
        arrangement: await sittingStore.arrangementOf(db, personId),
      }));
    const before = known.findLast(s => !s.setAsideAt);
    if (!open && before?.askedAgainAt) await keepAgain(db, before, sittingId);
    const id = randomUUID();
    const takes = (await takesOfSittings(db, [sittingId])).filter(t => t.itemId === of.itemId);
    await this.recordings.reserve(db, {
      id,
      ownerId: personId,
      purpose: 'take',
      assessmentId: null,
      wanted: sound.like.wanted,
      announcedType: sound.like.mediaType ?? 'audio/webm',
      fileName: null,
      limitMs: sound.like.limitMs,
    });
    const number = Math.max(0, ...takes.map(t => t.number)) + 1;
    const { beganAt, clock } = sound;
    await insertTake(db, { id, sittingId, itemId: of.itemId, number, beganAt, clock });
    // What somebody recorded themselves goes on counting until they choose this.
    await chooseTake(db, countingTake<TakeRow>(takes)?.id ?? id);
    await joint.setOwnTake(db, { jointId, personId, takeId: id });
    await noteInAccount(db, sittingId, 'recordedTogether', of.itemId);
    return id;
  }

  /** Its recording is all that is asked of somebody: it is handed in with whose device it was. */
  private async handInFor(takeId: string, handedInAt: Date | null): Promise<void> {
    const sittingId = await sittingOfTake(this.pool, takeId);
    const sitting = sittingId && (await sittingStore.findSitting(this.pool, sittingId));
    if (!sitting) return;
    await transaction(this.pool, db => refreshFacts(db, [sitting.id]));
    await insertChange(this.pool, {
      kind: 'todo',
      subjectId: null,
      classId: null,
      personId: sitting.studentId,
    });
    await tellTeachers(this.pool, sitting.id);
    const release = await findRelease(this.pool, sitting.releaseId);
    if (!handedInAt || sitting.handedInAt || !release || !isAllTogether(release.content)) return;
    const takes = await takesOfSittings(this.pool, [sitting.id]);
    const isAll = release.content.items
      .filter(i => hasTakes(i.answerBy) && (sitting.openItems?.includes(i.id) ?? true))
      .every(i => countingTake<TakeRow>(takes.filter(t => t.itemId === i.id))?.jointId);
    if (!isAll) return;
    await this.sittings.handIns.handIn(sitting.id, { withGaps: true }, false, handedInAt.getTime());
    // Whoever has it open sees that nothing is left to do.
    await insertChange(this.pool, {
      kind: 'sitting',
      subjectId: sitting.id,
      classId: null,
      personId: sitting.studentId,
    });
  }

  /**
   * Somebody says that they were not there: the recording is theirs no more, and what was handed in for them is open again.
   * Or that they were after all.
   * @throws Trouble decidedOtherwise once a teacher has begun to listen; notFound for what is one's own device's
   */
  async sayNotThere(student: Me, jointId: string, isGone: boolean): Promise<void> {
    await transaction(this.pool, async db => {
      const of = await joint.findJoint(db, jointId, true);
      const person = (await joint.peopleIn(db, [jointId])).find(p => p.personId === student.id);
      if (of?.way !== 'oneDevice' || !person || of.leadId === student.id) throw notFound();
      if (Boolean(person.leftAt) === isGone) return;
      if (!isGone) {
        await joint.setLeft(db, { jointId, personId: student.id, left: false });
        await this.jobs.add(db, 'shareJoint', { id: jointId }, { urgent: true, subjectId: jointId });
        return;
      }
      const sittingId = person.takeId && (await sittingOfTake(db, person.takeId));
      const sitting = sittingId && (await sittingStore.findSitting(db, sittingId, true));
      if (sitting) {
        if (sitting.feedbackAt || (await sittingStore.isBegunByTeacher(db, sitting.id)))
          throw new Trouble(
            'decidedOtherwise',
            'Your teacher listens to it already. Tell them that you were not there.',
          );
        if (sitting.receipt?.lines.some(l => l.takeId === person.takeId))
          await sittingStore.withdraw(db, sitting.id);
        await noteInAccount(db, sitting.id, 'saidNotThere', of.itemId);
        await joint.setOwnTake(db, { jointId, personId: student.id, takeId: null });
        if (await removeTake(db, person.takeId!)) await this.recordings.letGoOfCopy(db, person.takeId!);
        await refreshFacts(db, [sitting.id]);
        await tellTeachers(db, sitting.id);
      }
      await joint.setLeft(db, { jointId, personId: student.id, left: true });
    });
  }

  /** Each is scored for themselves from now on, or all alike again. */
  async scoreApart(jointId: string, apart: boolean): Promise<void> {
    await transaction(this.pool, async db => {
      const of = await joint.findJoint(db, jointId, true);
      if (!of) throw notFound();
      await joint.setApart(db, jointId, apart);
      for (const { takeId } of await joint.peopleIn(db, [jointId])) {
        const sittingId = takeId && (await sittingOfTake(db, takeId));
        if (!sittingId) continue;
        await refreshFacts(db, [sittingId]);
        await tellTeachers(db, sittingId);
      }
    });
    if (!apart) await this.askForMarks(jointId);
  }
}

/** Nothing is asked but what is recorded together. */
function isAllTogether({ items }: AssessmentContent): boolean {
  return items.every(i => i.answerBy === 'nothing' || i.together);
}
