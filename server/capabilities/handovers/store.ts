import { createHash } from 'node:crypto';
import { execute, row, rows, type Queryable } from '../../platform/database';

/** A code is kept as a digest only: whoever reads the database cannot use it. */
const digest = (text: string) => createHash('sha256').update(text).digest();

export interface HandoverRow {
  id: string;
  sittingId: string;
  itemId: string;
  studentId: string;
  expiresAt: Date;
  openedAt: Date | null;
}

export async function insertHandover(
  db: Queryable,
  made: { id: string; code: string; sittingId: string; itemId: string; expiresAt: Date },
): Promise<void> {
  const { code, ...rest } = made;
  // A new code ends the ones before it that nobody has used.
  await execute(
    db,
    `UPDATE handovers SET closed_at = UTC_TIMESTAMP(3)
     WHERE sitting_id = :sittingId AND opened_at IS NULL AND closed_at IS NULL`,
    rest,
  );
  await execute(
    db,
    `INSERT INTO handovers (id, code_hash, sitting_id, item_id, created_at, expires_at)
     VALUES (:id, :codeHash, :sittingId, :itemId, UTC_TIMESTAMP(3), :expiresAt)`,
    { ...rest, codeHash: digest(code) },
  );
}

const HANDOVER = `SELECT h.id, h.sitting_id AS sittingId, h.item_id AS itemId, s.student_id AS studentId,
    h.expires_at AS expiresAt, h.opened_at AS openedAt
  FROM handovers h JOIN sittings s ON s.id = h.sitting_id`;

/** A code that nobody has opened yet; the row is held. */
export async function findByCode(db: Queryable, code: string): Promise<HandoverRow | null> {
  return row(
    db,
    `${HANDOVER} WHERE h.code_hash = :codeHash AND h.opened_at IS NULL AND h.closed_at IS NULL
       AND h.expires_at > UTC_TIMESTAMP(3) FOR UPDATE`,
    { codeHash: digest(code) },
  );
}

/** One that a phone goes on with. */
export async function findOpen(db: Queryable, id: string): Promise<HandoverRow | null> {
  return row(
    db,
    `${HANDOVER} WHERE h.id = :id AND h.opened_at IS NOT NULL AND h.closed_at IS NULL
       AND h.expires_at > UTC_TIMESTAMP(3)`,
    { id },
  );
}

export async function openHandover(db: Queryable, id: string, expiresAt: Date): Promise<void> {
  await execute(
    db,
    'UPDATE handovers SET opened_at = UTC_TIMESTAMP(3), expires_at = :expiresAt WHERE id = :id',
    {
      id,
      expiresAt,
    },
  );
}

/** A phone goes on with another item. */
export async function moveHandover(db: Queryable, id: string, itemId: string): Promise<void> {
  await execute(db, 'UPDATE handovers SET item_id = :itemId WHERE id = :id AND closed_at IS NULL', {
    id,
    itemId,
  });
}

/** Phones that go on with a sitting, the newest first. */
export async function openOf(db: Queryable, sittingId: string): Promise<HandoverRow[]> {
  return rows(
    db,
    `${HANDOVER} WHERE h.sitting_id = :sittingId AND h.opened_at IS NOT NULL AND h.closed_at IS NULL
       AND h.expires_at > UTC_TIMESTAMP(3) ORDER BY h.opened_at DESC`,
    { sittingId },
  );
}

/** Ends a phone's part; what it recorded stays. */
export async function closeHandover(db: Queryable, id: string): Promise<void> {
  await execute(
    db,
    'UPDATE handovers SET closed_at = UTC_TIMESTAMP(3) WHERE id = :id AND closed_at IS NULL',
    {
      id,
    },
  );
}
