import type { ChangeKind } from '@ecoute/contract/changes';
import { row, rows, execute, type Queryable } from '../database';

/** Something that changed, and for whom: the teachers of a class, one person, or both. */
export interface Change {
  kind: ChangeKind;
  subjectId: string | null;
  /** Its teachers are told. */
  classId: string | null;
  /** This person is told. */
  personId: string | null;
}

export interface ChangeRow extends Change {
  id: number;
}

export async function insertChange(db: Queryable, change: Change): Promise<void> {
  await execute(
    db,
    `INSERT INTO changes (kind, subject_id, class_id, person_id, at)
     VALUES (:kind, :subjectId, :classId, :personId, UTC_TIMESTAMP(3))`,
    change,
  );
}

/** Tells every participant of some releases that what they have to do has changed. */
export async function insertForParticipants(db: Queryable, releaseIds: readonly string[]): Promise<void> {
  if (releaseIds.length === 0) return;
  await execute(
    db,
    `INSERT INTO changes (kind, subject_id, class_id, person_id, at)
     SELECT DISTINCT 'todo', NULL, NULL, person_id, UTC_TIMESTAMP(3) FROM participants WHERE release_id IN (:releaseIds)`,
    { releaseIds },
  );
}

/** Tells some people of one thing that changed. */
export async function insertForPeople(
  db: Queryable,
  change: Pick<Change, 'kind' | 'subjectId'>,
  personIds: readonly string[],
): Promise<void> {
  if (personIds.length === 0) return;
  await execute(
    db,
    `INSERT INTO changes (kind, subject_id, class_id, person_id, at)
     SELECT :kind, :subjectId, NULL, id, UTC_TIMESTAMP(3) FROM people WHERE id IN (:personIds)`,
    { ...change, personIds },
  );
}

export async function lastChange(db: Queryable): Promise<number> {
  return Number((await row<{ id: number | null }>(db, 'SELECT MAX(id) AS id FROM changes'))?.id ?? 0);
}

export async function changesAfter(db: Queryable, id: number): Promise<ChangeRow[]> {
  return rows<ChangeRow>(
    db,
    `SELECT id, kind, subject_id AS subjectId, class_id AS classId, person_id AS personId FROM changes
     WHERE id > :id ORDER BY id LIMIT 5000`,
    { id },
  );
}

/** Those of some changes that are there. */
export async function changesIn(db: Queryable, ids: readonly number[]): Promise<ChangeRow[]> {
  if (ids.length === 0) return [];
  return rows<ChangeRow>(
    db,
    `SELECT id, kind, subject_id AS subjectId, class_id AS classId, person_id AS personId FROM changes
     WHERE id IN (:ids) ORDER BY id`,
    { ids },
  );
}

/** Forgets what every open page has long been told. */
export async function forgetChanges(db: Queryable, upTo: number): Promise<void> {
  await execute(db, 'DELETE FROM changes WHERE id <= :upTo AND at < UTC_TIMESTAMP(3) - INTERVAL 10 MINUTE', {
    upTo,
  });
}

export async function classesTaughtBy(db: Queryable, personId: string): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT class_id AS id FROM class_members WHERE person_id = :personId AND role IN ('teacher', 'coordinator')`,
    { personId },
  );
  return found.map(f => f.id);
}
