import type { Role } from '@ecoute/contract/people';
import { row, execute, type Queryable } from '../../platform/database';

export async function feedOf(db: Queryable, personId: string): Promise<string | null> {
  return (
    (await row<{ id: string }>(db, 'SELECT id FROM calendar_feeds WHERE person_id = :personId', { personId }))
      ?.id ?? null
  );
}

export async function replaceFeed(db: Queryable, id: string, personId: string): Promise<void> {
  await execute(
    db,
    `INSERT INTO calendar_feeds (id, person_id, made_at) VALUES (:id, :personId, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE id = VALUES(id), made_at = VALUES(made_at)`,
    { id, personId },
  );
}

export async function removeFeed(db: Queryable, personId: string): Promise<void> {
  await execute(db, 'DELETE FROM calendar_feeds WHERE person_id = :personId', { personId });
}

/** Whose calendar an address is. */
export async function personOfFeed(db: Queryable, id: string): Promise<{ id: string; role: Role } | null> {
  return row(
    db,
    `SELECT p.id, p.role FROM calendar_feeds f JOIN people p ON p.id = f.person_id WHERE f.id = :id`,
    { id },
  );
}
