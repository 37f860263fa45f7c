import { signInKey } from '@ecoute/core/formats/roster';
import type { Me, Role } from '@ecoute/contract/people';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface PersonRow extends Omit<Me, 'isGuest'> {
  signInName: string;
  email: string | null;
  /** Null until a first sign-in with a one-time code. */
  passwordHash: string | null;
  /** What comments call them, where that was set. */
  called: string | null;
  /** Nobody signs in to it any more. */
  closedAt: Date | null;
}

const PERSON = `SELECT id, sign_in_name AS signInName, display_name AS displayName, called, role, email, is_admin AS isAdmin,
    password_hash AS passwordHash, closed_at AS closedAt FROM people`;
const read = (found: PersonRow | null): PersonRow | null =>
  found && { ...found, isAdmin: Boolean(found.isAdmin) };

export async function findPerson(db: Queryable, id: string): Promise<PersonRow | null> {
  return read(await row<PersonRow>(db, `${PERSON} WHERE id = :id`, { id }));
}

/** What comments call somebody from now on; empty for what their name gives. */
export async function setCalled(db: Queryable, id: string, called: string): Promise<void> {
  await execute(db, 'UPDATE people SET called = :called WHERE id = :id', {
    id,
    called: called.trim() || null,
  });
}

export async function correctPerson(
  db: Queryable,
  person: { id: string; displayName: string; email: string | null },
): Promise<void> {
  await execute(db, 'UPDATE people SET display_name = :displayName, email = :email WHERE id = :id', person);
}

export async function findBySignInName(db: Queryable, signInName: string): Promise<PersonRow | null> {
  return read(
    await row<PersonRow>(db, `${PERSON} WHERE sign_in_name = :signInName`, {
      signInName: signInKey(signInName),
    }),
  );
}

export async function insertPerson(
  db: Queryable,
  person: {
    id: string;
    signInName: string;
    displayName: string;
    role: Role;
    passwordHash: string | null;
    email?: string | null;
    externalId?: string | null;
    madeBy?: string | null;
    isAdmin?: boolean;
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO people (id, sign_in_name, display_name, role, password_hash, email, external_id, made_by, is_admin, created_at)
     VALUES (:id, :signInName, :displayName, :role, :passwordHash, :email, :externalId, :madeBy, :isAdmin, UTC_TIMESTAMP(3))`,
    {
      email: null,
      externalId: null,
      madeBy: null,
      isAdmin: false,
      ...person,
      signInName: signInKey(person.signInName),
    },
  );
}

/** Who made the accounts of some people; null where that is not known, or they are no longer here. */
export async function makersOf(db: Queryable, ids: readonly string[]): Promise<Map<string, string | null>> {
  if (ids.length === 0) return new Map();
  const found = await rows<{ id: string; madeBy: string | null }>(
    db,
    `SELECT p.id, m.id AS madeBy FROM people p LEFT JOIN people m ON m.id = p.made_by AND m.closed_at IS NULL
     WHERE p.id IN (:ids)`,
    { ids },
  );
  return new Map(found.map(f => [f.id, f.madeBy]));
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

/** Sign-in names that begin like one, to find a free one beside them. */
export async function signInNamesLike(db: Queryable, beginning: string): Promise<Set<string>> {
  const found = await rows<{ name: string }>(
    db,
    `SELECT sign_in_name AS name FROM people WHERE sign_in_name LIKE CONCAT(:beginning, '%') LIMIT 5000`,
    { beginning },
  );
  return new Set(found.map(f => f.name));
}

export async function setPassword(db: Queryable, id: string, passwordHash: string): Promise<void> {
  await execute(
    db,
    'UPDATE people SET password_hash = :passwordHash, password_set_at = UTC_TIMESTAMP(3) WHERE id = :id',
    { id, passwordHash },
  );
}

/** Keeps the hash of a new code; one made before is no longer good. */
export async function keepCode(
  db: Queryable,
  code: { personId: string; codeHash: string; madeBy: string; expiresAt: Date },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO first_codes (person_id, code_hash, made_by, made_at, expires_at)
     VALUES (:personId, :codeHash, :madeBy, UTC_TIMESTAMP(3), :expiresAt)
     ON DUPLICATE KEY UPDATE code_hash = VALUES(code_hash), made_by = VALUES(made_by), made_at = VALUES(made_at),
       expires_at = VALUES(expires_at)`,
    code,
  );
}

/** Whom a code is for, while it is good. `lock` holds it, so that it is used once. */
export async function findByCode(
  db: Queryable,
  codeHash: string,
  lock = false,
): Promise<(Me & { signInName: string }) | null> {
  return row(
    db,
    `SELECT p.id, p.display_name AS displayName, p.role, p.sign_in_name AS signInName, p.is_admin AS isAdmin
     FROM first_codes f JOIN people p ON p.id = f.person_id
     WHERE f.code_hash = :codeHash AND f.expires_at > UTC_TIMESTAMP(3) AND p.closed_at IS NULL ${lock ? 'FOR UPDATE' : ''}`,
    { codeHash },
  );
}

export async function removeCode(db: Queryable, personId: string): Promise<void> {
  await execute(db, 'DELETE FROM first_codes WHERE person_id = :personId', { personId });
}
