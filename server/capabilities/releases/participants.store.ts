/** Whom releases are for, and what single students are granted. */
import { type Exception } from '@ecoute/core/timing/sittingState';
import type { Audience } from '@ecoute/contract/releases';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface ExceptionRow {
  exception: Exception;
}

export interface RawException {
  ownDueAt: Date | null;
  excused: number;
  extraSittings: number;
}

export const EXCEPTION = 'p.due_at AS ownDueAt, p.excused, p.extra_sittings AS extraSittings';

export function readException({ ownDueAt, excused, extraSittings }: RawException): ExceptionRow {
  return {
    exception: { dueAtMs: ownDueAt?.getTime() ?? null, excused: Boolean(excused), extraSittings },
  };
}

/** Gives a release to everybody whom it is for just now. Whoever has it already keeps it as it is. */
export async function addAudience(
  db: Queryable,
  release: { id: string; classId: string; audience: Audience; groupId: string | null },
): Promise<void> {
  if (release.audience === 'class')
    await execute(
      db,
      `INSERT IGNORE INTO participants (release_id, person_id)
       SELECT :id, person_id FROM class_members WHERE class_id = :classId AND role = 'student'`,
      release,
    );
  else if (release.audience === 'group')
    await execute(
      db,
      `INSERT IGNORE INTO participants (release_id, person_id)
       SELECT :id, person_id FROM class_group_members WHERE group_id = :groupId`,
      release,
    );
}

/** Gives a release to single students of its class. @returns how many of them are in the class */
export async function addParticipants(
  db: Queryable,
  id: string,
  classId: string,
  personIds: readonly string[],
): Promise<number> {
  if (personIds.length === 0) return 0;
  return execute(
    db,
    `INSERT IGNORE INTO participants (release_id, person_id)
     SELECT :id, person_id FROM class_members WHERE class_id = :classId AND role = 'student' AND person_id IN (:personIds)`,
    { id, classId, personIds },
  );
}

/**
 * Gives newcomers what their class (or group) still has before it. What was due before they came is not theirs.
 */
export async function joinReleases(
  db: Queryable,
  to: { classId: string } | { groupId: string },
  personIds: readonly string[],
): Promise<void> {
  if (personIds.length === 0) return;
  const where =
    'classId' in to
      ? "r.class_id = :classId AND r.audience = 'class'"
      : "r.group_id = :groupId AND r.audience = 'group'";
  await execute(
    db,
    `INSERT IGNORE INTO participants (release_id, person_id)
     SELECT r.id, p.id FROM releases r JOIN people p ON p.id IN (:personIds) WHERE ${where} AND r.due_at > UTC_TIMESTAMP(3)`,
    { ...to, personIds },
  );
}

/** Takes what they have not begun from those who leave a class (or group). */
export async function leaveReleases(
  db: Queryable,
  from: { classId: string } | { groupId: string },
  personIds: readonly string[],
): Promise<void> {
  if (personIds.length === 0) return;
  const where =
    'classId' in from ? 'r.class_id = :classId' : "r.group_id = :groupId AND r.audience = 'group'";
  await execute(
    db,
    `DELETE p FROM participants p JOIN releases r ON r.id = p.release_id
       LEFT JOIN sittings s ON s.release_id = r.id AND s.student_id = p.person_id
     WHERE ${where} AND p.person_id IN (:personIds) AND s.id IS NULL`,
    { ...from, personIds },
  );
}

/** What holds for one student alone. `lock` holds this one row, so that whatever they begin is begun once. */
export async function exceptionOf(
  db: Queryable,
  releaseId: string,
  personId: string,
  lock = false,
): Promise<Exception | null> {
  const found = await row<RawException>(
    db,
    `SELECT ${EXCEPTION} FROM participants p WHERE p.release_id = :releaseId AND p.person_id = :personId ${lock ? 'FOR UPDATE' : ''}`,
    { releaseId, personId },
  );
  return found && readException(found).exception;
}

export async function grant(
  db: Queryable,
  to: { releaseId: string; personId: string; by: string },
  { dueAtMs, excused, extraSittings }: Exception,
): Promise<boolean> {
  return (
    (await execute(
      db,
      `UPDATE participants SET due_at = :dueAt, excused = :excused, extra_sittings = :extraSittings,
         granted_by = :by, granted_at = UTC_TIMESTAMP(3) WHERE release_id = :releaseId AND person_id = :personId`,
      { ...to, dueAt: dueAtMs === null ? null : new Date(dueAtMs), excused, extraSittings },
    )) > 0
  );
}

export async function markReminded(db: Queryable, releaseId: string, personId: string): Promise<void> {
  await execute(
    db,
    'UPDATE participants SET reminded_at = UTC_TIMESTAMP(3) WHERE release_id = :releaseId AND person_id = :personId',
    { releaseId, personId },
  );
}

/** Everybody a release is for. */
export async function participantsOf(db: Queryable, releaseId: string): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    'SELECT person_id AS id FROM participants WHERE release_id = :releaseId',
    { releaseId },
  );
  return found.map(f => f.id);
}

export async function groupIsOf(db: Queryable, groupId: string, classId: string): Promise<boolean> {
  return (
    (await row(db, 'SELECT 1 FROM class_groups WHERE id = :groupId AND class_id = :classId', {
      groupId,
      classId,
    })) !== null
  );
}
