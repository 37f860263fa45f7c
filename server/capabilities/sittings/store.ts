import type { Used } from '@ecoute/contract/marking';
import type { Judgement } from '@ecoute/contract/judgements';
import type { Receipt, SittingEvent, SittingEventKind } from '@ecoute/contract/sittings';
import type { TakeSource } from '@ecoute/contract/recordings';
import { ORDINARY, type Arrangement } from '@ecoute/core/timing/arrangements';
import type { TakeInLine } from '@ecoute/core/timing/itemRun';
import type { Heard } from '@ecoute/core/takes/claim';
import type { TakeClock } from '@ecoute/core/timing/takeClock';
import { row, rows, run, type Queryable } from '../../platform/database';
import { RECORDING_COLUMNS, withDetails, type RecordingRow } from '../recordings/store';

export interface SittingRow {
  id: string;
  releaseId: string;
  studentId: string;
  /** From 1. */
  number: number;
  /** As it was when the sitting began. */
  arrangement: Arrangement;
  beganAt: Date;
  clockBeganAt: Date | null;
  handedInAt: Date | null;
  returnedAt: Date | null;
  givenBackAt: Date | null;
  setAsideAt: Date | null;
  lateAcceptedAt: Date | null;
  notesShownAt: Date | null;
  /** When its student opened the model answers, and what the others recorded; null before. */
  modelsOpenedAt: Date | null;
  othersOpenedAt: Date | null;
  receipt: Receipt | null;
}

const SITTING = `SELECT id, release_id AS releaseId, student_id AS studentId, number, arrangement, began_at AS beganAt,
    clock_began_at AS clockBeganAt, handed_in_at AS handedInAt, returned_at AS returnedAt, given_back_at AS givenBackAt,
    set_aside_at AS setAsideAt, late_accepted_at AS lateAcceptedAt, notes_shown_at AS notesShownAt,
    models_opened_at AS modelsOpenedAt, others_opened_at AS othersOpenedAt, receipt FROM sittings`;

type RawSitting = Omit<SittingRow, 'receipt' | 'arrangement'> & {
  receipt: string | null;
  arrangement: string | null;
};

const read = (raw: RawSitting | null): SittingRow | null =>
  raw && {
    ...raw,
    receipt: raw.receipt ? (JSON.parse(raw.receipt) as Receipt) : null,
    arrangement: { ...ORDINARY, ...(raw.arrangement ? (JSON.parse(raw.arrangement) as Arrangement) : {}) },
  };

/** One sitting; `lock` holds its row until the transaction ends, so that takes and hand-in agree. */
export async function findSitting(db: Queryable, id: string, lock = false): Promise<SittingRow | null> {
  return read(await row(db, `${SITTING} WHERE id = :id ${lock ? 'FOR UPDATE' : ''}`, { id }));
}

export async function sittingsOf(db: Queryable, studentId: string): Promise<SittingRow[]> {
  const found = await rows<RawSitting>(
    db,
    `${SITTING} WHERE student_id = :studentId ORDER BY returned_at DESC LIMIT 500`,
    { studentId },
  );
  return found.map(read).filter(s => s !== null);
}

/** A student's sittings with one release, in order. */
export async function sittingsWith(
  db: Queryable,
  of: { releaseId: string; studentId: string },
): Promise<SittingRow[]> {
  const found = await rows<RawSitting>(
    db,
    `${SITTING} WHERE release_id = :releaseId AND student_id = :studentId ORDER BY number`,
    of,
  );
  return found.map(read).filter(s => s !== null);
}

/** Begins a sitting; the same number twice is the same sitting. @returns its id */
export async function ensureSitting(
  db: Queryable,
  sitting: {
    id: string;
    releaseId: string;
    studentId: string;
    number?: number;
    arrangement?: Arrangement | null;
  },
): Promise<string> {
  const { number = 1, arrangement = null } = sitting;
  await run(
    db,
    `INSERT IGNORE INTO sittings (id, release_id, student_id, number, arrangement, began_at, answered, finished, waiting_ms)
     VALUES (:id, :releaseId, :studentId, :number, :arrangement, UTC_TIMESTAMP(3), 0, 0, 0)`,
    { ...sitting, number, arrangement: arrangement && JSON.stringify(arrangement) },
  );
  const found = await row<{ id: string }>(
    db,
    'SELECT id FROM sittings WHERE release_id = :releaseId AND student_id = :studentId AND number = :number',
    { ...sitting, number },
  );
  return found!.id;
}

/** What lists count of a sitting. */
export async function keepFacts(
  db: Queryable,
  id: string,
  facts: { answered: number; finished: number; waitingMs: number },
): Promise<void> {
  await run(
    db,
    'UPDATE sittings SET answered = :answered, finished = :finished, waiting_ms = :waitingMs WHERE id = :id',
    { id, ...facts },
  );
}

export async function sittingsWithoutFacts(db: Queryable, most: number): Promise<string[]> {
  return (
    await rows<{ id: string }>(db, 'SELECT id FROM sittings WHERE answered IS NULL LIMIT :most', { most })
  ).map(s => s.id);
}

/** The arrangement that holds for a student from now on. */
export async function arrangementOf(db: Queryable, personId: string): Promise<Arrangement> {
  const found = await row<{ arrangement: string }>(
    db,
    'SELECT arrangement FROM arrangements WHERE person_id = :personId',
    { personId },
  );
  return { ...ORDINARY, ...(found ? (JSON.parse(found.arrangement) as Arrangement) : {}) };
}

/** Hands in. The receipt is kept for good, also when what was handed in is taken back. */
export async function handIn(db: Queryable, id: string, handedInAt: Date, receipt: Receipt): Promise<void> {
  await run(
    db,
    `INSERT INTO receipts (sitting_id, handed_in_at, receipt) VALUES (:id, :handedInAt, :receipt)
     ON DUPLICATE KEY UPDATE receipt = VALUES(receipt)`,
    { id, handedInAt, receipt: JSON.stringify(receipt) },
  );
  await run(db, 'UPDATE sittings SET handed_in_at = :handedInAt, receipt = :receipt WHERE id = :id', {
    id,
    handedInAt,
    receipt: JSON.stringify(receipt),
  });
}

/** Every receipt that was given for a sitting, the oldest first. */
export async function allReceipts(db: Queryable, id: string): Promise<Receipt[]> {
  const found = await rows<{ receipt: string }>(
    db,
    'SELECT receipt FROM receipts WHERE sitting_id = :id ORDER BY handed_in_at',
    { id },
  );
  return found.map(f => JSON.parse(f.receipt) as Receipt);
}

/** The student opens the model answers, or what the others recorded. */
export async function openForGood(db: Queryable, id: string, what: 'models' | 'others'): Promise<boolean> {
  const column = what === 'models' ? 'models_opened_at' : 'others_opened_at';
  return (
    (await run(db, `UPDATE sittings SET ${column} = UTC_TIMESTAMP(3) WHERE id = :id AND ${column} IS NULL`, {
      id,
    })) === 1
  );
}

/** Limited sittings whose clock runs and that no job will hand in. */
export async function clocksWithoutJob(db: Queryable): Promise<{ id: string }[]> {
  return rows(
    db,
    `SELECT s.id FROM sittings s JOIN releases r ON r.id = s.release_id JOIN assessment_versions v ON v.id = r.version_id
     WHERE s.handed_in_at IS NULL AND s.clock_began_at IS NOT NULL AND s.set_aside_at IS NULL
       AND JSON_VALUE(v.content, '$.sittingLimitMs') IS NOT NULL
       AND NOT EXISTS (SELECT 1 FROM jobs j WHERE j.kind = 'timeUp' AND j.subject_id = s.id AND j.state <> 'failed')
     LIMIT 2000`,
  );
}

/** Sets the clock of a sitting going. False when it runs already. */
export async function beginClock(db: Queryable, id: string, at: Date): Promise<boolean> {
  return (
    (await run(
      db,
      'UPDATE sittings SET clock_began_at = :at WHERE id = :id AND clock_began_at IS NULL AND handed_in_at IS NULL',
      { id, at },
    )) === 1
  );
}

/** What was handed in, by sitting. */
export async function receiptsOf(db: Queryable, ids: readonly string[]): Promise<Map<string, Receipt>> {
  if (ids.length === 0) return new Map();
  const found = await rows<{ id: string; receipt: string }>(
    db,
    'SELECT id, receipt FROM sittings WHERE id IN (:ids) AND receipt IS NOT NULL',
    { ids },
  );
  return new Map(found.map(f => [f.id, JSON.parse(f.receipt) as Receipt]));
}

export interface WrittenRow {
  sittingId: string;
  itemId: string;
  text: string;
  /** From 1, up with each change. */
  revision: number;
  updatedAt: Date;
}

/** Written answers of some sittings that hold any words. */
export async function writtenOf(db: Queryable, sittingIds: readonly string[]): Promise<WrittenRow[]> {
  if (sittingIds.length === 0) return [];
  return rows<WrittenRow>(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, text, revision, updated_at AS updatedAt
     FROM written_answers WHERE sitting_id IN (:sittingIds) AND text <> ''`,
    { sittingIds },
  );
}

/** One written answer, also an empty one; its row is held until the transaction ends. */
export async function writtenIn(
  db: Queryable,
  { sittingId, itemId }: { sittingId: string; itemId: string },
): Promise<WrittenRow | null> {
  return row(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, text, revision, updated_at AS updatedAt
     FROM written_answers WHERE sitting_id = :sittingId AND item_id = :itemId FOR UPDATE`,
    { sittingId, itemId },
  );
}

export async function keepWritten(
  db: Queryable,
  answer: { sittingId: string; itemId: string; text: string; revision: number },
): Promise<void> {
  await run(
    db,
    `INSERT INTO written_answers (sitting_id, item_id, text, revision, updated_at)
     VALUES (:sittingId, :itemId, :text, :revision, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE text = VALUES(text), revision = VALUES(revision), updated_at = VALUES(updated_at)`,
    answer,
  );
}

export async function eventsOf(db: Queryable, sittingId: string): Promise<SittingEvent[]> {
  const found = await rows<{ id: string; itemId: string | null; kind: SittingEventKind; at: Date }>(
    db,
    'SELECT id, item_id AS itemId, kind, at FROM sitting_events WHERE sitting_id = :sittingId ORDER BY at, id LIMIT 5000',
    { sittingId },
  );
  return found.map(e => ({ ...e, at: instantOf(e.at) }));
}

/** What the account of a sitting says, and when each of it reached the server. */
export async function heardOf(db: Queryable, sittingId: string): Promise<Heard[]> {
  const found = await rows<{ kind: string; itemId: string | null; at: Date; receivedAt: Date }>(
    db,
    `SELECT kind, item_id AS itemId, at, received_at AS receivedAt FROM sitting_events
     WHERE sitting_id = :sittingId ORDER BY at, id LIMIT 5000`,
    { sittingId },
  );
  return found.map(({ kind, itemId, at, receivedAt }) => ({
    kind,
    itemId,
    atMs: at.getTime() || 0,
    receivedMs: receivedAt.getTime(),
  }));
}

/** An instant that an earlier Ecoute kept wrongly reads as the beginning of time: one odd row spoils no page. */
function instantOf(at: Date | null): string {
  return at && !Number.isNaN(at.getTime()) ? at.toISOString() : new Date(0).toISOString();
}

/** The accounts of some sittings, each in order of time. */
export async function eventsOfSittings(
  db: Queryable,
  sittingIds: readonly string[],
): Promise<(SittingEvent & { sittingId: string })[]> {
  if (sittingIds.length === 0) return [];
  const found = await rows<Omit<SittingEvent, 'at'> & { sittingId: string; at: Date }>(
    db,
    `SELECT id, sitting_id AS sittingId, item_id AS itemId, kind, at FROM sitting_events
     WHERE sitting_id IN (:sittingIds) ORDER BY sitting_id, at, id LIMIT 50000`,
    { sittingIds },
  );
  return found.map(e => ({ ...e, at: instantOf(e.at) }));
}

export interface HearingsRow {
  sittingId: string;
  itemId: string;
  count: number;
}

/** How often something was used on the way to the answers of some sittings. */
export async function usedIn(
  db: Queryable,
  sittingIds: readonly string[],
): Promise<(Used & { sittingId: string; itemId: string })[]> {
  if (sittingIds.length === 0) return [];
  return rows(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, CAST(SUM(kind = 'promptBegan') AS INT) AS hearings,
       CAST(SUM(kind = 'hintOpened') AS INT) AS hints, CAST(SUM(kind = 'readAloud') AS INT) AS readAlouds
     FROM sitting_events WHERE sitting_id IN (:sittingIds) AND kind IN ('promptBegan', 'hintOpened', 'readAloud')
       AND item_id IS NOT NULL GROUP BY sitting_id, item_id`,
    { sittingIds },
  );
}

/** How often the prompts were heard in some sittings. */
export async function hearingsOf(db: Queryable, sittingIds: readonly string[]): Promise<HearingsRow[]> {
  if (sittingIds.length === 0) return [];
  return rows<HearingsRow>(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, COUNT(*) AS count FROM sitting_events
     WHERE sitting_id IN (:sittingIds) AND kind = 'promptBegan' AND item_id IS NOT NULL GROUP BY sitting_id, item_id`,
    { sittingIds },
  );
}

/** Keeps events; one that is here already is left as it is. */
export async function keepEvents(
  db: Queryable,
  sittingId: string,
  events: readonly SittingEvent[],
): Promise<void> {
  if (events.length === 0) return;
  const now = new Date();
  // Not IGNORE: what does not fit is refused, never bent until it does.
  await db.query(
    'INSERT INTO sitting_events (id, sitting_id, item_id, kind, at, received_at) VALUES ? ON DUPLICATE KEY UPDATE id = VALUES(id)',
    [events.map(e => [e.id, sittingId, e.itemId ?? null, e.kind, new Date(e.at), now])],
  );
}

export async function countEvents(db: Queryable, sittingId: string): Promise<number> {
  const found = await row<{ n: number }>(
    db,
    'SELECT COUNT(*) AS n FROM sitting_events WHERE sitting_id = :sittingId',
    { sittingId },
  );
  return Number(found?.n ?? 0);
}

export interface TakeRow extends TakeInLine {
  clock: TakeClock | null;
  source: TakeSource;
  title: string;
  note: string;
  pictureId: string | null;
  sittingId: string;
  itemId: string;
  beganAt: Date;
  /** When the server first heard of it, where it is said to have begun long before; null where that agrees. */
  claimedAt: Date | null;
  durationMs: number | null;
  recording: RecordingRow;
}

/** All takes of some sittings with their recordings, in order. */
export async function takesOfSittings(db: Queryable, sittingIds: readonly string[]): Promise<TakeRow[]> {
  if (sittingIds.length === 0) return [];
  const found = await rows<
    RecordingRow & {
      sittingId: string;
      itemId: string;
      number: number;
      beganAt: Date;
      claimedAt: Date | null;
      chosenAt: Date | null;
      clock: string | null;
      source: TakeSource;
      title: string;
      note: string;
      pictureId: string | null;
    }
  >(
    db,
    `SELECT t.sitting_id AS sittingId, t.item_id AS itemId, t.number, t.began_at AS beganAt, t.chosen_at AS chosenAt, t.claimed_at AS claimedAt,
       t.clock, t.source, t.title, t.note, t.picture_id AS pictureId, ${RECORDING_COLUMNS}
     FROM takes t JOIN recordings r ON r.id = t.id
     WHERE t.sitting_id IN (:sittingIds) ORDER BY t.sitting_id, t.item_id, t.number`,
    { sittingIds },
  );
  return found.map(withDetails).map(row => ({
    id: row.id,
    sittingId: row.sittingId,
    itemId: row.itemId,
    number: row.number,
    beganAt: row.beganAt,
    claimedAt: row.claimedAt,
    clock: row.clock ? (JSON.parse(row.clock) as TakeClock) : null,
    source: row.source,
    title: row.title,
    note: row.note,
    pictureId: row.pictureId,
    chosenAtMs: row.chosenAt?.getTime() ?? null,
    stands: row.state === 'stored',
    durationMs: row.durationMs,
    recording: row,
  }));
}

export interface JudgementRow {
  sittingId: string;
  itemId: string;
  judgement: Judgement;
}

/** What students say of their own answers; the sitting's own id in place of an item's stands for the whole. */
export async function judgementsOf(db: Queryable, sittingIds: readonly string[]): Promise<JudgementRow[]> {
  if (sittingIds.length === 0) return [];
  const found = await rows<Omit<JudgementRow, 'judgement'> & { judgement: string }>(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, judgement FROM self_assessments
     WHERE sitting_id IN (:sittingIds)`,
    { sittingIds },
  );
  return found.map(f => ({ ...f, judgement: JSON.parse(f.judgement) as Judgement }));
}

export async function keepJudgement(db: Queryable, kept: JudgementRow): Promise<void> {
  await run(
    db,
    `INSERT INTO self_assessments (sitting_id, item_id, judgement, updated_at)
     VALUES (:sittingId, :itemId, :judgement, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE judgement = VALUES(judgement), updated_at = VALUES(updated_at)`,
    { ...kept, judgement: JSON.stringify(kept.judgement) },
  );
}

export async function insertTake(
  db: Queryable,
  take: {
    id: string;
    sittingId: string;
    itemId: string;
    number: number;
    beganAt: Date;
    claimedAt?: Date | null;
    source?: TakeSource;
    clock?: TakeClock | null;
  },
): Promise<void> {
  await run(
    db,
    `INSERT INTO takes (id, sitting_id, item_id, number, began_at, claimed_at, source, clock)
     VALUES (:id, :sittingId, :itemId, :number, :beganAt, :claimedAt, :source, :clock)`,
    { source: 'recorded', claimedAt: null, ...take, clock: take.clock ? JSON.stringify(take.clock) : null },
  );
}

/** What a student says of a take. */
export async function keepWords(
  db: Queryable,
  id: string,
  words: { title: string; note: string },
): Promise<void> {
  await run(db, 'UPDATE takes SET title = :title, note = :note WHERE id = :id', { id, ...words });
}

export async function keepPicture(db: Queryable, id: string, pictureId: string | null): Promise<void> {
  await run(db, 'UPDATE takes SET picture_id = :pictureId WHERE id = :id', { id, pictureId });
}

/** Which browser goes on with a sitting, and when it was seen last. */
export async function holderOf(
  db: Queryable,
  id: string,
): Promise<{ deviceId: string | null; seenAt: Date | null } | null> {
  return row(
    db,
    'SELECT device_id AS deviceId, device_seen_at AS seenAt FROM sittings WHERE id = :id FOR UPDATE',
    { id },
  );
}

export async function hold(db: Queryable, id: string, deviceId: string): Promise<void> {
  await run(
    db,
    'UPDATE sittings SET device_id = :deviceId, device_seen_at = UTC_TIMESTAMP(3) WHERE id = :id',
    { id, deviceId },
  );
}

/** Nobody goes on with a sitting just now; which browser did is still known. */
export async function letGo(db: Queryable, id: string): Promise<void> {
  await run(db, 'UPDATE sittings SET device_seen_at = NULL WHERE id = :id', { id });
}

/** Opens what was handed in once more. The receipt stays in `receipts`. */
export async function withdraw(db: Queryable, id: string): Promise<void> {
  await run(db, 'UPDATE sittings SET handed_in_at = NULL, receipt = NULL WHERE id = :id', { id });
}

export async function chooseTake(db: Queryable, id: string): Promise<void> {
  await run(db, 'UPDATE takes SET chosen_at = UTC_TIMESTAMP(3) WHERE id = :id', { id });
}

/** Whether a take went through the recorder's gate. */
export async function wentThroughGate(db: Queryable, id: string): Promise<boolean> {
  const found = await row<{ gated: string | null }>(
    db,
    "SELECT JSON_VALUE(clock, '$.gated') AS gated FROM takes WHERE id = :id",
    { id },
  );
  return found?.gated === '1' || found?.gated === 'true';
}

/** The receipt as it reads once a take was looked at after the hand-in. */
export async function changeReceipt(db: Queryable, id: string, receipt: Receipt): Promise<void> {
  await run(db, 'UPDATE sittings SET receipt = :receipt WHERE id = :id AND receipt IS NOT NULL', {
    id,
    receipt: JSON.stringify(receipt),
  });
}

/** The sitting a take belongs to. */
export async function sittingOfTake(db: Queryable, id: string): Promise<string | null> {
  return (
    (await row<{ id: string }>(db, 'SELECT sitting_id AS id FROM takes WHERE id = :id', { id }))?.id ?? null
  );
}

/** A student's own takes that stand, newest first. */
export async function recordingsOfStudent(db: Queryable, studentId: string) {
  return rows<{
    takeId: string;
    sittingId: string;
    itemId: string;
    number: number;
    beganAt: Date;
    durationMs: number | null;
    title: string;
    note: string;
    pictureId: string | null;
    content: string;
    className: string;
  }>(
    db,
    `SELECT t.id AS takeId, t.sitting_id AS sittingId, t.item_id AS itemId, t.number, t.began_at AS beganAt,
       x.duration_ms AS durationMs, t.title, t.note, t.picture_id AS pictureId, v.content, c.name AS className
     FROM recordings x JOIN takes t ON t.id = x.id JOIN sittings s ON s.id = t.sitting_id
       JOIN releases r ON r.id = s.release_id JOIN assessment_versions v ON v.id = r.version_id
       JOIN classes c ON c.id = r.class_id
     WHERE x.owner_id = :studentId AND x.purpose = 'take' AND x.state = 'stored'
     ORDER BY x.created_at DESC LIMIT 300`,
    { studentId },
  );
}

export async function studentName(db: Queryable, sittingId: string): Promise<string> {
  const found = await row<{ name: string }>(
    db,
    'SELECT p.display_name AS name FROM sittings s JOIN people p ON p.id = s.student_id WHERE s.id = :sittingId',
    { sittingId },
  );
  return found?.name ?? '';
}

/** The release a sitting belongs to, and its class. */
export async function placeOf(
  db: Queryable,
  sittingId: string,
): Promise<{ releaseId: string; classId: string } | null> {
  return row(
    db,
    `SELECT s.release_id AS releaseId, r.class_id AS classId FROM sittings s JOIN releases r ON r.id = s.release_id
     WHERE s.id = :sittingId`,
    { sittingId },
  );
}

/** `"sitting item"` of every answer whose mark is finished. */
export async function finishedItems(db: Queryable, sittingIds: readonly string[]): Promise<Set<string>> {
  if (sittingIds.length === 0) return new Set();
  const found = await rows<{ sittingId: string; itemId: string }>(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId FROM marks
     WHERE in_force = 1 AND finished_at IS NOT NULL AND sitting_id IN (:sittingIds)`,
    { sittingIds },
  );
  return new Set(found.map(f => `${f.sittingId} ${f.itemId}`));
}

/** Whether a teacher has begun to mark a sitting, or to make notes in it, also where they took them away again. */
export async function isBegunByTeacher(db: Queryable, sittingId: string): Promise<boolean> {
  const found = await row(
    db,
    `SELECT 1 FROM marks WHERE sitting_id = :sittingId
     UNION ALL SELECT 1 FROM overall_levels WHERE sitting_id = :sittingId
     UNION ALL SELECT 1 FROM notes n JOIN takes t ON t.id = n.take_id WHERE t.sitting_id = :sittingId LIMIT 1`,
    { sittingId },
  );
  return found !== null;
}

/** Whether notes of a teacher stand on a take; what was taken away again does not. */
export async function hasNotes(db: Queryable, takeId: string): Promise<boolean> {
  return (
    (await row(db, 'SELECT 1 FROM notes WHERE take_id = :takeId AND in_force = 1 LIMIT 1', { takeId })) !==
    null
  );
}
