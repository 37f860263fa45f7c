import type { OverallLevel } from '@ecoute/contract/marking';
import { row, rows, execute, type Queryable } from '../../platform/database';
import { among, type WhichSittings } from '../sittings/which.store';

export interface MarkRow {
  id: string;
  sittingId: string;
  itemId: string;
  revision: number;
  pointsHundredths: number | null;
  comment: string;
  /** JSON of the levels chosen on the rubric. */
  choices: string | null;
  reason: string;
  finishedAt: Date | null;
  authorId: string;
  authorName: string;
  updatedAt: Date;
}

const MARK = `SELECT k.id, k.sitting_id AS sittingId, k.item_id AS itemId, k.revision, k.points_hundredths AS pointsHundredths,
    k.comment, k.choices, k.reason, k.finished_at AS finishedAt, k.author_id AS authorId, p.display_name AS authorName, k.updated_at AS updatedAt
  FROM marks k JOIN people p ON p.id = k.author_id`;

/** The marks that hold, of some sittings. */
export async function marksOf(db: Queryable, which: WhichSittings): Promise<MarkRow[]> {
  const these = among('k.sitting_id', which);
  if (!these) return [];
  return rows<MarkRow>(db, `${MARK} WHERE k.in_force = 1 AND ${these.sql}`, these.values);
}

/** The mark that holds for one answer. */
export async function findMark(db: Queryable, sittingId: string, itemId: string): Promise<MarkRow | null> {
  return row<MarkRow>(
    db,
    `${MARK} WHERE k.in_force = 1 AND k.sitting_id = :sittingId AND k.item_id = :itemId`,
    {
      sittingId,
      itemId,
    },
  );
}

export interface NewMark {
  id: string;
  sittingId: string;
  itemId: string;
  revision: number;
  pointsHundredths: number | null;
  comment: string;
  choices?: string | null;
  reason?: string;
  finishedAt: Date | null;
  authorId: string;
}

export async function insertMark(db: Queryable, mark: NewMark): Promise<void> {
  await execute(
    db,
    `INSERT INTO marks (id, sitting_id, item_id, revision, points_hundredths, comment, choices, reason, finished_at, author_id, created_at, updated_at)
     VALUES (:id, :sittingId, :itemId, :revision, :pointsHundredths, :comment, :choices, :reason, :finishedAt, :authorId, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
    { choices: null, reason: '', ...mark },
  );
}

/** Changes a mark that nobody has finished yet, or whose finishing is taken back. */
export async function rewriteMark(db: Queryable, mark: NewMark): Promise<void> {
  await execute(
    db,
    `UPDATE marks SET revision = :revision, points_hundredths = :pointsHundredths, comment = :comment,
       choices = :choices, reason = :reason, finished_at = :finishedAt, author_id = :authorId, updated_at = UTC_TIMESTAMP(3)
     WHERE id = :id`,
    { choices: null, reason: '', ...mark },
  );
}

/** Keeps a finished mark as history. */
export async function supersede(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE marks SET superseded_at = UTC_TIMESTAMP(3) WHERE id = :id', { id });
}

export async function lockSittings(db: Queryable, releaseId: string, ids: readonly string[]) {
  return rows<{
    id: string;
    studentId: string;
    handedInAt: Date | null;
    feedbackAt: Date | null;
    askedAgainAt: Date | null;
    studentName: string;
  }>(
    db,
    `SELECT s.id, s.student_id AS studentId, s.handed_in_at AS handedInAt, s.feedback_at AS feedbackAt, s.asked_again_at AS askedAgainAt,
       p.display_name AS studentName
     FROM sittings s JOIN people p ON p.id = s.student_id
     WHERE s.release_id = :releaseId AND s.id IN (:ids) FOR UPDATE`,
    { releaseId, ids },
  );
}

/** Returns a sitting at an instant, in place of a later one that was set before. */
export async function returnSitting(db: Queryable, id: string, by: string, at: Date): Promise<void> {
  await execute(
    db,
    `UPDATE sittings SET feedback_at = :at, feedback_by = :by, feedback_opened_at = NULL
     WHERE id = :id AND (feedback_at IS NULL OR feedback_at > UTC_TIMESTAMP(3))`,
    { id, by, at },
  );
}

/** Takes feedback back that is still to come, or that its student has not looked at. @returns whether there was one */
export async function callOffReturn(db: Queryable, id: string): Promise<boolean> {
  return (
    (await execute(
      db,
      `UPDATE sittings SET feedback_at = NULL, feedback_by = NULL
       WHERE id = :id AND feedback_at IS NOT NULL AND (feedback_at > UTC_TIMESTAMP(3) OR feedback_opened_at IS NULL)`,
      { id },
    )) > 0
  );
}

/** The overall levels that hold, by sitting, and how many were given before. */
export async function levelsOf(db: Queryable, which: WhichSittings): Promise<Map<string, OverallLevel>> {
  const these = among('l.sitting_id', which);
  if (!these) return new Map();
  const found = await rows<{ sittingId: string; level: number | null; revision: number }>(
    db,
    `SELECT l.sitting_id AS sittingId, MAX(IF(l.in_force = 1, l.level, NULL)) AS level, COUNT(*) AS revision
     FROM overall_levels l WHERE ${these.sql} GROUP BY l.sitting_id`,
    these.values,
  );
  return new Map(found.map(f => [f.sittingId, { level: f.level, revision: Number(f.revision) }]));
}

/** Gives an overall level; the one before it stays as history. */
export async function giveLevel(
  db: Queryable,
  given: { id: string; sittingId: string; level: number | null; reason: string; authorId: string },
): Promise<void> {
  await execute(
    db,
    'UPDATE overall_levels SET superseded_at = UTC_TIMESTAMP(3) WHERE sitting_id = :sittingId AND in_force = 1',
    { sittingId: given.sittingId },
  );
  await execute(
    db,
    `INSERT INTO overall_levels (id, sitting_id, level, reason, author_id, created_at)
     VALUES (:id, :sittingId, :level, :reason, :authorId, UTC_TIMESTAMP(3))`,
    given,
  );
}

/** Every finished mark of a sitting that was ever in force, newest first. */
export async function marksEver(db: Queryable, sittingId: string): Promise<MarkRow[]> {
  return rows<MarkRow>(
    db,
    `${MARK} WHERE k.sitting_id = :sittingId AND k.finished_at IS NOT NULL ORDER BY k.finished_at DESC, k.revision DESC LIMIT 1000`,
    { sittingId },
  );
}

export async function levelsEver(db: Queryable, sittingId: string) {
  return rows<{ level: number | null; reason: string; authorName: string; at: Date }>(
    db,
    `SELECT l.level, l.reason, p.display_name AS authorName, l.created_at AS at
     FROM overall_levels l JOIN people p ON p.id = l.author_id
     WHERE l.sitting_id = :sittingId ORDER BY l.created_at DESC, l.id LIMIT 1000`,
    { sittingId },
  );
}

export interface PraiseRow {
  sittingId: string;
  itemId: string;
  words: string;
}

/** Praise that holds in some sittings. */
export async function praiseOf(db: Queryable, which: WhichSittings): Promise<PraiseRow[]> {
  const these = among('sitting_id', which);
  if (!these) return [];
  return rows<PraiseRow>(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, words FROM praise
     WHERE ${these.sql} AND withdrawn_at IS NULL ORDER BY given_at, id`,
    these.values,
  );
}

/** Gives praise in some words, or takes it back; given twice it is given once. */
export async function setPraise(
  db: Queryable,
  praise: { id: string; sittingId: string; itemId: string; words: string; by: string },
  given: boolean,
): Promise<void> {
  await execute(
    db,
    `UPDATE praise SET withdrawn_at = UTC_TIMESTAMP(3)
     WHERE sitting_id = :sittingId AND item_id = :itemId AND words = :words AND withdrawn_at IS NULL`,
    praise,
  );
  if (given)
    await execute(
      db,
      `INSERT INTO praise (id, sitting_id, item_id, words, given_by, given_at)
       VALUES (:id, :sittingId, :itemId, :words, :by, UTC_TIMESTAMP(3))`,
      praise,
    );
}
