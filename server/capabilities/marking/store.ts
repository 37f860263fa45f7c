import { row, rows, run, type Queryable } from '../../platform/database';

export interface MarkRow {
  id: string;
  sittingId: string;
  itemId: string;
  revision: number;
  pointsHundredths: number | null;
  comment: string;
  /** JSON of the levels chosen on the rubric. */
  choices: string | null;
  finishedAt: Date | null;
  authorId: string;
  authorName: string;
  updatedAt: Date;
}

const MARK = `SELECT k.id, k.sitting_id AS sittingId, k.item_id AS itemId, k.revision, k.points_hundredths AS pointsHundredths,
    k.comment, k.choices, k.finished_at AS finishedAt, k.author_id AS authorId, p.display_name AS authorName, k.updated_at AS updatedAt
  FROM marks k JOIN people p ON p.id = k.author_id`;

/** The marks that hold, of some sittings. */
export async function marksOf(db: Queryable, sittingIds: readonly string[]): Promise<MarkRow[]> {
  if (sittingIds.length === 0) return [];
  return rows<MarkRow>(db, `${MARK} WHERE k.in_force = 1 AND k.sitting_id IN (:sittingIds)`, { sittingIds });
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

/** `"sitting item"` of every finished mark. */
export async function finishedItems(db: Queryable, sittingIds: readonly string[]): Promise<Set<string>> {
  const marks = await marksOf(db, sittingIds);
  return new Set(marks.filter(m => m.finishedAt).map(m => `${m.sittingId} ${m.itemId}`));
}

export interface NewMark {
  id: string;
  sittingId: string;
  itemId: string;
  revision: number;
  pointsHundredths: number | null;
  comment: string;
  choices?: string | null;
  finishedAt: Date | null;
  authorId: string;
}

/** Whether a teacher has begun to mark a sitting. */
export async function marksBegun(db: Queryable, sittingId: string): Promise<boolean> {
  return (
    (await row(db, 'SELECT 1 FROM marks WHERE sitting_id = :sittingId LIMIT 1', { sittingId })) !== null ||
    (await row(db, 'SELECT 1 FROM overall_levels WHERE sitting_id = :sittingId LIMIT 1', { sittingId })) !==
      null
  );
}

export async function insertMark(db: Queryable, mark: NewMark): Promise<void> {
  await run(
    db,
    `INSERT INTO marks (id, sitting_id, item_id, revision, points_hundredths, comment, choices, finished_at, author_id, created_at, updated_at)
     VALUES (:id, :sittingId, :itemId, :revision, :pointsHundredths, :comment, :choices, :finishedAt, :authorId, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
    { choices: null, ...mark },
  );
}

/** Changes a mark that nobody has finished yet. */
export async function rewriteMark(db: Queryable, mark: NewMark): Promise<void> {
  await run(
    db,
    `UPDATE marks SET revision = :revision, points_hundredths = :pointsHundredths, comment = :comment,
       choices = :choices, finished_at = :finishedAt, author_id = :authorId, updated_at = UTC_TIMESTAMP(3)
     WHERE id = :id`,
    { choices: null, ...mark },
  );
}

/** Keeps a finished mark as history. */
export async function supersede(db: Queryable, id: string): Promise<void> {
  await run(db, 'UPDATE marks SET superseded_at = UTC_TIMESTAMP(3) WHERE id = :id', { id });
}

export async function lockSittings(db: Queryable, releaseId: string, ids: readonly string[]) {
  return rows<{
    id: string;
    studentId: string;
    handedInAt: Date | null;
    returnedAt: Date | null;
    studentName: string;
  }>(
    db,
    `SELECT s.id, s.student_id AS studentId, s.handed_in_at AS handedInAt, s.returned_at AS returnedAt, p.display_name AS studentName
     FROM sittings s JOIN people p ON p.id = s.student_id
     WHERE s.release_id = :releaseId AND s.id IN (:ids) FOR UPDATE`,
    { releaseId, ids },
  );
}

export async function returnSitting(db: Queryable, id: string, by: string): Promise<void> {
  await run(
    db,
    'UPDATE sittings SET returned_at = UTC_TIMESTAMP(3), returned_by = :by WHERE id = :id AND returned_at IS NULL',
    { id, by },
  );
}

/** The overall levels that hold, by sitting. */
export async function levelsOf(db: Queryable, sittingIds: readonly string[]): Promise<Map<string, number>> {
  if (sittingIds.length === 0) return new Map();
  const found = await rows<{ sittingId: string; level: number }>(
    db,
    `SELECT sitting_id AS sittingId, level FROM overall_levels
     WHERE in_force = 1 AND level IS NOT NULL AND sitting_id IN (:sittingIds)`,
    { sittingIds },
  );
  return new Map(found.map(f => [f.sittingId, f.level]));
}

/** Gives an overall level; the one before it stays as history. */
export async function giveLevel(
  db: Queryable,
  given: { id: string; sittingId: string; level: number | null; authorId: string },
): Promise<void> {
  await run(
    db,
    'UPDATE overall_levels SET superseded_at = UTC_TIMESTAMP(3) WHERE sitting_id = :sittingId AND in_force = 1',
    { sittingId: given.sittingId },
  );
  await run(
    db,
    `INSERT INTO overall_levels (id, sitting_id, level, author_id, created_at)
     VALUES (:id, :sittingId, :level, :authorId, UTC_TIMESTAMP(3))`,
    given,
  );
}
