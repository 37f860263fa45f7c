import type { HolidayView } from '@ecoute/contract/releases';
import { row, rows, execute, type Queryable } from '../../platform/database';

export async function holidaysBetween(db: Queryable, from: string, to: string): Promise<HolidayView[]> {
  return rows<HolidayView>(
    db,
    `SELECT id, name, DATE_FORMAT(first_on, '%Y-%m-%d') AS firstOn, DATE_FORMAT(last_on, '%Y-%m-%d') AS lastOn
     FROM holidays WHERE last_on >= :from AND first_on <= :to ORDER BY first_on LIMIT 500`,
    { from, to },
  );
}

export async function insertHoliday(
  db: Queryable,
  made: { id: string; name: string; firstOn: string; lastOn: string; madeBy: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO holidays (id, name, first_on, last_on, made_by) VALUES (:id, :name, :firstOn, :lastOn, :madeBy)`,
    made,
  );
}

/** Who named some days; null where there are none. */
export async function holidayMaker(db: Queryable, id: string): Promise<string | null> {
  const found = await row<{ madeBy: string }>(db, 'SELECT made_by AS madeBy FROM holidays WHERE id = :id', {
    id,
  });
  return found?.madeBy ?? null;
}

export async function removeHoliday(db: Queryable, id: string): Promise<boolean> {
  return (await execute(db, 'DELETE FROM holidays WHERE id = :id', { id })) > 0;
}
