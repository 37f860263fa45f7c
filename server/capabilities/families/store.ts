import { randomUUID } from 'node:crypto';
import type { FamilyAddress } from '@ecoute/contract/families';
import { LIMITS } from '@ecoute/contract/limits';
import type { StudentLanguage } from '@ecoute/contract/languages';
import { row, rows, execute, type Queryable } from '../../platform/database';

/** All addresses of some students, also those that are no longer written to. */
export async function addressesOf(
  db: Queryable,
  studentIds: readonly string[],
): Promise<(FamilyAddress & { studentId: string })[]> {
  if (studentIds.length === 0) return [];
  return rows(
    db,
    `SELECT id, student_id AS studentId, email, name, language, ended_by AS endedBy FROM family_addresses
     WHERE student_id IN (:studentIds) ORDER BY email`,
    { studentIds },
  );
}

export async function isAdult(db: Queryable, studentId: string): Promise<boolean> {
  return (
    (await row(db, 'SELECT 1 FROM people WHERE id = :studentId AND is_adult = 1', { studentId })) !== null
  );
}

export async function setAdult(db: Queryable, studentId: string, adult: boolean): Promise<void> {
  await execute(db, 'UPDATE people SET is_adult = :adult WHERE id = :studentId', { studentId, adult });
}

/** Holds a student's addresses until the transaction ends. @returns whether somebody is a student of a class */
export async function holdStudent(db: Queryable, classId: string, studentId: string): Promise<boolean> {
  return (
    (await row(
      db,
      `SELECT 1 FROM people p JOIN class_members m ON m.person_id = p.id AND m.class_id = :classId AND m.role = 'student'
       WHERE p.id = :studentId FOR UPDATE`,
      { classId, studentId },
    )) !== null
  );
}

/**
 * Keeps addresses of students. One that is there stays as it is; one that a teacher ended begins again; one that the student
 * or the family ended does not. Beyond what one student may have, none is added.
 */
export async function insertAddresses(
  db: Queryable,
  made: readonly { studentId: string; email: string; name: string; language: StudentLanguage }[],
  by: string,
): Promise<void> {
  for (const address of made)
    await execute(
      db,
      `INSERT INTO family_addresses (id, student_id, email, name, language, made_at, made_by)
       SELECT :id, :studentId, :email, :name, :language, UTC_TIMESTAMP(3), :by
       WHERE (SELECT COUNT(*) FROM family_addresses y WHERE y.student_id = :studentId AND y.ended_at IS NULL) < :most
       ON DUPLICATE KEY UPDATE ended_at = IF(ended_by = 'teacher', NULL, ended_at),
         ended_by = IF(ended_by = 'teacher', NULL, ended_by)`,
      { ...address, id: randomUUID(), by, most: LIMITS.familyAddresses },
    );
}

export async function changeAddress(
  db: Queryable,
  changed: { id: string; studentId: string; name: string; language: StudentLanguage },
): Promise<boolean> {
  return (
    (await execute(
      db,
      'UPDATE family_addresses SET name = :name, language = :language WHERE id = :id AND student_id = :studentId',
      changed,
    )) > 0
  );
}

/** An address is written to no more. @returns whether it was until now */
export async function endAddress(
  db: Queryable,
  ended: { id: string; studentId: string; by: 'teacher' | 'student' | 'family' },
): Promise<boolean> {
  return (
    (await execute(
      db,
      `UPDATE family_addresses SET ended_at = UTC_TIMESTAMP(3), ended_by = :by
       WHERE id = :id AND student_id = :studentId AND ended_by IS NULL`,
      ended,
    )) > 0
  );
}

/** What somebody ended begins again; what others ended does not. */
export async function beginAgain(
  db: Queryable,
  address: { id: string; studentId: string; by: 'teacher' | 'student' | 'family' },
): Promise<boolean> {
  return (
    (await execute(
      db,
      `UPDATE family_addresses SET ended_at = NULL, ended_by = NULL
       WHERE id = :id AND student_id = :studentId AND ended_by = :by`,
      address,
    )) > 0
  );
}
