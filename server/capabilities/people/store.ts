import type { Me, Role } from '@ecoute/contract/people';
import { row, run, type Queryable } from '../../platform/database';

export interface PersonRow extends Me {
  passwordHash: string;
}

export async function findBySignInName(db: Queryable, signInName: string): Promise<PersonRow | null> {
  return row<PersonRow>(
    db,
    `SELECT id, display_name AS displayName, role, password_hash AS passwordHash FROM people
     WHERE sign_in_name = :signInName`,
    { signInName },
  );
}

export async function insertPerson(
  db: Queryable,
  person: { id: string; signInName: string; displayName: string; role: Role; passwordHash: string },
): Promise<void> {
  await run(
    db,
    `INSERT INTO people (id, sign_in_name, display_name, role, password_hash, created_at)
     VALUES (:id, :signInName, :displayName, :role, :passwordHash, UTC_TIMESTAMP(3))`,
    person,
  );
}

export async function anybody(db: Queryable): Promise<boolean> {
  return (await row(db, 'SELECT 1 FROM people LIMIT 1')) !== null;
}

/** True when this caller got the lock that lets one first teacher be made, and no two. */
export async function lockFirstTeacher(db: Queryable): Promise<boolean> {
  const got = await row<{ ok: number }>(db, "SELECT GET_LOCK('ecoute-first-teacher', 5) AS ok");
  return got?.ok === 1;
}

export async function unlockFirstTeacher(db: Queryable): Promise<void> {
  await row(db, "SELECT RELEASE_LOCK('ecoute-first-teacher')");
}
