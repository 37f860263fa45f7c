import { row, rows, run, type Queryable } from '../../platform/database';

export interface MarkRow {
  id: string;
  sittingId: string;
  itemId: string;
  revision: number;
  pointsHundredths: number | null;
  comment: string;
  finishedAt: Date | null;
  authorId: string;
  authorName: string;
  updatedAt: Date;
}

const MARK = `SELECT k.id, k.sitting_id AS sittingId, k.item_id AS itemId, k.revision, k.points_hundredths AS pointsHundredths,
    k.comment, k.finished_at AS finishedAt, k.author_id AS authorId, p.display_name AS authorName, k.updated_at AS updatedAt
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
  finishedAt: Date | null;
  authorId: string;
}

export async function insertMark(db: Queryable, mark: NewMark): Promise<void> {
  await run(
    db,
    `INSERT INTO marks (id, sitting_id, item_id, revision, points_hundredths, comment, finished_at, author_id, created_at, updated_at)
     VALUES (:id, :sittingId, :itemId, :revision, :pointsHundredths, :comment, :finishedAt, :authorId, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
    mark,
  );
}

/** Changes a mark that nobody has finished yet. */
export async function rewriteMark(db: Queryable, mark: NewMark): Promise<void> {
  await run(
    db,
    `UPDATE marks SET revision = :revision, points_hundredths = :pointsHundredths, comment = :comment,
       finished_at = :finishedAt, author_id = :authorId, updated_at = UTC_TIMESTAMP(3)
     WHERE id = :id`,
    mark,
  );
}

/** Keeps a finished mark as history. */
export async function supersede(db: Queryable, id: string): Promise<void> {
  await run(db, 'UPDATE marks SET superseded_at = UTC_TIMESTAMP(3) WHERE id = :id', { id });
}

export async function lockSittings(db: Queryable, releaseId: string, ids: readonly string[]) {
  return rows<{ id: string; handedInAt: Date | null; returnedAt: Date | null; studentName: string }>(
    db,
    `SELECT s.id, s.handed_in_at AS handedInAt, s.returned_at AS returnedAt, p.display_name AS studentName
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
