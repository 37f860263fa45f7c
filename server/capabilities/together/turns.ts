import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { opennessAt, timesFor } from '@ecoute/core/timing/sittingState';
import { stretchesOf, turnsInAll, whoseTurn } from '@ecoute/core/takes/together';
import type { Me } from '@ecoute/contract/people';
import type { BeginTurns, Companion, GiveTurn, TurnsView } from '@ecoute/contract/together';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { findRecording } from '../recordings/store';
import { hasNothingToHear } from '../recordings/view';
import { exceptionOf } from '../releases/participants.store';
import { findRelease, timesOf } from '../releases/store';
import { takesOfSittings } from '../sittings/answers.store';
import * as joint from '../sittings/joint.store';
import { contentFor, refuseWhenOver, situationOf } from '../sittings/situation';
import { arrangementOf } from '../sittings/store';
import { joined } from './join';
import type { Sharing } from './sharing';
import * as store from './store';

/** A turn may be so much longer than its limit: what the devices need to stop. In ms. */
const BEYOND_TURN_MS = 3_000;

/** People who speak one after the other, each on their own device, until their turns are one recording. */
export class Turns {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly sharing: Sharing,
    private readonly jobs: JobQueue,
  ) {
    jobs.on('joinTurns', ({ id }: { id: string }) => this.joinTurns(id));
    recordings.onSettled((db, recordingId) => this.settled(db, recordingId));
    jobs.onSweep(async () => {
      for (const id of await store.leftOpen(pool)) await transaction(pool, db => this.close(db, id));
    });
  }

  /** Whom an item of a sitting can be answered with. */
  async companions(sittingId: string): Promise<Companion[]> {
    const { sitting, release } = await situationOf(this.pool, sittingId);
    // Who else it is for is told only where something is answered together.
    if (!release.content.items.some(i => i.together)) throw notFound();
    return store.companionsOf(this.pool, release.id, sitting.studentId);
  }

  /** Runs of turns that a student speaks in, of one sitting's release. */
  async list(student: Me, sittingId: string): Promise<TurnsView[]> {
    const { release } = await situationOf(this.pool, sittingId);
    return this.views(student, await store.runsWith(this.pool, release.id, student.id));
  }

  /**
   * Begins a run of turns. Sent twice it is there once.
   * @throws Trouble invalid for people who cannot speak in it; noTakesLeft; handedIn, timeUp, releaseClosed when it is over
   */
  async begin(student: Me, sittingId: string, { id, itemId, personIds }: BeginTurns): Promise<TurnsView[]> {
    await transaction(this.pool, async db => {
      const { sitting, release, times, upAtMs } = await situationOf(db, sittingId, true);
      const item = release.content.items.find(i => i.id === itemId);
      if (item?.together?.way !== 'turns') throw notFound();
      const known = await joint.findJoint(db, id, true);
      if (known && known.leadId !== student.id) throw notFound();
      if (known) return;
      refuseWhenOver({ sitting, times, upAtMs }, Date.now());
      const own = (await takesOfSittings(db, [sittingId])).filter(t => t.itemId === itemId && t.stands);
      if (item.takesAllowed > 0 && own.length >= item.takesAllowed)
        throw new Trouble('noTakesLeft', 'All takes of this item are used. Choose among those you have.');
      const others = [...new Set(personIds)].filter(p => p !== student.id);
      const all = [student.id, ...others];
      // Two who begin with each other in the same moment: the second one finds the first.
      await store.holdParticipants(db, release.id, all);
      const companions = await store.companionsOf(db, release.id, student.id);
      const refuse = (message: string) => new Trouble('invalid', message, { fields: { personIds: message } });
      if (others.length === 0) throw refuse('Choose who speaks with you.');
      if (all.length > item.together.most)
        throw refuse(`At most ${item.together.most} people speak together here.`);
      for (const personId of others) {
        const companion = companions.find(c => c.id === personId);
        if (!companion)
          throw refuse('Somebody here is no longer among those whom this is for. Choose again.');
        if (companion.handedIn) throw refuse(`${companion.displayName} has handed this in already.`);
      }
      const busy = await store.busyWith(db, { releaseId: release.id, itemId, personIds: all });
      if (busy.includes(student.id))
        throw refuse('You speak in turns already. End that first, or go on with it.');
      const other = companions.find(c => busy.includes(c.id));
      if (other)
        throw refuse(`${other.displayName} speaks with others just now. Wait, or choose somebody else.`);
      await joint.insertJoint(db, {
        id,
        releaseId: release.id,
        itemId,
        way: 'turns',
        leadId: student.id,
        turnsEach: item.together.turnsEach,
        personIds: all,
      });
      await this.tell(db, id);
    });
    return this.list(student, sittingId);
  }

  /**
   * Gives a turn on to whoever comes next. Sent twice it is there once.
   * @throws Trouble stale where it is somebody else's turn, or nobody's any more; notFound for whoever does not speak in it
   */
  async give(student: Me, jointId: string, { recordingId, mediaType, number }: GiveTurn): Promise<TurnsView> {
    await transaction(this.pool, async db => {
      const { of, people, turns } = await this.held(db, student, jointId);
      if (turns.some(t => t.id === recordingId && t.personId === student.id)) return;
      if (of.endedAt)
        throw new Trouble('stale', 'This is over: nobody speaks in it any more. Your recording stays here.');
      if (turns.length !== number || whoseTurn(people, number).personId !== student.id)
        throw new Trouble('stale', 'It is not your turn just now. Hear what was said, then wait for yours.');
      await this.refuseWhenClosed(db, of.releaseId, student.id);
      if (turns.some(t => t.state !== 'stored'))
        throw new Trouble('stale', 'The turn before is still on its way. Give yours on in a moment.');
      await this.recordings.announce(
        db,
        {
          id: recordingId,
          ownerId: student.id,
          purpose: 'turn',
          assessmentId: null,
          announcedType: mediaType,
          fileName: null,
          limitMs: (await this.limitOf(db, of, student.id)) + BEYOND_TURN_MS,
        },
        of.releaseId,
      );
      // A recording is one turn.
      if (await store.jointOfTurn(db, recordingId)) throw notFound();
      await store.insertTurn(db, { id: recordingId, jointId, personId: student.id, number });
      if (number + 1 === turnsInAll(people.length, of.turnsEach)) await store.setEnded(db, jointId, true);
      await this.tell(db, jointId);
    });
    return this.view(student, jointId);
  }

  /** @throws Trouble releaseClosed once its time is over for somebody; what was said until then becomes the answer */
  private async refuseWhenClosed(db: Queryable, releaseId: string, personId: string): Promise<void> {
    const release = await findRelease(db, releaseId);
    const exception = await exceptionOf(db, releaseId, personId);
    if (!release || !exception) throw notFound();
    if (opennessAt(timesFor(timesOf(release), exception), Date.now()) === 'closed')
      throw new Trouble(
        'releaseClosed',
        'This assessment is closed and takes no more answers. Ask your teacher for an extension.',
      );
  }

  /** How long a turn of somebody may be, with the time that they are granted. */
  private async limitOf(db: Queryable, of: joint.JointRow, personId: string): Promise<number> {
    const release = await findRelease(db, of.releaseId);
    const arrangement = await arrangementOf(db, personId);
    const item = contentFor(release!.content, { id: of.id, arrangement }).items.find(i => i.id === of.itemId);
    return item?.answerLimitMs ?? 0;
  }

  /** Ends a run with the turns that there are; one in which nobody has spoken is gone. Again is harmless. */
  async end(student: Me, jointId: string): Promise<void> {
    await transaction(this.pool, async db => {
      await this.held(db, student, jointId);
      await this.close(db, jointId);
    });
  }

  /** With what was said until now, or without anything: nobody has answered then. */
  private async close(db: Queryable, id: string): Promise<void> {
    const of = await joint.findJoint(db, id, true);
    if (!of || of.endedAt) return;
    await this.tell(db, id);
    if ((await store.turnsOf(db, [id])).length === 0) return store.removeJoint(db, id);
    await store.setEnded(db, id, true);
    await this.jobs.ensure(db, 'joinTurns', { id }, { urgent: true, subjectId: id });
  }

  /** @throws Trouble notFound for whoever does not speak in it */
  private async held(db: Queryable, student: Me, jointId: string) {
    const of = await joint.findJoint(db, jointId, true);
    const people = (await joint.peopleIn(db, [jointId])).filter(p => !p.leftAt);
    if (of?.way !== 'turns' || !people.some(p => p.personId === student.id)) throw notFound();
    return { of, people, turns: await store.turnsOf(db, [jointId]) };
  }

  async view(student: Me, jointId: string): Promise<TurnsView> {
    const [found] = await this.views(student, [jointId]);
    if (!found) throw notFound();
    return found;
  }

  private async views(student: Me, ids: readonly string[]): Promise<TurnsView[]> {
    const people = (await joint.peopleIn(this.pool, ids)).filter(p => !p.leftAt);
    const turns = await store.turnsOf(this.pool, ids);
    const found = await Promise.all(ids.map(id => joint.findJoint(this.pool, id)));
    return found.flatMap((of): TurnsView[] => {
      const own = people.filter(p => p.jointId === of?.id);
      if (!of || !own.some(p => p.personId === student.id)) return [];
      const spoken = turns.filter(t => t.jointId === of.id);
      const next = of.endedAt ? null : spoken.length;
      const all = of.endedAt ? spoken.length : turnsInAll(own.length, of.turnsEach);
      return [
        {
          id: of.id,
          itemId: of.itemId,
          names: own.map(p => p.displayName),
          beganBy: own.find(p => p.personId === of.leadId)?.displayName ?? '',
          turns: Array.from({ length: all }, (_, number) => {
            const turn = spoken[number];
            const who = own.find(p => p.personId === turn?.personId) ?? whoseTurn(own, number);
            return {
              number,
              personId: who.personId,
              displayName: who.displayName,
              isMine: who.personId === student.id,
              recordingId: turn?.id ?? null,
              durationMs: turn?.durationMs ?? null,
              state: turn?.state ?? null,
            };
          }),
          next,
          isMyTurn:
            next !== null &&
            whoseTurn(own, next).personId === student.id &&
            spoken.every(t => t.state === 'stored'),
          isOver: of.endedAt !== null,
          isJoined: of.joinedAt !== null,
        },
      ];
    });
  }

  /** A turn was looked at: one that cannot be heard is spoken again, and the last one ends the run. */
  private async settled(db: Queryable, recordingId: string): Promise<void> {
    const jointId = await store.jointOfTurn(db, recordingId);
    const of = jointId && (await joint.findJoint(db, jointId, true));
    const recording = await findRecording(db, recordingId);
    if (!of || !recording) return;
    if (recording.state === 'refused' || hasNothingToHear(recording)) {
      await store.removeTurn(db, recordingId);
      if (!of.joinedAt) await store.setEnded(db, of.id, false);
    } else if (of.endedAt)
      await this.jobs.ensure(db, 'joinTurns', { id: of.id }, { urgent: true, subjectId: of.id });
    await this.tell(db, of.id);
  }

  /** Job: makes one recording of the turns, and gives it to everybody who speaks in it. */
  private async joinTurns(id: string): Promise<void> {
    const of = await joint.findJoint(this.pool, id);
    const turns = await store.turnsOf(this.pool, [id]);
    if (!of?.endedAt || turns.length === 0 || turns.some(t => t.state !== 'stored')) return;
    const folder = await mkdtemp(join(tmpdir(), 'ecoute-turns-'));
    try {
      const path = join(folder, 'run.flac');
      const sounds = await Promise.all(turns.map(t => this.recordings.served.asItCame(t.id)));
      await joined(
        sounds.map(s => s.path),
        path,
      );
      const stretches = stretchesOf(
        turns.map(t => ({ personId: t.personId, durationMs: t.durationMs ?? 0 })),
      );
      await transaction(this.pool, async db => {
        if (!(await joint.findJoint(db, id, true))?.joinedAt)
          await store.setJoined(
            db,
            id,
            stretches.map(({ personId, fromMs, toMs }) => ({ personId, fromMs, toMs })),
          );
      });
      await this.sharing.share(id, {
        path,
        like: {
          wanted: 'sound',
          mediaType: 'audio/flac',
          limitMs: (stretches.at(-1)?.toMs ?? 0) + BEYOND_TURN_MS,
        },
        clock: null,
        beganAt: of.madeAt,
        // Nobody can hand in any more where it is closed: it counts as of then.
        handedInAt: await this.closedSince(of.releaseId),
      });
      await this.tell(this.pool, id);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  private async closedSince(releaseId: string): Promise<Date | null> {
    const release = await findRelease(this.pool, releaseId);
    if (!release) return null;
    const times = timesOf(release);
    return opennessAt(times, Date.now()) === 'closed' ? new Date(times.dueAtMs) : null;
  }

  /** The pages of everybody who speaks in it. */
  private async tell(db: Queryable, jointId: string): Promise<void> {
    for (const { personId } of await joint.peopleIn(db, [jointId]))
      await insertChange(db, { kind: 'together', subjectId: jointId, classId: null, personId });
  }
}
