import { randomUUID } from 'node:crypto';
import { leadInMs } from '@ecoute/core/timing/accompaniment';
import { claimOf } from '@ecoute/core/takes/claim';
import { usedUp, usesUpTake } from '@ecoute/core/takes/fate';
import { leftOf } from '@ecoute/core/timing/itemRun';
import { hasTakes, isRun } from '@ecoute/core/timing/strip';
import { withinSitting } from '@ecoute/core/timing/sittingClock';
import {
  CLOSING_GRACE_MS,
  isBack,
  isFeedbackGiven,
  mayBegin,
  opennessAt,
  openSitting,
  standingAt,
  takesRecordingBegunAt,
  timesFor,
} from '@ecoute/core/timing/sittingState';
import {
  forStudents,
  hideTimed,
  isTimed,
  seenItems,
  unseen,
  withoutModels,
} from '@ecoute/contract/assessment/forStudents';
import type { Item } from '@ecoute/contract/assessments';
import type { Judgement } from '@ecoute/contract/judgements';
import type { Me } from '@ecoute/contract/people';
import type { NewTake } from '@ecoute/contract/recordings';
import type {
  BeginSitting,
  BegunSitting,
  Hold,
  HoldSitting,
  NewEvents,
  SittingView,
  SittingAccount,
  TakeView,
  WriteAnswer,
} from '@ecoute/contract/sittings';
import type { TakeSource } from '@ecoute/contract/recordings';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { hasNothingToHear, serverSideOf } from '../recordings/view';
import { findRelease, timesOf } from '../releases/store';
import { exceptionOf } from '../releases/participants.store';
import { fillFacts, refreshFacts } from './facts';
import { HandIns } from './handIn';
import {
  contentFor,
  missingIn,
  noteInAccount,
  refuseDiscussion,
  refuseWhenOver,
  situationOf,
  takeView,
  tellTeachers,
  tellTeachersSoon,
} from './situation';
import * as store from './store';
import { refuseWhatStands, whatStands } from './again';
import { keepAgain } from './again.store';
import * as answers from './answers.store';
import * as joint from './joint.store';
import * as eventsStore from './events.store';

export class Sittings {
  /** The end of a sitting. */
  readonly handIns: HandIns;

  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    jobs: JobQueue,
  ) {
    this.handIns = new HandIns(pool, recordings, jobs, id => this.view(id));
  }

  /** Fills in what sittings of an earlier Ecoute lack. */
  prepare(): Promise<void> {
    return fillFacts(this.pool);
  }

  /**
   * Goes on with a student's sitting, or shows the last one; begins one where none is.
   * @param deviceId the browser that goes on with it, if no other one does
   * @param another begins one more where all are handed in
   * @throws Trouble releaseClosed, noSittingLeft when none may be begun any more
   */
  async begin(
    student: Me,
    releaseId: string,
    { deviceId }: BeginSitting = {},
    another = false,
  ): Promise<BegunSitting> {
    const of = { releaseId, studentId: student.id };
    const id = await transaction(this.pool, async db => {
      // First of all, and this row alone: a lock on sittings that are not there yet would make a whole class that
      // begins in the same second wait for each other.
      const exception = await exceptionOf(db, releaseId, student.id, true);
      const release = await findRelease(db, releaseId);
      if (!release || !exception) throw notFound();
      refuseDiscussion(release.content);
      const known = await store.sittingsWith(db, of);
      const inLine = known.map(s => ({
        ...s,
        handedInAtMs: s.handedInAt?.getTime() ?? null,
        setAside: s.setAsideAt !== null,
      }));
      const goesOn = openSitting(inLine) ?? (another ? null : inLine.at(-1));
      if (goesOn) return goesOn.id;
      if (opennessAt(timesFor(timesOf(release), exception), Date.now()) === 'closed')
        throw new Trouble(
          'releaseClosed',
          'This assessment is closed and takes no more answers. Ask your teacher for an extension.',
        );
      if (!mayBegin(inLine, release.sittingsAllowed, exception))
        throw new Trouble(
          'noSittingLeft',
          'You have handed this in as often as it may be sat. Ask your teacher for another sitting.',
        );
      const made = await store.ensureSitting(db, {
        ...of,
        id: randomUUID(),
        number: (known.at(-1)?.number ?? 0) + 1,
        arrangement: await store.arrangementOf(db, student.id),
      });
      const before = known.findLast(s => !s.setAsideAt);
      if (before?.askedAgainAt) await keepAgain(db, before, made);
      await tellTeachers(db, made);
      return made;
    });
    const view = await this.view(id);
    const holds = deviceId !== undefined && view.receipt === null;
    return { ...view, hold: holds ? await this.hold(id, { deviceId, takeOver: false }) : null };
  }

  async view(id: string): Promise<SittingView> {
    const situation = await situationOf(this.pool, id);
    const { sitting, release, exception, times, upAtMs } = situation;
    const now = new Date();
    const standing = standingAt(
      timesOf(release),
      exception,
      {
        handedInAtMs: sitting.handedInAt?.getTime() ?? null,
        dueWasMs: sitting.dueWas?.getTime() ?? null,
        feedbackAtMs: sitting.feedbackAt?.getTime() ?? null,
        marked: false,
      },
      now.getTime(),
    );
    const whole = contentFor(release.content, sitting);
    const isByEar = sitting.arrangement.byEar || whole.byEar === true;
    const earlier = await whatStands(this.pool, sitting);
    const takes = [...earlier.takes, ...(await answers.takesOfSittings(this.pool, [id]))];
    const came = await this.recordings.cameOf(takes.map(t => t.recording));
    const together = await joint.togetherOf(this.pool, takes);
    const mayWithdraw = (await this.handIns.whyNotWithdraw(this.pool, situation)) === null;
    const withHandIn =
      sitting.handedInAt !== null &&
      whole.modelOpens === 'afterHandIn' &&
      whole.items.some(i => i.modelText !== '' || i.modelVoice);
    // Whoever may still take it back opens them by hand, and stays with what is handed in.
    const modelsWait = withHandIn && mayWithdraw && !isBack(standing.state);
    if (withHandIn && !modelsWait && !sitting.modelsOpenedAt)
      await store.openForGood(this.pool, id, 'models');
    const modelsOpen = isBack(standing.state) || whole.modelOpens === 'atOnce' || (withHandIn && !modelsWait);
    const isUnseen =
      whole.sittingLimitMs !== null && sitting.clockBeganAt === null && sitting.handedInAt === null;
    const events = [...earlier.events, ...(await eventsStore.eventsOf(this.pool, id))];
    const timed = hideTimed(whole, seenItems(events, takes));
    const isOver = sitting.handedInAt !== null;
    const content = isUnseen ? unseen(whole) : isOver ? whole : timed.content;
    return {
      id,
      number: sitting.number,
      arrangement: sitting.arrangement,
      isByEar,
      releaseId: release.id,
      title: release.content.title,
      className: release.className,
      subject: release.subject,
      dueAt: new Date(times.dueAtMs).toISOString(),
      openness: opennessAt(times, now.getTime()),
      state: standing.state,
      content: forStudents(
        modelsOpen ? content : withoutModels(content),
        sitting.arrangement.readAloud || isByEar,
        sitting.arrangement.directionsLanguage,
      ),
      events,
      takes: takes.map(t => ({
        ...takeView(t, came.get(t.id), events),
        ...(together.has(t.id) && { together: together.get(t.id) }),
      })),
      judgements: Object.fromEntries(
        [...earlier.judgements, ...(await answers.judgementsOf(this.pool, [id]))].map(j => [
          j.itemId,
          j.judgement,
        ]),
      ),
      written: [...earlier.written, ...(await answers.writtenOf(this.pool, [id]))].map(
        ({ itemId, text, revision, updatedAt }) => ({
          itemId,
          text,
          revision,
          updatedAt: updatedAt.toISOString(),
        }),
      ),
      clockBeganAt: sitting.clockBeganAt?.toISOString() ?? null,
      mayWithdraw,
      hidden: isOver ? [] : timed.hidden,
      unseen: isUnseen,
      modelsWait,
      roomLeftBytes: await this.recordings.roomLeft(sitting.studentId, release.id),
      openItemIds: sitting.openItems,
      againFor: sitting.againFor,
      timeUpAt: upAtMs === null ? null : new Date(upAtMs).toISOString(),
      notThere: release.content.items.some(i => i.together)
        ? await joint.leftBy(this.pool, release.id, sitting.studentId)
        : [],
      receipt: sitting.receipt,
      now: now.toISOString(),
    };
  }

  /** The student goes from the directions to the items: the clock of a limited sitting runs from here. */
  async open(id: string): Promise<SittingView> {
    await this.handIns.beginClock(await situationOf(this.pool, id));
    return this.view(id);
  }

  /**
   * Shows an item whose time is part of what is asked; its page lets the time begin as soon as it is there.
   * @throws Trouble handedIn, timeUp, releaseClosed when it is over; notFound for an item of another assessment
   */
  async show(id: string, itemId: string): Promise<SittingView> {
    await this.beginClockOnce(id);
    await transaction(this.pool, async db => {
      const { sitting, release, times, upAtMs } = await situationOf(db, id, true);
      if (!release.content.items.some(i => i.id === itemId)) throw notFound();
      refuseWhenOver({ sitting, times, upAtMs }, Date.now());
      const events = await eventsStore.eventsOf(db, id);
      if (!events.some(e => e.kind === 'itemShown' && e.itemId === itemId))
        await noteInAccount(db, id, 'itemShown', itemId);
    });
    return this.view(id);
  }

  /** Whoever answers has seen what is asked, whether the page said so or not. */
  private async beginClockOnce(id: string): Promise<void> {
    const situation = await situationOf(this.pool, id);
    if (situation.sitting.clockBeganAt === null) await this.handIns.beginClock(situation);
  }

  /** The student opens the model answers that come with the hand-in; from here on it stays handed in. */
  async openModels(id: string): Promise<SittingView> {
    await transaction(this.pool, async db => {
      const { sitting, release } = await situationOf(db, id, true);
      if (!sitting.handedInAt || release.content.modelOpens !== 'afterHandIn') throw notFound();
      if (await store.openForGood(db, id, 'models')) await noteInAccount(db, id, 'modelsOpened');
    });
    return this.view(id);
  }

  /**
   * Keeps events of the account, each at a time that can be true; the first sight of the items sets the clock of a
   * limited sitting going. What is more than an account holds is let go.
   */
  async keepEvents(id: string, { events }: NewEvents): Promise<void> {
    const situation = await situationOf(this.pool, id);
    const [earliest, latest] = [situation.sitting.beganAt.getTime() - CLOCKS_MS, Date.now() + CLOCKS_MS];
    const { openItems } = situation.sitting;
    // Of what stands nothing more happens.
    const open = events.filter(e => e.itemId === null || !openItems || openItems.includes(e.itemId));
    // A pass where none is allowed is none.
    const passable = new Set(situation.release.content.items.filter(i => i.passAllowed).map(i => i.id));
    const counted = open.filter(e => e.kind !== 'passed' || (e.itemId !== null && passable.has(e.itemId)));
    const believed = counted.map(e => {
      const atMs = Date.parse(e.at);
      return atMs < earliest || atMs > latest ? { ...e, at: new Date().toISOString() } : e;
    });
    const room = MOST_EVENTS - (await eventsStore.countEvents(this.pool, id));
    await eventsStore.keepEvents(this.pool, id, believed.slice(0, Math.max(0, room)));
    if (believed.some(e => e.kind === 'passed' || e.kind === 'passTakenBack'))
      await transaction(this.pool, db => refreshFacts(db, [id]));
    await tellTeachersSoon(this.pool, id);
    if (events.some(e => e.kind === 'itemsOpened')) await this.handIns.beginClock(situation);
  }

  /**
   * Keeps a written answer as it is typed.
   * @throws Trouble handedIn, timeUp, releaseClosed when it is over; notFound for an item that is not written; stale, with what
   * is stored, when it was changed on another device since
   */
  async write(
    sittingId: string,
    itemId: string,
    { text, revision }: WriteAnswer,
  ): Promise<{ updatedAt: string; revision: number }> {
    await this.beginClockOnce(sittingId);
    return transaction(this.pool, async db => {
      const { sitting, release, times, upAtMs } = await situationOf(db, sittingId, true);
      const item = release.content.items.find(i => i.id === itemId);
      if (item?.answerBy !== 'text') throw notFound();
      refuseDiscussion(release.content);
      refuseWhatStands(sitting, itemId);
      refuseWhenOver({ sitting, times, upAtMs }, Date.now());
      const known = await answers.writtenIn(db, { sittingId, itemId });
      const updatedAt = new Date().toISOString();
      // The same again, because the answer to it was lost on the way.
      if (known?.text === text) return { updatedAt, revision: known.revision };
      if ((known?.revision ?? 0) !== revision)
        throw new Trouble(
          'stale',
          'This answer was changed on another device. Both wordings are here: choose which one stays.',
          { current: known && { text: known.text, revision: known.revision } },
        );
      await answers.keepWritten(db, { sittingId, itemId, text, revision: revision + 1 });
      await refreshFacts(db, [sittingId]);
      return { updatedAt, revision: revision + 1 };
    });
  }

  /**
   * Keeps what a student says of an answer of their own; the sitting's own id stands for the whole.
   * @throws Trouble handedIn; notFound where nobody is asked to judge
   */
  async judge(sittingId: string, itemId: string, judgement: Judgement): Promise<Judgement> {
    await transaction(this.pool, async db => {
      const sitting = await store.findSitting(db, sittingId, true);
      const release = sitting && (await findRelease(db, sitting.releaseId));
      const known = itemId === sittingId || release?.content.items.some(i => i.id === itemId);
      if (!sitting || !release || !known || release.content.selfAssessment === 'none') throw notFound();
      if (sitting.handedInAt)
        throw new Trouble('handedIn', 'This is handed in already; what you said of it is with your teacher.');
      if (itemId !== sittingId) refuseWhatStands(sitting, itemId);
      const { rubric } = release.content.scoring;
      const unknown = judgement.choices.some(
        c => !rubric?.criteria.some(k => k.id === c.criterionId) || c.level >= rubric.levels.length,
      );
      if (unknown)
        throw new Trouble('invalid', 'This rubric has no such level. Reload the page to see it as it is.');
      await answers.keepJudgement(db, { sittingId, itemId, judgement });
    });
    return judgement;
  }

  /**
   * Announces a take before its bytes come. Announcing it twice answers the same.
   * @throws Trouble handedIn, timeUp, releaseClosed when it is over; noTakesLeft, notFound for an item of another assessment
   */
  async announceTake(
    student: Pick<Me, 'id'>,
    sittingId: string,
    wanted: NewTake,
    source: TakeSource = wanted.source ?? 'recorded',
  ): Promise<TakeView> {
    const now = Date.now();
    await this.beginClockOnce(sittingId);
    return transaction(this.pool, async db => {
      const { sitting, release, times, upAtMs } = await situationOf(db, sittingId, true);
      const item = contentFor(release.content, sitting).items.find(i => i.id === wanted.itemId);
      if (!item || !hasTakes(item.answerBy)) throw notFound();
      refuseDiscussion(release.content);
      refuseWhatStands(sitting, item.id);
      const brought = source === 'uploaded' && item.answerBy !== 'file';
      if (brought && (!release.content.mayBring || item.answerBy !== 'audio' || isRun(item)))
        throw new Trouble('notForThisItem', 'This item is recorded here; a file cannot take its place.');
      const takes = (await answers.takesOfSittings(db, [sittingId])).filter(t => t.itemId === item.id);
      const known = takes.find(t => t.id === wanted.recordingId);
      const came = await this.recordings.cameOf(takes.map(t => t.recording));
      const events = await eventsStore.eventsOf(db, sittingId);
      const deviceFailed =
        events.some(e => e.kind === 'microphoneLost' && e.itemId === item.id) ||
        takes.some(t => missingIn(t, events) !== null);
      const { used, isGivenBack } = usedUp(
        takes
          .filter(t => t.id !== known?.id)
          .map(t => ({
            usesUp: usesUpTake(serverSideOf(t.recording, came.get(t.id) ?? null)),
            isSilent: hasNothingToHear(t.recording),
          })),
        deviceFailed && item.answerBy !== 'file',
      );
      const noneLeft = () =>
        new Trouble('noTakesLeft', 'All takes of this item are used. Choose among those you have.');
      if (known) {
        // Ended without its device, which is back now: it may bring the rest until the hand-in.
        if (known.recording.endedEarlyAt && !sitting.handedInAt) {
          if (leftOf(item.takesAllowed, used) <= 0) throw noneLeft();
          if (await this.recordings.comeBack(db, known.id))
            await noteInAccount(db, sittingId, 'takeCameBack', item.id);
          await refreshFacts(db, [sittingId]);
        }
        return this.takeOf(db, sittingId, known.id);
      }
      const beganAtMs = Date.parse(wanted.beganAt);
      const claim = claimOf(
        { itemId: item.id, beganAtMs, sittingBeganAtMs: sitting.beganAt.getTime() },
        await eventsStore.heardOf(db, sittingId),
        now,
      );
      // A browser that was heard since and told nothing of it is not believed: it begins now.
      const begins = claim === 'contradicted' ? now : beganAtMs;
      refuseWhenOver({ sitting, times, upAtMs }, begins);
      const isAfterEnd =
        !takesRecordingBegunAt(times, now) ||
        !withinSitting(now, upAtMs === null ? null : upAtMs + CLOSING_GRACE_MS);
      const claimedAt = claim === 'said' && isAfterEnd ? new Date(now) : null;
      if (leftOf(item.takesAllowed, used) <= 0) throw noneLeft();
      if (takes.length >= MOST_ANNOUNCED)
        throw new Trouble('noTakesLeft', 'This item was begun so often that it takes no more recordings.');
      await this.recordings.announce(
        db,
        {
          id: wanted.recordingId,
          ownerId: student.id,
          purpose: 'take',
          assessmentId: null,
          wanted: item.answerBy === 'file' ? 'file' : item.answerBy === 'audio' ? 'sound' : 'video',
          announcedType: wanted.mediaType,
          fileName: item.answerBy === 'file' || brought ? (wanted.fileName ?? null) : null,
          limitMs: item.answerLimitMs + leadInMs(item.music),
        },
        release.id,
      );
      // An id that is somebody else's, or one's own in another place, is none.
      if (await answers.sittingOfTake(db, wanted.recordingId)) throw notFound();
      await answers.insertTake(db, {
        id: wanted.recordingId,
        sittingId,
        itemId: item.id,
        number: Math.max(0, ...takes.map(t => t.number)) + 1,
        beganAt: new Date(begins),
        claimedAt,
        source,
        clock: wanted.clock ?? null,
      });
      if (item.together?.way === 'oneDevice')
        await this.keepCompanions(db, { release, item, leadId: student.id, wanted });
      // Whoever announces an answer sees what is asked, and the account says since when.
      if (isTimed(item) && !seenItems(events, takes).has(item.id))
        await noteInAccount(db, sittingId, 'itemShown', item.id);
      // It was let in only because one was given back: its teacher sees that.
      if (isGivenBack && leftOf(item.takesAllowed, used) === 1)
        await noteInAccount(db, sittingId, 'takeGivenBack', item.id);
      if (claimedAt) await noteInAccount(db, sittingId, 'takeSaidEarlier', item.id);
      return this.takeOf(db, sittingId, wanted.recordingId);
    });
  }

  /**
   * Who else is heard in a recording, said after it was made, and before it is handed in.
   * @throws Trouble handedIn; notFound for a recording of an item that nobody answers together on one device
   */
  async setCompanions(takeId: string, personIds: readonly string[]): Promise<SittingView> {
    const sittingId = await answers.sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    await transaction(this.pool, async db => {
      const { sitting, release } = await situationOf(db, sittingId, true);
      const take = (await answers.takesOfSittings(db, [sittingId])).find(t => t.id === takeId);
      const item = release.content.items.find(i => i.id === take?.itemId);
      const isOwn = take?.jointId === null || take?.jointId === takeId;
      if (!take || !isOwn || item?.together?.way !== 'oneDevice') throw notFound();
      if (sitting.handedInAt)
        throw new Trouble(
          'handedIn',
          'This is handed in already. Ask your teacher to let you record it again.',
        );
      await joint.removeJointOf(db, takeId);
      await this.keepCompanions(db, {
        release,
        item,
        leadId: sitting.studentId,
        wanted: { recordingId: takeId, withIds: personIds },
      });
    });
    return this.view(sittingId);
  }

  /** Who else is heard in a take, as it was said on the device; whom the release is not for is not among them. */
  private async keepCompanions(
    db: Queryable,
    {
      release,
      item,
      leadId,
      wanted,
    }: {
      release: { id: string };
      item: Item;
      leadId: string;
      wanted: { recordingId: string; withIds?: readonly string[] };
    },
  ): Promise<void> {
    const others = (wanted.withIds ?? []).filter(p => p !== leadId);
    const known = await joint.participantsAmong(db, { releaseId: release.id, leadId }, others);
    if (known.length === 0) return;
    const id = wanted.recordingId;
    await joint.insertJoint(db, {
      id,
      releaseId: release.id,
      itemId: item.id,
      way: 'oneDevice',
      leadId,
      turnsEach: 1,
      personIds: [leadId, ...known.slice(0, item.together!.most - 1)],
    });
    await joint.setOwnTake(db, { jointId: id, personId: leadId, takeId: id });
  }

  private async takeOf(db: Queryable, sittingId: string, id: string): Promise<TakeView> {
    const take = (await answers.takesOfSittings(db, [sittingId])).find(t => t.id === id)!;
    const came = await this.recordings.cameOf([take.recording]);
    const together = await joint.togetherOf(db, [take]);
    const view = takeView(take, came.get(id), await eventsStore.eventsOf(db, sittingId));
    return { ...view, ...(together.has(id) && { together: together.get(id) }) };
  }

  /** Lets one take of an item count. @throws Trouble handedIn */
  async choose(takeId: string): Promise<SittingView> {
    const sittingId = await answers.sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    await transaction(this.pool, async db => {
      const sitting = await store.findSitting(db, sittingId, true);
      if (sitting?.handedInAt)
        throw new Trouble('handedIn', 'This is handed in already; the takes that count are settled.');
      const take = (await answers.takesOfSittings(db, [sittingId])).find(t => t.id === takeId);
      if (sitting && take) refuseWhatStands(sitting, take.itemId);
      await answers.chooseTake(db, takeId);
      await refreshFacts(db, [sittingId]);
    });
    return this.view(sittingId);
  }

  /**
   * Says which browser goes on with a sitting, and learns whether another one does. Asked again now and then while
   * the sitting is open; a browser that is silent for a while holds nothing any more.
   */
  async hold(id: string, { deviceId, takeOver, leaves }: HoldSitting): Promise<Hold> {
    return transaction(this.pool, async db => {
      const holder = await store.holderOf(db, id);
      if (leaves) {
        if (holder?.deviceId === deviceId) await store.letGo(db, id);
        return { held: false, otherSeenAt: null };
      }
      const other =
        holder?.deviceId &&
        holder.deviceId !== deviceId &&
        holder.seenAt &&
        Date.now() - holder.seenAt.getTime() < HOLD_MS
          ? holder.seenAt
          : null;
      if (other && !takeOver) return { held: false, otherSeenAt: other.toISOString() };
      if (holder?.deviceId && holder.deviceId !== deviceId) await noteInAccount(db, id, 'movedHere');
      await store.hold(db, id, deviceId);
      return { held: true, otherSeenAt: null };
    });
  }

  /** What happened in a sitting and when, for its teacher. */
  async account(id: string): Promise<SittingAccount> {
    const { sitting, release } = await situationOf(this.pool, id);
    const relative = release.namesHidden && !isFeedbackGiven(sitting, Date.now());
    const events = await eventsStore.eventsOf(this.pool, id);
    // A clock on the wall would say who it was: the overview shows names beside times.
    const shift = relative ? sitting.beganAt.getTime() : 0;
    const at = (instant: Date | string) => new Date(new Date(instant).getTime() - shift).toISOString();
    return {
      studentName: relative ? '' : await store.studentName(this.pool, id),
      beganAt: at(sitting.beganAt),
      handedInAt: sitting.handedInAt && at(sitting.handedInAt),
      events: events.map(e => ({ ...e, at: at(e.at) })),
      takes: (await answers.takesOfSittings(this.pool, [id]))
        .filter(t => t.isIn)
        .map(t => ({
          id: t.id,
          itemId: t.itemId,
          number: t.number,
          source: t.source,
          durationMs: t.durationMs,
          fate: fateOfTake(t),
          saidMs: t.claimedAt && t.claimedAt.getTime() - t.beganAt.getTime(),
          missingMs: missingIn(t, events),
        })),
      relative,
    };
  }
}

/** What the account says of a take that does not simply stand. */
function fateOfTake({ recording }: answers.TakeRow): 'cutShort' | 'lost' | 'letGo' | null {
  if (recording.problem === 'lost') return 'lost';
  if (recording.problem === 'cancelled') return 'letGo';
  return recording.endedEarlyAt ? 'cutShort' : null;
}

/** Clocks of browsers are set by the server's; so far they may be off. */
const CLOCKS_MS = 2 * 60_000;
/** An account holds so much; a sitting of four hours has a few hundred. */
const MOST_EVENTS = 4_500;
/** However often takes are let go of: an item is begun no more often than this. */
const MOST_ANNOUNCED = 200;

/** A browser that goes on with a sitting says so every twenty seconds; after this long it is taken for gone. */
const HOLD_MS = 65_000;
