import { createHash } from 'node:crypto';
import {
  handInStep,
  patienceAfterTimeUp,
  serverStep,
  TIME_UP_WAIT_MS,
  type ServerSide,
} from '@ecoute/core/takes/fate';
import { countingTake, phaseAt } from '@ecoute/core/timing/itemRun';
import { HAND_IN_GRACE_MS, timeUpAt } from '@ecoute/core/timing/sittingClock';
import type { Item } from '@ecoute/contract/assessments';
import { planOf } from '@ecoute/contract/assessment/discussion';
import {
  engineEvents,
  isGap,
  type EarlierWish,
  type HandIn,
  type Receipt,
  type ReceiptLine,
  type SittingEvent,
  type SittingEventKind,
  type SittingView,
} from '@ecoute/contract/sittings';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { UNTIL_DONE, type JobQueue } from '../../platform/jobs/queue';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { serverSideOf } from '../recordings/view';
import { moveWhatStands } from './again';
import { refreshFacts } from './facts';
import { jointsOf } from './joint.store';
import {
  contentFor,
  noteInAccount,
  refuseDiscussion,
  situationOf,
  tellTeachers,
  type Situation,
} from './situation';
import * as store from './store';
import * as answers from './answers.store';
import * as events from './events.store';

/** A sitting whose time is up and whose bytes still come is looked at again after this long. */
const LOOK_AGAIN_MS = 5_000;
/** A hand-in that was wanted longer ago than this was held up, by a connection or by what had to arrive first. */
const HELD_UP_MS = 10_000;
/** What was just ended as far as it came is looked at within seconds; a hand-in waits that long for it. */
const SETTLES_MS = 5_000;

interface Unsettled {
  take: answers.TakeRow;
  side: ServerSide;
}

/** The end of a sitting: handing in, by hand or by the clock; taking back; and what becomes of takes that nobody brings. */
export class HandIns {
  /** @param view how the student sees the sitting afterwards */
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly jobs: JobQueue,
    private readonly view: (sittingId: string) => Promise<SittingView>,
  ) {
    jobs.on('timeUp', (payload: { sittingId: string }) => this.timeUp(payload.sittingId), UNTIL_DONE);
    jobs.onSweep(async () => {
      for (const { id } of await store.clocksWithoutJob(pool)) await this.handInAt(pool, id, Date.now());
    });
    recordings.onSettled((db, recordingId) => this.takeSettled(db, recordingId));
    recordings.expectGate(answers.wentThroughGate);
  }

  /** Sets the clock of a limited sitting going, by the server's own time; again is harmless. */
  async beginClock({ sitting, release }: Situation): Promise<void> {
    const limitMs = release.content.sittingLimitMs;
    if (limitMs === null || sitting.handedInAt) return;
    const atMs = Date.now();
    await transaction(this.pool, async db => {
      if (!(await store.beginClock(db, sitting.id, new Date(atMs)))) return;
      await this.handInAt(db, sitting.id, timeUpAt(atMs, limitMs, sitting.arrangement)! + HAND_IN_GRACE_MS);
    });
  }

  private handInAt(db: Queryable, sittingId: string, atMs: number): Promise<void> {
    const timing = { runAfter: new Date(atMs), urgent: true, subjectId: sittingId };
    return this.jobs.add(db, 'timeUp', { sittingId }, timing);
  }

  /**
   * Job: a sitting's time is up. Everything recorded is handed in, also when the browser is gone; sounds on their
   * way are waited for while they come, and after that count as far as they came.
   */
  private async timeUp(id: string): Promise<void> {
    const { sitting, upAtMs } = await situationOf(this.pool, id);
    if (sitting.handedInAt || upAtMs === null) return;
    const now = Date.now();
    // A break has put the end off.
    if (upAtMs > now) return this.handInAt(this.pool, id, upAtMs + HAND_IN_GRACE_MS);
    let waits = false;
    for (const { take, side } of await this.unsettled(id)) {
      // Whoever sends a byte now and then puts the end off no further than this.
      const patience = now > upAtMs + TIME_UP_WAIT_MS ? 0 : patienceAfterTimeUp(side);
      const step = serverStep(side, patience);
      if (step === 'lookAtIt') await this.recordings.arrived(take.id);
      else if (step === 'endIt') await this.recordings.endAsItCame(take.id);
      waits ||= handInStep(side) !== 'withoutResult';
    }
    if (waits) return this.handInAt(this.pool, id, now + LOOK_AGAIN_MS);
    await this.handIn(id, { withGaps: true }, true);
  }

  /** Takes of a sitting whose bytes are under way, or that are being looked at. */
  private async unsettled(sittingId: string): Promise<Unsettled[]> {
    const takes = (await answers.takesOfSittings(this.pool, [sittingId])).filter(
      t => t.recording.state === 'arriving' || t.recording.state === 'checking',
    );
    const came = await this.recordings.cameOf(takes.map(t => t.recording));
    return takes.map(take => ({ take, side: serverSideOf(take.recording, came.get(take.id) ?? null) }));
  }

  /** What was just ended as it came is looked at: waits a moment for that. */
  private async untilLookedAt(ids: readonly string[]): Promise<void> {
    const until = Date.now() + SETTLES_MS;
    while (Date.now() < until) {
      const rest = await Promise.all(ids.map(id => this.recordings.view(id)));
      if (rest.every(r => r.state !== 'checking')) return;
      await new Promise(resolve => setTimeout(resolve, 100));
    }
  }

  /**
   * Ends a take whose rest nobody brings, by its student: as far as it came, or as lost and given back.
   * @throws Trouble unfinished while its bytes come; handedIn
   */
  async endTake(takeId: string): Promise<SittingView> {
    const sittingId = await answers.sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    const sitting = await store.findSitting(this.pool, sittingId);
    if (sitting?.handedInAt) throw new Trouble('handedIn', 'This is handed in already.');
    const found = (await this.unsettled(sittingId)).find(u => u.take.id === takeId);
    if (found && handInStep(found.side) === 'wait')
      throw new Trouble('unfinished', 'This recording is coming just now. Wait for it a moment.');
    if (found) await this.recordings.endAsItCame(takeId);
    await this.untilLookedAt([takeId]);
    return this.view(sittingId);
  }

  /**
   * Hands in. Doing it twice, or in two windows at once, gives the same receipt.
   * @param byItself the sitting's time was up; nobody asked
   * @param asOfMs when those handed in with whom it was recorded; null for now
   * @throws Trouble unfinished while a recording is on its way; recordingsAway, until the student says to go on without,
   * for those that another device has and does not send; hasGaps when required items have no answer and `withGaps`
   * is false; wentOnElsewhere for an earlier wish after which the sitting went on
   */
  async handIn(
    id: string,
    { withGaps, asTheyCame = false, wish }: HandIn,
    byItself = false,
    asOfMs: number | null = null,
  ): Promise<Receipt> {
    if (!byItself) await this.settleFirst(id, asTheyCame);
    return transaction(this.pool, async db => {
      const { sitting, release, times, upAtMs } = await situationOf(db, id, true);
      if (sitting.receipt) return sitting.receipt;
      refuseDiscussion(release.content);
      await moveWhatStands(db, sitting, 'forth');
      const takes = await answers.takesOfSittings(db, [id]);
      const now = Date.now();
      const atMs = wish ? await wantedAt(db, sitting, takes, wish, now) : (asOfMs ?? now);
      const wasHeldUp = asOfMs === null && now - atMs > HELD_UP_MS;
      // One that was begun in this very moment, in another window.
      if (!byItself && takes.some(t => t.recording.state === 'arriving')) throw onItsWay();
      // Its page may be the first to hand in what the clock has ended.
      const isUp = upAtMs !== null && (byItself || atMs >= upAtMs);
      const handedInAt = new Date(isUp ? upAtMs : atMs);
      const { items } = contentFor(release.content, sitting);
      const receipt: Receipt = {
        sittingId: id,
        handedInAt: handedInAt.toISOString(),
        late: handedInAt.getTime() > times.dueAtMs,
        byItself: isUp || byItself,
        ...(wasHeldUp && { heardAt: new Date(now).toISOString() }),
        lines: linesOf(items, {
          takes,
          written: await answers.writtenOf(db, [id]),
          events: await events.eventsOf(db, id),
          atMs: handedInAt.getTime(),
        }),
      };
      const gaps = items.filter(
        (item, i) =>
          item.required &&
          (sitting.openItems?.includes(item.id) ?? true) &&
          isGap(item.answerBy, receipt.lines[i]!),
      ).length;
      if (gaps > 0 && !withGaps)
        throw new Trouble(
          'hasGaps',
          `${gaps === 1 ? 'One item has' : `${gaps} items have`} no answer yet. Go back to answer, or hand in as it is.`,
        );
      await store.handIn(db, id, handedInAt, receipt);
      if (wasHeldUp) await noteInAccount(db, id, 'handInWanted', null, atMs);
      await noteInAccount(db, id, 'handedIn');
      await refreshFacts(db, [id]);
      await this.passOn(db, receipt);
      await tellTeachers(db, id);
      return receipt;
    });
  }

  /** What was recorded together becomes everybody's with the hand-in. */
  private async passOn(db: Queryable, { lines }: Receipt): Promise<void> {
    const joints = await jointsOf(
      db,
      lines.flatMap(l => l.takeId ?? []),
    );
    for (const id of new Set(joints.values()))
      await this.jobs.add(db, 'shareJoint', { id }, { urgent: true, subjectId: id });
  }

  /** Brings every take of a sitting to where a hand-in can go on, or says what it waits for. */
  private async settleFirst(id: string, asTheyCame: boolean): Promise<void> {
    const sitting = await store.findSitting(this.pool, id);
    if (!sitting) throw notFound();
    if (sitting.handedInAt) return;
    const ended: string[] = [];
    const away: string[] = [];
    for (const { take, side } of await this.unsettled(id)) {
      if (serverStep(side) === 'lookAtIt') await this.recordings.arrived(take.id);
      switch (handInStep(side)) {
        case 'wait':
          // Looked at within a moment, mostly; bytes that come are not waited for here.
          if (side.state === 'arriving' && side.length === null) throw onItsWay();
          ended.push(take.id);
          break;
        case 'ask':
          if (!asTheyCame) away.push(take.id);
          else if (await this.recordings.endAsItCame(take.id)) ended.push(take.id);
          break;
        case 'withoutResult':
        case 'goOn':
          break;
      }
    }
    if (away.length > 0)
      throw new Trouble(
        'recordingsAway',
        `${away.length === 1 ? 'A recording is' : `${away.length} recordings are`} on another device, or in another browser, that does not send just now. Open Ecoute there, or hand in with what has come of ${away.length === 1 ? 'it' : 'them'}.`,
        { current: away },
      );
    if (ended.length === 0) return;
    await this.untilLookedAt(ended);
    const still = await this.unsettled(id);
    if (still.some(({ side }) => ['wait', 'ask'].includes(handInStep(side)))) throw onItsWay();
  }

  /** Why what was handed in cannot be taken back, in words; null when it can. */
  async whyNotWithdraw(db: Queryable, { sitting, release, times }: Situation): Promise<string | null> {
    if (!sitting.handedInAt) return 'This is not handed in yet.';
    if (planOf(release.content) || !release.content.mayWithdraw || release.content.sittingLimitMs !== null)
      return 'This assessment is handed in once. Ask your teacher to let you record it again.';
    const handedIn = sitting.receipt?.lines.flatMap(l => l.takeId ?? []) ?? [];
    if ((await jointsOf(db, handedIn)).size > 0)
      return 'It was recorded together and is handed in for everybody who is heard in it. Ask your teacher to let you record it again.';
    if (sitting.modelsOpenedAt)
      return 'You have opened the model answers, so this stays handed in. Ask your teacher to let you record it again.';
    if (sitting.othersOpenedAt)
      return 'You have heard what the others recorded, so this stays handed in. Ask your teacher to let you record it again.';
    if (Date.now() > times.dueAtMs) return 'It is due already. Ask your teacher to let you record it again.';
    if (sitting.feedbackAt || sitting.askedAgainAt || (await store.isBegunByTeacher(db, sitting.id)))
      return 'Your teacher listens to it already. Ask your teacher to let you record it again.';
    return null;
  }

  /**
   * Takes back what was handed in, to go on with it; every take stays, and the receipt too.
   * @throws Trouble staysHandedIn with the reason when it cannot be taken back (any more)
   */
  async withdraw(id: string): Promise<SittingView> {
    await transaction(this.pool, async db => {
      const both = await situationOf(db, id, true);
      const why = await this.whyNotWithdraw(db, both);
      if (why) throw new Trouble('staysHandedIn', why);
      await moveWhatStands(db, both.sitting, 'back');
      await store.withdraw(db, id);
      await noteInAccount(db, id, 'withdrawn');
      await refreshFacts(db, [id]);
      await tellTeachers(db, id);
    });
    return this.view(id);
  }

  /** A take was looked at, ended or let go of: what lists count of its sitting is other than before. */
  private async takeSettled(db: Queryable, recordingId: string): Promise<void> {
    const sittingId = await answers.sittingOfTake(db, recordingId);
    if (!sittingId) return;
    // Two takes that settle at once are counted one after the other.
    const sitting = await store.findSitting(db, sittingId, true);
    const takes = await answers.takesOfSittings(db, [sittingId]);
    const take = takes.find(t => t.id === recordingId)!;
    const fate = fateInAccount(take);
    if (fate)
      await events.keepEvents(db, sittingId, [
        {
          id: onceId(`${recordingId} ${fate} ${take.recording.endedEarlyAt?.getTime() ?? ''}`),
          itemId: take.itemId,
          kind: fate,
          at: new Date().toISOString(),
        },
      ]);
    // What was recorded after the feedback was never handed in.
    if (!take.askId) await this.completeReceipt(db, sitting!, takes, take.itemId);
    await refreshFacts(db, [sittingId]);
    await tellTeachers(db, sittingId);
    // Its student may be looking at another screen than the one it was recorded with.
    await insertChange(db, {
      kind: 'sitting',
      subjectId: sittingId,
      classId: null,
      personId: sitting!.studentId,
    });
  }

  /** Handed in before the result was known: the receipt says what was found once it is. */
  private async completeReceipt(
    db: Queryable,
    sitting: store.SittingRow,
    takes: readonly answers.TakeRow[],
    itemId: string,
  ): Promise<void> {
    const { receipt, handedInAt } = sitting;
    const line = receipt?.lines.find(l => l.itemId === itemId);
    if (!receipt || !handedInAt || !line?.takeId || line.sha256 !== null) return;
    const { release } = await situationOf(db, sitting.id);
    const item = release.content.items.find(i => i.id === itemId);
    if (!item) return;
    const [found] = linesOf([item], {
      takes,
      written: await answers.writtenOf(db, [sitting.id]),
      events: await events.eventsOf(db, sitting.id),
      atMs: handedInAt.getTime(),
    });
    const lines = receipt.lines.map(l => (l.itemId === itemId ? found! : l));
    await store.changeReceipt(db, sitting.id, { ...receipt, lines });
  }
}

/**
 * When a student wanted to hand in, ms since 1970, told later by a device that had no connection: its word is taken as it
 * is for the beginning of a take, and stands in the account.
 * @throws Trouble wentOnElsewhere when the sitting went on after it
 */
async function wantedAt(
  db: Queryable,
  sitting: store.SittingRow,
  takes: readonly answers.TakeRow[],
  { at, deviceId }: EarlierWish,
  now: number,
): Promise<number> {
  const atMs = Math.min(now, Math.max(Date.parse(at), sitting.beganAt.getTime()));
  if (now - atMs <= HELD_UP_MS) return atMs;
  const holder = await store.holderOf(db, sitting.id);
  const account = await events.eventsOf(db, sitting.id);
  const wentOn =
    (holder?.deviceId != null && holder.deviceId !== deviceId) ||
    takes.some(t => t.beganAt.getTime() > atMs) ||
    account.some(e => e.kind === 'withdrawn' && Date.parse(e.at) > atMs);
  if (wentOn)
    throw new Trouble(
      'wentOnElsewhere',
      'This sitting went on after you wanted to hand it in, so it is not handed in. Open it and hand it in as it is now.',
    );
  return atMs;
}

function onItsWay(): Trouble {
  return new Trouble('unfinished', 'A recording is still on its way. It is safe; hand in again in a moment.');
}

/** What the account says of a take that does not simply stand. */
function fateInAccount({ recording }: answers.TakeRow): SittingEventKind | null {
  if (recording.problem === 'lost') return 'takeLost';
  if (recording.problem === 'cancelled') return 'takeLetGo';
  return recording.state === 'stored' && recording.endedEarlyAt ? 'takeCutShort' : null;
}

/**
 * An id that is the same each time for the same words: what is noted twice stands once. Version 5: of later versions
 * MariaDB refuses those that could be an earlier one with its parts the other way round, one in twenty.
 */
function onceId(words: string): string {
  const hex = createHash('sha256').update(words).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-5${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

/** What stands at each item when it is handed in. */
function linesOf(
  items: readonly Item[],
  {
    takes,
    written,
    events,
    atMs,
  }: {
    takes: readonly answers.TakeRow[];
    written: readonly answers.WrittenRow[];
    events: readonly SittingEvent[];
    atMs: number;
  },
): ReceiptLine[] {
  return items.map(item => {
    const own = takes.filter(t => t.itemId === item.id);
    // All here, and not looked at yet after a minute: it is handed in, and what is found in it is said later.
    const unseen = own.filter(t => t.recording.state === 'checking').at(-1);
    const take = countingTake<answers.TakeRow>(own) ?? unseen ?? null;
    const run = phaseAt(item, engineEvents(events, item.id), atMs);
    const isSeen = take !== null && take !== unseen;
    return {
      itemId: item.id,
      takeId: take?.id ?? null,
      written: written.some(w => w.itemId === item.id),
      passed: item.passAllowed && run.passed,
      studied: run.studied,
      medium: take?.recording.medium ?? null,
      fileName: take?.recording.fileName ?? null,
      durationMs: take?.durationMs ?? null,
      sizeBytes: take?.recording.sizeBytes ?? null,
      sha256: isSeen ? take.recording.sha256 : null,
      ...(take?.recording.endedEarlyAt && { cutShort: true }),
      ...(!take && own.some(t => t.recording.problem === 'lost') && { lost: true }),
    };
  });
}
