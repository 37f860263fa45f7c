import type { Ink } from '@ecoute/core/takes/ink';
import { execute, row, type Queryable } from '../../platform/database';

/** Keeps what was drawn with a take; what is kept stays. */
export async function keepSheet(db: Queryable, takeId: string, ink: Ink): Promise<void> {
  await execute(
    db,
    'INSERT INTO take_sheets (take_id, ink, kept_at) VALUES (:takeId, :ink, UTC_TIMESTAMP(3))',
    { takeId, ink: JSON.stringify(ink) },
  );
}

export async function sheetOf(db: Queryable, takeId: string): Promise<Ink | null> {
  const found = await row<{ ink: string }>(db, 'SELECT ink FROM take_sheets WHERE take_id = :takeId', {
    takeId,
  });
  return found && (JSON.parse(found.ink) as Ink);
}
