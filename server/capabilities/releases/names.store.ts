/** Who hid the names of a release, and who showed them again. */
import type { NamesChange } from '@ecoute/contract/decisions';
import { execute, rows, type Queryable } from '../../platform/database';

export async function insertNamesChange(
  db: Queryable,
  made: { releaseId: string; hidden: boolean; by: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO names_changes (release_id, hidden, changed_by, changed_at)
     VALUES (:releaseId, :hidden, :by, UTC_TIMESTAMP(3))`,
    made,
  );
}

/** Newest first. */
export async function namesChangesOf(db: Queryable, releaseId: string): Promise<NamesChange[]> {
  const found = await rows<{ hidden: number; by: string; at: Date }>(
    db,
    `SELECT n.hidden, p.display_name AS \`by\`, n.changed_at AS at FROM names_changes n
       JOIN people p ON p.id = n.changed_by WHERE n.release_id = :releaseId ORDER BY n.id DESC LIMIT 20`,
    { releaseId },
  );
  return found.map(f => ({ hidden: Boolean(f.hidden), by: f.by, at: f.at.toISOString() }));
}
