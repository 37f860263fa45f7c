import type { ExportKind, ExportState } from '@ecoute/contract/exports';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface ExportRow {
  id: string;
  ownerId: string;
  classId: string;
  /** The discussion that it is of; null for a class. */
  releaseId: string | null;
  className: string;
  kind: ExportKind;
  fromOn: string | null;
  toOn: string | null;
  state: ExportState;
  done: number;
  total: number;
  fileName: string | null;
  sizeBytes: number | null;
  problem: string | null;
  madeAt: Date;
}

const EXPORT = `SELECT e.id, e.owner_id AS ownerId, e.class_id AS classId, e.release_id AS releaseId, c.name AS className, e.kind,
    DATE_FORMAT(e.from_on, '%Y-%m-%d') AS fromOn, DATE_FORMAT(e.to_on, '%Y-%m-%d') AS toOn, e.state, e.done, e.total,
    e.file_name AS fileName, e.size_bytes AS sizeBytes, e.problem, e.made_at AS madeAt
  FROM exports e JOIN classes c ON c.id = e.class_id`;

export async function insertExport(
  db: Queryable,
  made: Pick<ExportRow, 'id' | 'ownerId' | 'classId' | 'releaseId' | 'kind' | 'fromOn' | 'toOn'>,
): Promise<void> {
  await execute(
    db,
    `INSERT INTO exports (id, owner_id, class_id, release_id, kind, from_on, to_on, state, made_at)
     VALUES (:id, :ownerId, :classId, :releaseId, :kind, :fromOn, :toOn, 'waiting', UTC_TIMESTAMP(3))`,
    made,
  );
}

export async function findExport(db: Queryable, id: string): Promise<ExportRow | null> {
  return row<ExportRow>(db, `${EXPORT} WHERE e.id = :id`, { id });
}

/** What somebody asked for, newest first. */
export async function exportsOf(db: Queryable, ownerId: string): Promise<ExportRow[]> {
  return rows<ExportRow>(db, `${EXPORT} WHERE e.owner_id = :ownerId ORDER BY e.made_at DESC, e.id LIMIT 50`, {
    ownerId,
  });
}

export async function countUnderWay(db: Queryable, ownerId: string): Promise<number> {
  const found = await row<{ n: number }>(
    db,
    `SELECT COUNT(*) AS n FROM exports WHERE owner_id = :ownerId AND state IN ('waiting', 'running')`,
    { ownerId },
  );
  return Number(found?.n ?? 0);
}

/** Moves one from some states to another; false when it was in none of them any more. */
export async function move(
  db: Queryable,
  id: string,
  from: readonly ExportState[],
  to: { state: ExportState; problem?: string | null; fileName?: string; sizeBytes?: number },
): Promise<boolean> {
  const { state, problem = null, fileName = null, sizeBytes = null } = to;
  return (
    (await execute(
      db,
      `UPDATE exports SET state = :state, problem = :problem, file_name = :fileName, size_bytes = :sizeBytes
       WHERE id = :id AND state IN (:from)`,
      { id, from, state, problem, fileName, sizeBytes },
    )) > 0
  );
}

/** Says how far it is. @returns whether it is still wanted */
export async function progress(db: Queryable, id: string, done: number, total: number): Promise<boolean> {
  await execute(db, `UPDATE exports SET done = :done, total = :total WHERE id = :id AND state = 'running'`, {
    id,
    done,
    total,
  });
  return (await row(db, `SELECT 1 FROM exports WHERE id = :id AND state = 'running'`, { id })) !== null;
}

export async function removeExport(db: Queryable, id: string): Promise<void> {
  await execute(db, 'DELETE FROM exports WHERE id = :id', { id });
}

/** Those that have had their day. */
export async function keptTooLong(db: Queryable, before: Date): Promise<string[]> {
  const found = await rows<{ id: string }>(db, 'SELECT id FROM exports WHERE made_at < :before LIMIT 500', {
    before,
  });
  return found.map(f => f.id);
}

/** Sittings of some releases whose students have their feedback, by release and name. */
export async function sittingsWithFeedback(
  db: Queryable,
  releaseIds: readonly string[],
): Promise<{ id: string; releaseId: string; studentName: string }[]> {
  if (releaseIds.length === 0) return [];
  return rows(
    db,
    `SELECT s.id, s.release_id AS releaseId, p.display_name AS studentName
     FROM sittings s JOIN people p ON p.id = s.student_id JOIN releases r ON r.id = s.release_id
     WHERE s.release_id IN (:releaseIds) AND s.feedback_at <= UTC_TIMESTAMP(3) AND s.handed_in_at IS NOT NULL AND s.set_aside_at IS NULL
     ORDER BY r.due_at, r.id, p.display_name, p.id, s.number`,
    { releaseIds },
  );
}

/** What the school's own system calls a class and its students, where it brought them. */
export async function schoolIds(
  db: Queryable,
  classId: string,
  studentIds: readonly string[],
): Promise<{ classId: string | null; students: Map<string, string> }> {
  const own = await row<{ externalId: string | null }>(
    db,
    'SELECT external_id AS externalId FROM classes WHERE id = :classId',
    { classId },
  );
  const people =
    studentIds.length === 0
      ? []
      : await rows<{ id: string; externalId: string }>(
          db,
          'SELECT id, external_id AS externalId FROM people WHERE id IN (:studentIds) AND external_id IS NOT NULL',
          { studentIds },
        );
  return { classId: own?.externalId ?? null, students: new Map(people.map(p => [p.id, p.externalId])) };
}

/** When each of some sittings got its feedback. */
export async function feedbackTimes(
  db: Queryable,
  sittingIds: readonly string[],
): Promise<Map<string, Date>> {
  if (sittingIds.length === 0) return new Map();
  const found = await rows<{ id: string; at: Date }>(
    db,
    'SELECT id, feedback_at AS at FROM sittings WHERE id IN (:sittingIds) AND feedback_at IS NOT NULL',
    { sittingIds },
  );
  return new Map(found.map(f => [f.id, f.at]));
}
