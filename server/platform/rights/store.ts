import { execute, row, rows, type Queryable } from '../database';

/** What is to be asked again: one session, one person, one recording; a row with none of them means all. */
export interface RightChange {
  id: number;
  sessionId: string | null;
  personId: string | null;
  recordingId: string | null;
}

export async function lastRightChange(db: Queryable): Promise<number> {
  return Number((await row<{ id: number | null }>(db, 'SELECT MAX(id) AS id FROM right_changes'))?.id ?? 0);
}

/** @param most rows at the most, the oldest first */
export function rightChangesAfter(db: Queryable, id: number, most: number): Promise<RightChange[]> {
  return rows<RightChange>(
    db,
    `SELECT id, session_id AS sessionId, person_id AS personId, recording_id AS recordingId FROM right_changes
     WHERE id > :id ORDER BY id LIMIT ${most}`,
    { id },
  );
}

/** Sweep: what every server has long read. */
export async function forgetRightChanges(db: Queryable): Promise<void> {
  await execute(db, 'DELETE FROM right_changes WHERE at < UTC_TIMESTAMP(3) - INTERVAL 1 HOUR LIMIT 50000');
}
