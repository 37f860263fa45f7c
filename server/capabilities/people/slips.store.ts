import type { Me } from '@ecoute/contract/people';
import { execute, row, type Queryable } from '../../platform/database';

/** Keeps the hash of what stands on a new slip; one made before is no longer good. */
export async function keepSlip(
  db: Queryable,
  slip: { personId: string; tokenHash: string; madeBy: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO sign_in_slips (person_id, token_hash, made_by, made_at)
     VALUES (:personId, :tokenHash, :madeBy, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE token_hash = VALUES(token_hash), made_by = VALUES(made_by), made_at = VALUES(made_at),
       used_at = NULL`,
    slip,
  );
}

export async function removeSlip(db: Queryable, personId: string): Promise<number> {
  return execute(db, 'DELETE FROM sign_in_slips WHERE person_id = :personId', { personId });
}

/** Whom a slip is for, and who made it, while both have their accounts and the child has no password. */
export async function findBySlip(
  db: Queryable,
  tokenHash: string,
): Promise<{ child: Me; madeBy: string } | null> {
  const found = await row<Me & { madeBy: string }>(
    db,
    `SELECT p.id, p.display_name AS displayName, p.role, f.made_by AS madeBy
     FROM sign_in_slips f JOIN people p ON p.id = f.person_id JOIN people k ON k.id = f.made_by
     WHERE f.token_hash = :tokenHash AND p.closed_at IS NULL AND k.closed_at IS NULL AND p.role = 'student'
       AND p.password_hash IS NULL`,
    { tokenHash },
  );
  if (!found) return null;
  const { madeBy, ...child } = found;
  return { child, madeBy };
}

export async function noteSlipUsed(db: Queryable, personId: string): Promise<void> {
  await execute(db, 'UPDATE sign_in_slips SET used_at = UTC_TIMESTAMP(3) WHERE person_id = :personId', {
    personId,
  });
}

/** True for somebody whose screens are pictures and sound. */
export async function isByEar(db: Queryable, personId: string): Promise<boolean> {
  const found = await row<{ byEar: string | null }>(
    db,
    "SELECT JSON_VALUE(arrangement, '$.byEar') AS byEar FROM arrangements WHERE person_id = :personId",
    { personId },
  );
  return found?.byEar === '1' || found?.byEar === 'true';
}
