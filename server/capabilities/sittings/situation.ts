/** A sitting with what decides its times, and what follows from that for whoever does something in it. */
import { randomUUID } from 'node:crypto';
import { missingMs, recordedForMs } from '@ecoute/core/takes/missing';
import { arranged, extended } from '@ecoute/core/timing/arrangements';
import { takeLengthMs } from '@ecoute/core/timing/conversation';
import { orderOf } from '@ecoute/core/timing/order';
import { isRun } from '@ecoute/core/timing/strip';
import { breaksIn, timeUpAt, withinSitting } from '@ecoute/core/timing/sittingClock';
import { answerFromMs } from '@ecoute/core/timing/takeClock';
import {
  CLOSING_GRACE_MS,
  NO_EXCEPTION,
  takesRecordingBegunAt,
  timesFor,
  type Exception,
  type ReleaseTimes,
} from '@ecoute/core/timing/sittingState';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { SittingEvent, SittingEventKind, TakeView } from '@ecoute/contract/sittings';
import { insertChange } from '../../platform/changes/store';
import type { Pool, Queryable } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import { viewOf, type Came } from '../recordings/view';
import { findRelease, timesOf, type ReleaseRow } from '../releases/store';
import { exceptionOf } from '../releases/participants.store';
import * as store from './store';
import * as answers from './answers.store';
import * as events from './events.store';

export interface Situation {
  sitting: store.SittingRow;
  release: ReleaseRow;
  exception: Exception;
  /** As they hold for this student. */
  times: ReleaseTimes;
  /** When the time of the whole sitting is up; null where no clock runs. */
  upAtMs: number | null;
}

/** A sitting with what decides its times. @param lock holds its row until the transaction ends */
export async function situationOf(db: Queryable, id: string, lock = false): Promise<Situation> {
  const sitting = await store.findSitting(db, id, lock);
  const release = sitting && (await findRelease(db, sitting.releaseId));
  if (!sitting || !release) throw notFound();
  const exception = (await exceptionOf(db, release.id, sitting.studentId)) ?? NO_EXCEPTION;
  const { breakMs } = sitting.arrangement;
  const account = breakMs > 0 && sitting.clockBeganAt ? await events.eventsOf(db, id) : [];
  return {
    sitting,
    release,
    exception,
    times: timesFor(timesOf(release), exception),
    upAtMs: timeUpAt(
      sitting.clockBeganAt?.getTime() ?? null,
      release.content.sittingLimitMs,
      sitting.arrangement,
      breaksIn(account.map(e => ({ kind: e.kind, atMs: Date.parse(e.at) }))),
      Date.now(),
    ),
  };
}

/** @throws Trouble isDiscussion in a discussion, where what is said goes its own way, and nobody hands in by hand */
export function refuseDiscussion(content: AssessmentContent): void {
  if (planOf(content)) throw new Trouble('isDiscussion', 'This is a discussion: open it, and speak there.');
}

/** @throws Trouble handedIn, releaseClosed or timeUp for what was begun at an instant after hand-in, time-up or closing */
export function refuseWhenOver(
  { sitting, times, upAtMs }: Pick<Situation, 'sitting' | 'times' | 'upAtMs'>,
  beganAtMs: number,
): void {
  if (sitting.handedInAt)
    throw new Trouble(
      'handedIn',
      'This is handed in already. What you made stays on this device; ask your teacher to let you record it again.',
    );
  if (!takesRecordingBegunAt(times, beganAtMs))
    throw new Trouble(
      'releaseClosed',
      'This assessment closed before you began. What you made stays on this device; ask your teacher for an extension.',
    );
  if (!withinSitting(beganAtMs, upAtMs === null ? null : upAtMs + CLOSING_GRACE_MS))
    throw new Trouble(
      'timeUp',
      'The time of this sitting was up before you began. What you made stays on this device; what was made before is handed in.',
    );
}

/** Writes into the account what the server itself saw. */
export async function noteInAccount(
  db: Queryable,
  sittingId: string,
  kind: SittingEventKind,
  itemId: string | null = null,
  atMs = Date.now(),
): Promise<void> {
  await events.keepEvents(db, sittingId, [
    { id: randomUUID(), itemId, kind, at: new Date(atMs).toISOString() },
  ]);
}

/** The open pages of the teachers learn that something happened in a sitting. */
export async function tellTeachers(db: Queryable, sittingId: string): Promise<void> {
  const place = await answers.placeOf(db, sittingId);
  if (place)
    await insertChange(db, {
      kind: 'release',
      subjectId: place.releaseId,
      classId: place.classId,
      personId: null,
    });
}

/** What happens in a sitting within this time is one message: a class that records tells each second of something. */
const GATHER_MS = 1_500;
const gathered = new Map<string, NodeJS.Timeout>();

/** The same, a moment later, and once for whatever else happens in the release until then. */
export async function tellTeachersSoon(pool: Pool, sittingId: string): Promise<void> {
  const place = await answers.placeOf(pool, sittingId);
  if (!place || gathered.has(place.releaseId)) return;
  const tell = () => {
    gathered.delete(place.releaseId);
    const change = {
      kind: 'release' as const,
      subjectId: place.releaseId,
      classId: place.classId,
      personId: null,
    };
    // Nothing rests on it: the next event, or the next look at the page, says the same.
    void insertChange(pool, change).catch(() => undefined);
  };
  gathered.set(place.releaseId, setTimeout(tell, GATHER_MS).unref());
}

/** An assessment with its items in a sitting's own order. */
export function inOrder(content: AssessmentContent, sittingId: string): AssessmentContent {
  return { ...content, items: orderOf(content.items, content.sections, sittingId) };
}

/** An assessment as one sitting meets it: in its own order, with the times of its student's arrangement. */
export function contentFor(
  content: AssessmentContent,
  { id, arrangement }: Pick<store.SittingRow, 'id' | 'arrangement'>,
): AssessmentContent {
  const items = inOrder(content, id)
    .items.map(item => arranged(item, arrangement))
    .map(item => (isRun(item) ? { ...item, answerLimitMs: takeLengthMs(item.turns) } : item));
  const { sittingLimitMs } = content;
  return {
    ...content,
    items,
    sittingLimitMs: sittingLimitMs === null ? null : extended(sittingLimitMs, arrangement),
  };
}

/** @param came what has come of it, while its bytes are under way */
export function takeView(
  take: answers.TakeRow,
  came: Came | null = null,
  account: readonly SittingEvent[] = [],
): TakeView {
  return {
    id: take.id,
    itemId: take.itemId,
    number: take.number,
    beganAt: take.beganAt.toISOString(),
    chosenAt: take.chosenAtMs === null ? null : new Date(take.chosenAtMs).toISOString(),
    clock: take.clock,
    source: take.source,
    title: take.title,
    note: take.note,
    pictureId: take.pictureId,
    recording: viewOf(take.recording, came),
    saidAt: take.claimedAt?.toISOString() ?? null,
    missingMs: missingIn(take, account),
  };
}

/** What of a recording its device did not record, as its own times say. In ms. */
const holesMs = ({ details }: answers.TakeRow['recording']): number =>
  (details?.holes ?? []).reduce((sum, hole) => sum + hole.toMs - hole.fromMs, 0);

/** How much of a take that was recorded here is not in its sound, in ms; null where nothing is missing. */
export function missingIn(take: answers.TakeRow, account: readonly SittingEvent[]): number | null {
  const { recording, clock, source, itemId, beganAt } = take;
  // What was cut, brought, or ended without its device is shorter for another reason.
  if (
    recording.state !== 'stored' ||
    source === 'uploaded' ||
    recording.wholeMs !== null ||
    recording.endedEarlyAt
  )
    return null;
  const own = account
    .filter(e => e.itemId === itemId)
    .map(({ kind, at }) => ({ kind, atMs: Date.parse(at) }));
  const lengthMs =
    recording.durationMs === null
      ? null
      : recording.durationMs - holesMs(recording) - answerFromMs({ clock, gateMs: recording.gateMs });
  return missingMs(lengthMs, recordedForMs(own, beganAt.getTime()));
}
