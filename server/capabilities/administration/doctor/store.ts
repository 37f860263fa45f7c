import type { Medium, RecordingState } from '@ecoute/contract/recordings';
import { row, rows, execute, type Queryable } from '../../../platform/database';

/** A recording as far as its files go. */
export interface KeptRow {
  id: string;
  ownerId: string;
  purpose: string;
  state: RecordingState;
  medium: Medium | null;
  sizeBytes: number | null;
  sha256: string | null;
  trimFromMs: number | null;
  trimToMs: number | null;
  playableAt: Date | null;
}

/** A page of the recordings that have a file, in order of id. */
export function keptAfter(db: Queryable, after: string | null, most: number): Promise<KeptRow[]> {
  return rows<KeptRow>(
    db,
    `SELECT id, owner_id AS ownerId, purpose, state, medium, size_bytes AS sizeBytes, sha256, trim_from_ms AS trimFromMs,
       trim_to_ms AS trimToMs, playable_at AS playableAt
     FROM recordings WHERE (:after IS NULL OR id > :after) AND state IN ('checking', 'stored')
     ORDER BY id LIMIT :most`,
    { after, most },
  );
}

/** Which of some ids are those of recordings. */
export async function knownOf(db: Queryable, ids: readonly string[]): Promise<Set<string>> {
  const found = await rows<{ id: string }>(db, 'SELECT id FROM recordings WHERE id IN (:ids)', { ids });
  return new Set(found.map(f => f.id));
}

/** A copy that plays everywhere is missing: it counts as not made. */
export async function forgetPlayable(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE recordings SET playable_at = NULL WHERE id = :id', { id });
}

/** The database's own clock, and the newest moment that is written down. */
export async function clocks(db: Queryable): Promise<{ now: Date; newest: Date | null }> {
  const found = await row<{ now: Date; newest: Date | null }>(
    db,
    `SELECT UTC_TIMESTAMP(3) AS now, (SELECT MAX(at) FROM (
       SELECT MAX(created_at) AS at FROM recordings UNION ALL SELECT MAX(handed_in_at) FROM sittings
       UNION ALL SELECT MAX(at) FROM security_log) x) AS newest`,
  );
  return found!;
}

/** What the database says of its own tables where it is not OK. */
export async function brokenTables(db: Queryable): Promise<string[]> {
  const tables = await rows<{ name: string }>(
    db,
    `SELECT TABLE_NAME AS name FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_TYPE = 'BASE TABLE'`,
  );
  const found: string[] = [];
  for (const { name } of tables)
    for (const { Msg_text: said } of await rows<{ Msg_text: string }>(db, `CHECK TABLE \`${name}\` MEDIUM`))
      if (said !== 'OK') found.push(`${name}: ${said}`);
  return found;
}

/** Takes of sittings that were handed in, and that never settled. */
export function unsettledHandedIn(db: Queryable): Promise<{ id: string; state: RecordingState }[]> {
  return rows(
    db,
    `SELECT r.id, r.state FROM recordings r JOIN takes t ON t.id = r.id JOIN sittings s ON s.id = t.sitting_id
     WHERE s.handed_in_at IS NOT NULL AND r.state IN ('arriving', 'checking')`,
  );
}
