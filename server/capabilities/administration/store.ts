import type { AccountRow } from '@ecoute/contract/administration';
import { row, rows, execute, type Queryable } from '../../platform/database';

/** So many of one name are looked at one by one; where there are more, a page of them is found soon in order of sign-in name. */
const FEW_OF_A_NAME = 2_000;

/** A page of accounts whose sign-in name or name begins with something, in order of sign-in name; guests are left out. */
export async function accounts(
  db: Queryable,
  { by, find, after, most }: { by: string; find: string; after: string | null; most: number },
): Promise<AccountRow[]> {
  const begins = find.replace(/[\\%_]/g, '\\$&');
  const named = await rows<{ n: number }>(
    db,
    "SELECT 1 AS n FROM people WHERE display_name LIKE CONCAT(:begins, '%') LIMIT :enough",
    { begins, enough: FEW_OF_A_NAME + 1 },
  );
  // Both names have an index, and one question uses one: a name that few have is found by its own.
  const which =
    find !== '' && named.length <= FEW_OF_A_NAME
      ? `FROM (
           (SELECT id FROM people WHERE sign_in_name LIKE CONCAT(:begins, '%') AND sign_in_name > COALESCE(:after, '')
              AND guest_link_id IS NULL ORDER BY sign_in_name LIMIT :most)
           UNION (SELECT id FROM people WHERE display_name LIKE CONCAT(:begins, '%'))
         ) f JOIN people p ON p.id = f.id
         WHERE p.guest_link_id IS NULL AND (:after IS NULL OR p.sign_in_name > :after)`
      : `FROM people p
         WHERE p.guest_link_id IS NULL AND (:after IS NULL OR p.sign_in_name > :after)
           AND (:begins = '' OR p.sign_in_name LIKE CONCAT(:begins, '%') OR p.display_name LIKE CONCAT(:begins, '%'))`;
  const found = await rows<
    Omit<AccountRow, 'closedAt' | 'isAdmin' | 'hasSignIn' | 'hasMail' | 'showsCode'> & {
      isAdmin: number;
      hasSignIn: number;
      hasMail: number;
      showsCode: number;
      closedAt: Date | null;
    }
  >(
    db,
    `SELECT p.id, p.display_name AS displayName, p.sign_in_name AS signInName, p.role, p.is_admin AS isAdmin,
       p.password_hash IS NOT NULL AS hasSignIn, p.email IS NOT NULL OR p.sign_in_name LIKE '%@%' AS hasMail,
       p.password_hash IS NULL AND p.made_by <=> :by AS showsCode, p.closed_at AS closedAt,
       (SELECT COUNT(*) FROM sessions s WHERE s.person_id = p.id AND s.expires > UNIX_TIMESTAMP()) AS sessions
     ${which}
     ORDER BY p.sign_in_name LIMIT :most`,
    { by, begins, after, most },
  );
  return found.map(f => ({
    ...f,
    isAdmin: Boolean(f.isAdmin),
    hasSignIn: Boolean(f.hasSignIn),
    hasMail: Boolean(f.hasMail),
    showsCode: Boolean(f.showsCode),
    closedAt: f.closedAt?.toISOString() ?? null,
    sessions: Number(f.sessions),
  }));
}

export async function countAdmins(db: Queryable): Promise<number> {
  const found = await rows<{ id: string }>(
    db,
    'SELECT id FROM people WHERE is_admin = 1 AND closed_at IS NULL FOR UPDATE',
  );
  return found.length;
}

export async function setAdmin(db: Queryable, id: string, isAdmin: boolean): Promise<void> {
  await execute(db, 'UPDATE people SET is_admin = :isAdmin WHERE id = :id', { id, isAdmin });
}

export async function setClosed(db: Queryable, id: string, closed: boolean): Promise<void> {
  await execute(
    db,
    `UPDATE people SET closed_at = IF(:closed, COALESCE(closed_at, UTC_TIMESTAMP(3)), NULL), is_admin = IF(:closed, FALSE, is_admin)
     WHERE id = :id`,
    { id, closed },
  );
}

/** Takes whose bytes are under way, and have not come for an hour. */
export async function countQuietTakes(db: Queryable): Promise<number> {
  const found = await row<{ n: number }>(
    db,
    `SELECT COUNT(*) AS n FROM recordings WHERE state = 'arriving' AND created_at < UTC_TIMESTAMP(3) - INTERVAL 1 HOUR`,
  );
  return Number(found?.n ?? 0);
}
