import { randomUUID } from 'node:crypto';
import { contributeByMs, givenBy } from '@ecoute/core/discussions/talk';
import {
  isFeedbackGiven,
  openSitting,
  opennessAt,
  takesRecordingBegunAt,
  timesFor,
  type ReleaseTimes,
} from '@ecoute/core/timing/sittingState';
import type { DiscussionPlan, Item } from '@ecoute/contract/assessments';
import { planOf, talkOf } from '@ecoute/contract/assessment/discussion';
import { forStudents, withoutModels } from '@ecoute/contract/assessment/forStudents';
import type {
  Contribution,
  DiscussionView,
  NewContribution,
  Place,
  PutIn,
} from '@ecoute/contract/discussions';
import { LIMITS } from '@ecoute/contract/limits';
import type { Me } from '@ecoute/contract/people';
import { insertChange, insertForPeople, type Change } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { codeNumbers } from '../releases/names';
import { exceptionOf, participantsOf } from '../releases/participants.store';
import { findRelease, namesSecretOf, timesOf, type ReleaseRow } from '../releases/store';
import * as answers from '../sittings/answers.store';
import { noteInAccount, tellTeachers } from '../sittings/situation';
import { arrangementOf, ensureSitting, sittingsWith, type SittingRow } from '../sittings/store';
import { circleOf, sharedOut } from './circles';
import { settleSitting } from './standing';
import * as store from './store';
import { isWhole, saidIn, shownTo, stands, type Viewer } from './view';

/** A discussion with what holds in it. */
export interface Discussion {
  release: ReleaseRow;
  plan: DiscussionPlan;
  talk: Item;
}

/** @throws Trouble notFound for a release that is no discussion */
export async function discussionOf(db: Queryable, releaseId: string): Promise<Discussion> {
  const release = await findRelease(db, releaseId);
  const plan = release && planOf(release.content);
  const talk = release && talkOf(release.content);
  if (!release || !plan || !talk) throw notFound();
  return { release, plan, talk };
}

/** A browser's clock is set by the server's; so far it may be off. */
const CLOCK_MS = 5_000;

/** Taking part in a discussion: hearing it, speaking in it, taking back what one said. */
export class Discussions {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    jobs: JobQueue,
  ) {
    recordings.onSettled(async (db, id) => {
      const row = await store.contributionOfVoice(db, id);
      if (row) await this.settled(db, row, true);
    });
    jobs.onSweep(async () => {
      for (const id of await store.dueSittings(pool)) await this.due(id);
    });
  }

  private due(sittingId: string): Promise<void> {
    return transaction(this.pool, db => settleSitting(db, sittingId));
  }

  /** A discussion as a student hears it. */
  async view(student: Me, releaseId: string): Promise<DiscussionView> {
    const { release, plan } = await discussionOf(this.pool, releaseId);
    const exception = await exceptionOf(this.pool, releaseId, student.id);
    if (!exception) throw notFound();
    const circles = await transaction(this.pool, db => sharedOut(db, release));
    const circle = circles?.get(student.id) ?? null;
    const all = await store.contributionsOf(this.pool, releaseId, student.id);
    const times = timesFor(timesOf(release), exception);
    const isBeforeOwn = plan.hearsAfter && !all.some(r => r.authorId === student.id && stands(r));
    const hasLeft = !(await store.isStillIn(this.pool, releaseId, student.id));
    const viewer = {
      ...(await this.viewer(student, releaseId, all, { circle, isBeforeOwn, shown: plan.namesShown })),
      hasLeft,
    };
    const sittings = await sittingsWith(this.pool, { releaseId, studentId: student.id });
    const now = Date.now();
    const contributions = shownTo(viewer, all);
    return {
      releaseId,
      title: release.content.title,
      className: release.className,
      content: forStudents(withoutModels(release.content)),
      dueAt: new Date(times.dueAtMs).toISOString(),
      contributeBy: new Date(contributeByMs(times.dueAtMs, plan.contributeDaysBefore)).toISOString(),
      openness: opennessAt(times, now),
      contributions,
      given: givenBy(saidIn(all), student.id),
      with: plan.namesShown && !hasLeft ? await this.namesWith(student, releaseId, circles) : [],
      behindOwn: isBeforeOwn
        ? shownTo({ ...viewer, isBeforeOwn: false }, all).filter(c => c.state === 'here').length -
          contributions.filter(c => c.state === 'here').length
        : 0,
      closedFor: hasLeft ? LEFT : takesRecordingBegunAt(times, now) ? null : CLOSED,
      feedbackSittingId: sittings.findLast(s => isFeedbackGiven(s, now))?.id ?? null,
      now: new Date(now).toISOString(),
    };
  }

  /**
   * One contribution as a student hears it, for a page that was told of it. @returns null where it is not to be heard, or is
   * seen only together with others (a correction, what stands under something that is gone)
   */
  async one(student: Me, releaseId: string, id: string): Promise<{ contribution: Contribution | null }> {
    const { release, plan } = await discussionOf(this.pool, releaseId);
    const found = await this.withParent(releaseId, id);
    if (!found) return { contribution: null };
    if (!(await store.isStillIn(this.pool, releaseId, student.id))) return { contribution: null };
    const circles = await store.circlesOf(this.pool, release.id);
    const isBeforeOwn = plan.hearsAfter && !(await store.hasSpoken(this.pool, releaseId, student.id));
    const viewer = await this.viewer(student, releaseId, found, {
      circle: circles.get(student.id) ?? null,
      isBeforeOwn,
      shown: plan.namesShown,
    });
    return { contribution: shownTo(viewer, found).find(c => c.id === id) ?? null };
  }

  /** A contribution that corrects nothing, with what it replies to where that stands; null otherwise. */
  async withParent(releaseId: string, id: string): Promise<store.ContributionRow[] | null> {
    const [row] = await store.contributionsWith(this.pool, [id]);
    if (row?.releaseId !== releaseId || row.correctsId !== null) return null;
    const parents = row.parentId ? await store.contributionsWith(this.pool, [row.parentId]) : [];
    return parents.every(stands) ? [row, ...parents] : null;
  }

  private async namesWith(
    student: Me,
    releaseId: string,
    circles: ReadonlyMap<string, number> | null,
  ): Promise<string[]> {
    const own = circles?.get(student.id);
    return (await store.peopleOf(this.pool, releaseId))
      .filter(p => p.id !== student.id && (!circles || circles.get(p.id) === own))
      .map(p => p.name);
  }

  /** Whoever looks at a discussion. @param shown students see each other's names */
  async viewer(
    person: Me,
    releaseId: string,
    all: readonly store.ContributionRow[],
    {
      circle,
      isBeforeOwn,
      shown,
      leads = false,
    }: { circle: number | null; isBeforeOwn: boolean; shown: boolean; leads?: boolean },
  ): Promise<Viewer> {
    const numbers = shown ? null : await codeNumbers(this.pool, releaseId);
    const problems = new Map<string, string | null>();
    for (const { id, voiceState } of all)
      if (voiceState === 'refused') problems.set(id, (await this.recordings.view(id)).message);
    return {
      personId: person.id,
      leads,
      circle,
      heard: await store.heardBy(this.pool, releaseId, person.id),
      called: row =>
        numbers === null || row.sittingId === null || row.authorId === person.id
          ? { authorName: row.authorName, number: null }
          : { authorName: '', number: numbers.get(row.authorId) ?? 0 },
      secret: await namesSecretOf(this.pool, releaseId),
      isBeforeOwn,
      problemOf: row => problems.get(row.id) ?? null,
    };
  }

  /**
   * Announces something a student speaks, before its bytes come; nobody else hears it until it is put in. Twice is once.
   * @throws Trouble releaseClosed where it began after the end; notFound for an id that is taken; overQuota
   */
  async announce(student: Me, releaseId: string, wanted: NewContribution): Promise<{ id: string }> {
    const id = wanted.recordingId;
    await transaction(this.pool, async db => {
      const { release, talk } = await discussionOf(db, releaseId);
      const known = await store.findContribution(db, releaseId, id);
      if (known) {
        if (known.authorId !== student.id) throw notFound();
        // Ended without its device, which is back now with the rest.
        await this.recordings.comeBack(db, id);
        return;
      }
      const { sitting, times } = await this.sittingFor(db, student, release);
      const now = Date.now();
      const said = Date.parse(wanted.beganAt);
      // Whoever had no network says when it was; nobody speaks in the future, or before the discussion.
      const begins = said > now + CLOCK_MS || said < times.opensAtMs - CLOCK_MS ? now : said;
      refuseWhenClosed(times, begins);
      await this.refuseTooMany(db, releaseId, student.id);
      await this.recordings.announce(
        db,
        {
          id,
          ownerId: student.id,
          purpose: 'take',
          assessmentId: null,
          wanted: talk.answerBy === 'video' ? 'video' : 'sound',
          announcedType: wanted.mediaType,
          fileName: null,
          limitMs: talk.answerLimitMs,
        },
        releaseId,
      );
      if (await answers.sittingOfTake(db, id)) throw notFound();
      const takes = (await answers.takesOfSittings(db, [sitting.id])).filter(t => t.itemId === talk.id);
      await answers.insertTake(db, {
        id,
        sittingId: sitting.id,
        itemId: talk.id,
        number: Math.max(0, ...takes.map(t => t.number)) + 1,
        beganAt: new Date(begins),
        claimedAt: takesRecordingBegunAt(times, now) ? null : new Date(now),
        clock: wanted.clock ?? null,
      });
      await store.insertContribution(db, {
        id,
        releaseId,
        circle: (await circleOf(db, release, student.id)) ?? 0,
        sittingId: sitting.id,
        itemId: talk.id,
        authorId: student.id,
        voiceId: id,
      });
      await this.place(db, release, student.id, id, wanted.place);
    });
    return { id };
  }

  /**
   * Puts in what a student spoke, or words alone. Twice is once.
   * @throws Trouble invalid where there is nothing in it; notForThisItem where the discussion does not allow it;
   * releaseClosed for words after the end; notFound for what is somebody else's
   */
  async putIn(student: Me, releaseId: string, id: string, said: PutIn): Promise<DiscussionView> {
    await transaction(this.pool, async db => {
      const { release, plan, talk } = await discussionOf(db, releaseId);
      const { sitting, times } = await this.sittingFor(db, student, release);
      const known = await store.findContribution(db, releaseId, id);
      if (known && known.authorId !== student.id) throw notFound();
      if (known?.putInAt) return;
      const words = said.words.trim();
      if (!known) {
        refuseUnheardOf(said);
        // Words alone are as old as they are put in.
        if (!plan.writtenAllowed)
          throw new Trouble('notForThisItem', 'In this discussion contributions are spoken. Record yours.');
        refuseEmpty(words);
        refuseWhenClosed(times, Date.now());
        await this.refuseTooMany(db, releaseId, student.id);
        if ((await store.contributionsWith(db, [id])).length > 0) throw notFound();
        await store.insertContribution(db, {
          id,
          releaseId,
          circle: (await circleOf(db, release, student.id)) ?? 0,
          sittingId: sitting.id,
          itemId: talk.id,
          authorId: student.id,
          voiceId: null,
        });
      }
      if (known) refuseUnsound(known);
      this.refusePlace(plan, said.place);
      await this.place(db, release, student.id, id, said.place);
      await store.putIn(db, id, { title: said.title.trim(), words, isLetIn: !plan.moderated });
      await this.afterwards(db, id, true);
      await noteInAccount(db, sitting.id, 'itemsOpened', talk.id);
    });
    return this.view(student, releaseId);
  }

  /**
   * Everything that follows from a contribution that is in: corrections stand, sittings are counted, pages are told.
   * @param hasCome it may be new to whoever can hear it; otherwise something became of what was there
   */
  async afterwards(db: Queryable, id: string, hasCome = false): Promise<void> {
    const [row] = await store.contributionsWith(db, [id]);
    if (row) await this.settled(db, row, hasCome);
  }

  private async settled(db: Queryable, row: store.ContributionRow, hasCome: boolean): Promise<void> {
    // What it corrects is heard until others can hear the correction.
    if (row.correctsId && row.putInAt && row.letInAt && !row.takenBackAt && isWhole(row))
      await store.replace(db, row.correctsId);
    if (row.sittingId) await settleSitting(db, row.sittingId);
    await this.tell(db, row, hasCome);
  }

  /** Open pages learn that something was said, or is heard no more. */
  private async tell(db: Queryable, row: store.ContributionRow, hasCome: boolean): Promise<void> {
    const isOut = row.takenBackAt !== null || row.hiddenAt !== null;
    // What is new is asked for alone: thirty open pages do not each ask for everything that was ever said.
    const isNew = hasCome && row.correctsId === null && !isOut;
    const told = isNew
      ? { kind: 'said' as const, subjectId: row.id }
      : { kind: 'discussion' as const, subjectId: row.releaseId };
    // Of what others cannot hear yet only its author has something to learn, and of a draft nobody else at all.
    if (row.putInAt === null || row.letInAt === null || !isWhole(row))
      await insertForPeople(db, told, [row.authorId]);
    else {
      const people = await participantsOf(db, row.releaseId);
      const circles = await store.circlesOf(db, row.releaseId);
      const near = people.filter(
        p => p === row.authorId || row.circle === 0 || circles.get(p) === row.circle || circles.size === 0,
      );
      await insertForPeople(db, told, near);
    }
    if (row.putInAt !== null) await tellTeachersOf(db, row.releaseId, told);
  }

  /**
   * Takes one's own back, or throws a draft away; what was recorded stays among one's own recordings.
   * @throws Trouble inUse once somebody has replied
   */
  async takeBack(student: Me, releaseId: string, id: string): Promise<DiscussionView> {
    await transaction(this.pool, async db => {
      await this.lockOwn(db, student, releaseId);
      const row = await store.findContribution(db, releaseId, id);
      if (!row || row.authorId !== student.id) throw notFound();
      if (row.takenBackAt) return;
      if (row.putInAt && (await store.hasReplies(db, id)))
        throw new Trouble(
          'inUse',
          'Somebody has replied to this already, so it stays. You can correct it: the reply keeps its place.',
        );
      await store.takeBack(db, id);
      await this.afterwards(db, id);
    });
    return this.view(student, releaseId);
  }

  /** What was taken back is in again, as long as the discussion is open. @throws Trouble releaseClosed */
  async bringBack(student: Me, releaseId: string, id: string): Promise<DiscussionView> {
    await transaction(this.pool, async db => {
      const times = await this.lockOwn(db, student, releaseId);
      const row = await store.findContribution(db, releaseId, id);
      if (!row || row.authorId !== student.id) throw notFound();
      if (!row.takenBackAt) return;
      if (row.putInAt) refuseWhenClosed(times, Date.now());
      await store.bringBack(db, id);
      await this.afterwards(db, id);
    });
    return this.view(student, releaseId);
  }

  /** Remembers what somebody has heard. */
  async heard(person: Pick<Me, 'id'>, releaseId: string, ids: readonly string[]): Promise<void> {
    await store.keepHeard(this.pool, { releaseId, personId: person.id, ids });
  }

  /** The participant's row is held first, as by everything else that a student changes here. @returns their times */
  private async lockOwn(db: Queryable, student: Me, releaseId: string): Promise<ReleaseTimes> {
    const { release } = await discussionOf(db, releaseId);
    const exception = await exceptionOf(db, releaseId, student.id, true);
    if (!exception) throw notFound();
    return timesFor(timesOf(release), exception);
  }

  /** The sitting that a student speaks in; begun with the first word. The participant's row is held. */
  private async sittingFor(
    db: Queryable,
    student: Me,
    release: ReleaseRow,
  ): Promise<{ sitting: Pick<SittingRow, 'id'>; times: ReleaseTimes }> {
    const exception = await exceptionOf(db, release.id, student.id, true);
    if (!exception) throw notFound();
    if (!(await store.isStillIn(db, release.id, student.id))) throw new Trouble('notAllowed', LEFT);
    const of = { releaseId: release.id, studentId: student.id };
    const known = await sittingsWith(db, of);
    const inLine = known.map(s => ({
      ...s,
      handedInAtMs: s.handedInAt?.getTime() ?? null,
      setAside: s.setAsideAt !== null,
    }));
    const times = timesFor(timesOf(release), exception);
    const goesOn = openSitting(inLine) ?? inLine.findLast(s => !s.setAside);
    if (goesOn) return { sitting: goesOn, times };
    const id = await ensureSitting(db, {
      ...of,
      id: randomUUID(),
      number: (known.at(-1)?.number ?? 0) + 1,
      arrangement: await arrangementOf(db, student.id),
    });
    await tellTeachers(db, id);
    return { sitting: { id }, times };
  }

  private refusePlace(plan: DiscussionPlan, { parentId, topicId, correctsId }: Place): void {
    if (!parentId && !topicId && !correctsId && !plan.ownSubjects)
      throw new Trouble(
        'notForThisItem',
        'Here threads begin at one of the starting points. Choose one, or reply to somebody.',
      );
  }

  /**
   * Says where a draft belongs. A reply goes where its parent is; whatever became of that meanwhile, what was spoken is kept
   * in its place.
   * @throws Trouble notFound for a place that is not in this discussion, or not in one's circle
   */
  async place(
    db: Queryable,
    release: ReleaseRow,
    authorId: string,
    id: string,
    place: Place,
    leads = false,
  ): Promise<void> {
    const own = leads ? (place.circle ?? 0) : ((await circleOf(db, release, authorId)) ?? 0);
    const corrected = place.correctsId
      ? await store.findContribution(db, release.id, place.correctsId)
      : null;
    if (place.correctsId && (corrected?.authorId !== authorId || !corrected.putInAt)) throw notFound();
    const parentId = corrected ? corrected.parentId : (place.parentId ?? null);
    const parent = parentId ? await store.findContribution(db, release.id, parentId) : null;
    if (parentId && !parent?.putInAt) throw notFound();
    if (parent && !leads && parent.circle !== 0 && parent.circle !== own && parent.authorId !== authorId)
      throw notFound();
    const topicId = parent ? parent.topicId : corrected ? corrected.topicId : (place.topicId ?? null);
    if (topicId && !release.content.items.some(i => i.id === topicId && i.answerBy === 'nothing'))
      throw notFound();
    const [fromMs, toMs] = [place.fromMs ?? null, place.toMs ?? null];
    const isMoment = parent?.voiceId != null && fromMs !== null && toMs !== null && fromMs < toMs;
    await store.placeDraft(db, id, {
      topicId,
      parentId,
      fromMs: isMoment ? fromMs : (corrected?.fromMs ?? null),
      toMs: isMoment ? toMs : (corrected?.toMs ?? null),
      correctsId: corrected?.id ?? null,
      circle: leads && parent ? parent.circle : corrected ? corrected.circle : own,
    });
  }

  private async refuseTooMany(db: Queryable, releaseId: string, personId: string): Promise<void> {
    if ((await store.countOf(db, releaseId, personId)) >= LIMITS.contributionsOfPerson)
      throw new Trouble('invalid', 'You have said so much here that it is full. Talk to your teacher.');
  }
}

const LEFT = 'You are not in this class any more: what you said stays, and you hear the others no longer.';
const CLOSED = 'This discussion is closed: nothing can be put in any more. Everything can still be heard.';

function refuseWhenClosed(times: ReleaseTimes, beganAtMs: number): void {
  if (!takesRecordingBegunAt(times, beganAtMs))
    throw new Trouble(
      'releaseClosed',
      'This discussion was closed before you began. What you made stays on this device; ask your teacher for an extension.',
    );
}

/** What was spoken comes before it is put in: a device without a network tells of it later. @throws Trouble unfinished */
export function refuseUnheardOf({ isSpoken }: Pick<PutIn, 'isSpoken'>): void {
  if (isSpoken)
    throw new Trouble(
      'unfinished',
      'This recording has not reached Ecoute yet. It is kept on this device, and put in as soon as it is here.',
    );
}

/** @throws Trouble invalid for what was looked at and cannot be heard */
export function refuseUnsound({ voiceState }: Pick<store.ContributionRow, 'voiceState'>): void {
  if (voiceState === 'refused')
    throw new Trouble('invalid', 'This recording does not stand. Record it again, then put it in.');
}

export function refuseEmpty(words: string): void {
  if (words === '')
    throw new Trouble('invalid', 'There is nothing in it yet. Say or write something.', {
      fields: { words: 'Write something.' },
    });
}

/** The open pages of the teachers learn of it. */
async function tellTeachersOf(
  db: Queryable,
  releaseId: string,
  told: Pick<Change, 'kind' | 'subjectId'>,
): Promise<void> {
  const release = await findRelease(db, releaseId);
  if (release) await insertChange(db, { ...told, classId: release.classId, personId: null });
}
