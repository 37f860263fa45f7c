import type { ClassRole } from '@ecoute/contract/classes';
import type { Invitation } from '@ecoute/contract/invitations';
import type { Asked } from '@ecoute/contract/classes';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface InvitationRow {
  id: string;
  classId: string | null;
  departmentId: string | null;
  personId: string;
  role: ClassRole;
  madeBy: string;
}

/** Asks somebody; asking again changes what as. */
export async function insertInvitation(
  db: Queryable,
  made: Omit<InvitationRow, 'classId' | 'departmentId'> & { classId?: string; departmentId?: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO invitations (id, class_id, department_id, person_id, role, made_by, made_at)
     VALUES (:id, :classId, :departmentId, :personId, :role, :madeBy, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE role = VALUES(role), made_by = VALUES(made_by), made_at = VALUES(made_at)`,
    { classId: null, departmentId: null, ...made },
  );
}

/** An invitation of somebody; its row is held until the transaction ends. */
export async function findInvitation(db: Queryable, id: string): Promise<InvitationRow | null> {
  return row(
    db,
    `SELECT id, class_id AS classId, department_id AS departmentId, person_id AS personId, role, made_by AS madeBy
     FROM invitations WHERE id = :id FOR UPDATE`,
    { id },
  );
}

export async function removeInvitation(db: Queryable, id: string): Promise<void> {
  await execute(db, 'DELETE FROM invitations WHERE id = :id', { id });
}

/** What somebody is asked. */
export async function invitationsOf(db: Queryable, personId: string): Promise<Invitation[]> {
  const found = await rows<Omit<Invitation, 'madeAt'> & { madeAt: Date }>(
    db,
    `SELECT i.id, IF(i.class_id IS NULL, 'department', 'class') AS what, COALESCE(c.name, d.name) AS name, i.role,
       p.display_name AS madeBy, i.made_at AS madeAt
     FROM invitations i JOIN people p ON p.id = i.made_by
       LEFT JOIN classes c ON c.id = i.class_id LEFT JOIN departments d ON d.id = i.department_id
     WHERE i.person_id = :personId ORDER BY i.made_at LIMIT 100`,
    { personId },
  );
  return found.map(f => ({ ...f, madeAt: f.madeAt.toISOString() }));
}

/** Who is asked to join a class. */
export async function askedInto(db: Queryable, classId: string): Promise<Asked[]> {
  const found = await rows<Omit<Asked, 'madeAt'> & { madeAt: Date }>(
    db,
    `SELECT i.id, p.sign_in_name AS signInName, i.role, i.made_at AS madeAt
     FROM invitations i JOIN people p ON p.id = i.person_id WHERE i.class_id = :classId ORDER BY i.made_at`,
    { classId },
  );
  return found.map(f => ({ ...f, madeAt: f.madeAt.toISOString() }));
}

/**
 * Those of some people whom a teacher need not ask: they made the account, or teach or plan for a class that the person
 * is in already.
 */
export async function knownTo(
  db: Queryable,
  teacherId: string,
  personIds: readonly string[],
): Promise<Set<string>> {
  if (personIds.length === 0) return new Set();
  const found = await rows<{ id: string }>(
    db,
    `SELECT p.id FROM people p WHERE p.id IN (:personIds) AND (p.id = :teacherId OR p.made_by = :teacherId OR EXISTS (
       SELECT 1 FROM class_members m JOIN class_members t ON t.class_id = m.class_id
       WHERE m.person_id = p.id AND t.person_id = :teacherId AND t.role IN ('teacher', 'coordinator')))`,
    { personIds, teacherId },
  );
  return new Set(found.map(f => f.id));
}
