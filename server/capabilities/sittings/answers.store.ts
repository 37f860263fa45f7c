/** What students answered: takes, words, and their own judgement of both. */
import type { Judgement } from '@ecoute/contract/judgements';
import type { TakeSource } from '@ecoute/contract/recordings';
import type { TakeInLine } from '@ecoute/core/timing/itemRun';
import type { TakeClock } from '@ecoute/core/timing/takeClock';
import { TAKE_IS_IN } from '../../platform/access/contributions.store';
import { row, rows, execute, type Queryable } from '../../platform/database';
import {
  HEARD_COLUMNS,
  RECORDING_COLUMNS,
  withDetails,
  type HeardRow,
  type RecordingRow,
} from '../recordings/store';
import { among, type WhichSittings } from './which.store';

export interface WrittenRow {
  sittingId: string;
  itemId: string;
  text: string;
  /** From 1, up with each change. */
  revision: number;
  updatedAt: Date;
}

/** Written answers of some sittings that hold any words. */
export async function writtenOf(db: Queryable, which: WhichSittings): Promise<WrittenRow[]> {
  const these = among('sitting_id', which);
  if (!these) return [];
  return rows<WrittenRow>(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, text, revision, updated_at AS updatedAt
     FROM written_answers WHERE ${these.sql} AND text <> ''`,
    these.values,
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
  await execute(
    db,
    `INSERT INTO written_answers (sitting_id, item_id, text, revision, updated_at)
     VALUES (:sittingId, :itemId, :text, :revision, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE text = VALUES(text), revision = VALUES(revision), updated_at = VALUES(updated_at)`,
    answer,
  );
}

/** @typeParam R what is known of its recording */
export interface TakeRow<R extends HeardRow = RecordingRow> extends TakeInLine {
  clock: TakeClock | null;
  source: TakeSource;
  title: string;
  note: string;
  pictureId: string | null;
  /** Asked for after the feedback, by this request; null for what was handed in. */
  askId: string | null;
  sittingId: string;
  itemId: string;
  beganAt: Date;
  /** When the server first heard of it, where it is said to have begun long before; null where that agrees. */
  claimedAt: Date | null;
  durationMs: number | null;
  recording: R;
  /** The answer that some people gave as one, and whether it is another one's device that recorded it, scored with theirs. */
  jointId: string | null;
  isCopy: boolean;
  /** False for what its student alone may hear: a draft of a discussion, or what they took back or corrected there. */
  isIn: boolean;
}

/** All takes of some sittings with their recordings, in order. */
export function takesOfSittings(db: Queryable, sittingIds: readonly string[]): Promise<TakeRow[]> {
  const inOrder = 'ORDER BY t.sitting_id, t.item_id, t.number';
  return takesWith<RecordingRow>(db, sittingIds, RECORDING_COLUMNS, { inOrder });
}

/**
 * The same with what a list of them says alone, in no order.
 * @param isTalk whether they answer a discussion: elsewhere there are no drafts, and thousands need not be asked about
 */
export function heardTakesOf(
  db: Queryable,
  which: WhichSittings,
  isTalk: boolean,
): Promise<TakeRow<HeardRow>[]> {
  return takesWith<HeardRow>(db, which, HEARD_COLUMNS, { isIn: isTalk ? TAKE_IS_IN : '1' });
}

/** @param columns of an `R`, from an alias `r` */
async function takesWith<R extends HeardRow>(
  db: Queryable,
  which: WhichSittings,
  columns: string,
  { isIn = TAKE_IS_IN, inOrder = '' },
): Promise<TakeRow<R>[]> {
  const these = among('t.sitting_id', which);
  if (!these) return [];
  const found = await rows<
    R & {
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
      askId: string | null;
      jointId: string | null;
      isCopy: number | null;
      isIn: number;
    }
  >(
    db,
    `SELECT t.sitting_id AS sittingId, t.item_id AS itemId, t.number, t.began_at AS beganAt, t.chosen_at AS chosenAt, t.claimed_at AS claimedAt,
       t.clock, t.source, t.title, t.note, t.picture_id AS pictureId, t.ask_id AS askId, t.joint_id AS jointId,
       l.take_id <> t.id AND j.apart = 0 AS isCopy, ${isIn} AS isIn,
       ${columns}
     FROM takes t FORCE INDEX (takes_number) JOIN recordings r ON r.id = t.id LEFT JOIN joint_answers j ON j.id = t.joint_id
       LEFT JOIN joint_people l ON l.joint_id = j.id AND l.person_id = j.lead_id
     WHERE ${these.sql} ${inOrder}`,
    these.values,
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
    askId: row.askId,
    jointId: row.jointId,
    isCopy: Boolean(row.isCopy),
    chosenAtMs: row.chosenAt?.getTime() ?? null,
    stands: row.state === 'stored' && Boolean(row.isIn),
    isIn: Boolean(row.isIn),
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
export async function judgementsOf(db: Queryable, which: WhichSittings): Promise<JudgementRow[]> {
  const these = among('sitting_id', which);
  if (!these) return [];
  const found = await rows<Omit<JudgementRow, 'judgement'> & { judgement: string }>(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, judgement FROM self_assessments WHERE ${these.sql}`,
    these.values,
  );
  return found.map(f => ({ ...f, judgement: JSON.parse(f.judgement) as Judgement }));
}

export async function keepJudgement(db: Queryable, kept: JudgementRow): Promise<void> {
  await execute(
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
    askId?: string | null;
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO takes (id, sitting_id, item_id, number, began_at, claimed_at, source, clock, ask_id)
     VALUES (:id, :sittingId, :itemId, :number, :beganAt, :claimedAt, :source, :clock, :askId)`,
    {
      source: 'recorded',
      claimedAt: null,
      askId: null,
      ...take,
      clock: take.clock ? JSON.stringify(take.clock) : null,
    },
  );
}

/** Takes a copy of somebody else's recording out of its sitting again. False where a teacher has noted something on it. */
export async function removeTake(db: Queryable, id: string): Promise<boolean> {
  return (
    (await execute(
      db,
      'DELETE FROM takes WHERE id = :id AND NOT EXISTS (SELECT 1 FROM notes n WHERE n.take_id = :id)',
      { id },
    )) === 1
  );
}

/** What a student says of a take. */
export async function keepWords(
  db: Queryable,
  id: string,
  words: { title: string; note: string },
): Promise<void> {
  await execute(db, 'UPDATE takes SET title = :title, note = :note WHERE id = :id', { id, ...words });
}

export async function keepPicture(db: Queryable, id: string, pictureId: string | null): Promise<void> {
  await execute(db, 'UPDATE takes SET picture_id = :pictureId WHERE id = :id', { id, pictureId });
}

export async function chooseTake(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE takes SET chosen_at = UTC_TIMESTAMP(3) WHERE id = :id', { id });
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
    chosenAt: Date | null;
    handedInAt: Date | null;
    feedbackAt: Date | null;
  }>(
    db,
    `SELECT t.id AS takeId, t.sitting_id AS sittingId, t.item_id AS itemId, t.number, t.began_at AS beganAt,
       x.duration_ms AS durationMs, t.title, t.note, t.picture_id AS pictureId, v.content, c.name AS className,
       t.chosen_at AS chosenAt, s.handed_in_at AS handedInAt, s.feedback_at AS feedbackAt
     FROM recordings x JOIN takes t ON t.id = x.id JOIN sittings s ON s.id = t.sitting_id
       JOIN releases r ON r.id = s.release_id JOIN assessment_versions v ON v.id = r.version_id
       JOIN classes c ON c.id = r.class_id
     WHERE x.owner_id = :studentId AND x.purpose = 'take' AND x.state = 'stored'
     ORDER BY x.created_at DESC LIMIT 300`,
    { studentId },
  );
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

/** Whether notes of a teacher stand on a take; what was taken away again does not. */
export async function hasNotes(db: Queryable, takeId: string): Promise<boolean> {
  return (
    (await row(db, 'SELECT 1 FROM notes WHERE take_id = :takeId AND in_force = 1 LIMIT 1', { takeId })) !==
    null
  );
}
