import type { Listener } from '@ecoute/contract/marking';
import { row, rows, execute, type Queryable } from '../../platform/database';

/** Says where somebody listens. @returns whether that is somewhere else than before */
export async function keepListener(
  db: Queryable,
  at: { releaseId: string; personId: string; sittingId: string | null },
): Promise<boolean> {
  const before = await row<{ sittingId: string | null; away: number }>(
    db,
    `SELECT sitting_id AS sittingId, seen_at < UTC_TIMESTAMP(3) - INTERVAL 40 SECOND AS away FROM listeners
     WHERE release_id = :releaseId AND person_id = :personId`,
    at,
  );
  await execute(
    db,
    `INSERT INTO listeners (release_id, person_id, sitting_id, seen_at)
     VALUES (:releaseId, :personId, :sittingId, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE sitting_id = VALUES(sitting_id), seen_at = VALUES(seen_at)`,
    at,
  );
  return !before || Boolean(before.away) || before.sittingId !== at.sittingId;
}

export async function removeListener(
  db: Queryable,
  at: { releaseId: string; personId: string },
): Promise<void> {
  await execute(db, 'DELETE FROM listeners WHERE release_id = :releaseId AND person_id = :personId', at);
}

/** Who else listens to a release just now. */
export async function listenersOf(
  db: Queryable,
  { releaseId, personId }: { releaseId: string; personId: string },
): Promise<Listener[]> {
  return rows<Listener>(
    db,
    `SELECT l.person_id AS personId, p.display_name AS displayName, l.sitting_id AS sittingId
     FROM listeners l JOIN people p ON p.id = l.person_id
     WHERE l.release_id = :releaseId AND l.person_id <> :personId
       AND l.seen_at >= UTC_TIMESTAMP(3) - INTERVAL 40 SECOND ORDER BY p.display_name`,
    { releaseId, personId },
  );
}

/** Whether a sitting belongs to a release. */
export async function isOf(db: Queryable, releaseId: string, sittingId: string): Promise<boolean> {
  return (
    (await row(db, 'SELECT 1 FROM sittings WHERE id = :sittingId AND release_id = :releaseId', {
      releaseId,
      sittingId,
    })) !== null
  );
}
