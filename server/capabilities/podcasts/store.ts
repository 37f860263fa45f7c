import { row, rows, execute, type Queryable } from '../../platform/database';

export async function addressOf(db: Queryable, ownerId: string): Promise<string | null> {
  const found = await row<{ id: string }>(
    db,
    `SELECT id FROM private_addresses WHERE owner_id = :ownerId AND kind = 'podcast'`,
    { ownerId },
  );
  return found?.id ?? null;
}

/** A new address; the one before leads nowhere from now on. */
export async function replaceAddress(db: Queryable, id: string, ownerId: string): Promise<void> {
  await execute(
    db,
    `INSERT INTO private_addresses (id, owner_id, kind, made_at) VALUES (:id, :ownerId, 'podcast', UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE id = VALUES(id), made_at = VALUES(made_at)`,
    { id, ownerId },
  );
}

export async function removeAddress(db: Queryable, ownerId: string): Promise<void> {
  await execute(db, `DELETE FROM private_addresses WHERE owner_id = :ownerId AND kind = 'podcast'`, {
    ownerId,
  });
}

/** Whose an address is; null once it is revoked, or the account closed. */
export async function ownerOf(
  db: Queryable,
  id: string,
): Promise<{ id: string; displayName: string } | null> {
  return row(
    db,
    `SELECT p.id, p.display_name AS displayName FROM private_addresses a JOIN people p ON p.id = a.owner_id
     WHERE a.id = :id AND a.kind = 'podcast' AND p.closed_at IS NULL AND p.role = 'student'`,
    { id },
  );
}

/** Sittings of a student that have their feedback, newest first. */
export async function returnedTo(
  db: Queryable,
  studentId: string,
): Promise<{ id: string; releaseId: string; feedbackAt: Date }[]> {
  return rows(
    db,
    `SELECT id, release_id AS releaseId, feedback_at AS feedbackAt FROM sittings
     WHERE student_id = :studentId AND feedback_at <= UTC_TIMESTAMP(3) AND set_aside_at IS NULL AND handed_in_at IS NOT NULL
     ORDER BY feedback_at DESC, id LIMIT 60`,
    { studentId },
  );
}

interface TalkOf {
  releaseId: string;
  ownerId: string;
}

/** A teacher's address for a discussion. */
export async function talkAddressOf(db: Queryable, of: TalkOf): Promise<string | null> {
  const found = await row<{ id: string }>(
    db,
    'SELECT id FROM discussion_feeds WHERE release_id = :releaseId AND owner_id = :ownerId',
    of,
  );
  return found?.id ?? null;
}

/** A new address; the one before leads nowhere from now on. */
export async function replaceTalkAddress(db: Queryable, id: string, of: TalkOf): Promise<void> {
  await execute(
    db,
    `INSERT INTO discussion_feeds (id, release_id, owner_id, made_at) VALUES (:id, :releaseId, :ownerId, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE id = VALUES(id), made_at = VALUES(made_at)`,
    { id, ...of },
  );
}

export async function removeTalkAddress(db: Queryable, of: TalkOf): Promise<void> {
  await execute(db, 'DELETE FROM discussion_feeds WHERE release_id = :releaseId AND owner_id = :ownerId', of);
}

/** What an address leads to; null once it is revoked, or the account of whoever made it closed. */
export async function talkBehind(db: Queryable, id: string): Promise<TalkOf | null> {
  return row(
    db,
    `SELECT f.release_id AS releaseId, f.owner_id AS ownerId FROM discussion_feeds f
       JOIN people p ON p.id = f.owner_id AND p.closed_at IS NULL WHERE f.id = :id`,
    { id },
  );
}
