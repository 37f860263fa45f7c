import type { HolidayView } from '@ecoute/contract/releases';
import { row, rows, execute, type Queryable } from '../../platform/database';

/** Days without lessons, or a term of the school year. */
export type DaysKind = 'holiday' | 'term';

export async function holidaysBetween(
  db: Queryable,
  from: string,
  to: string,
  kind: DaysKind = 'holiday',
): Promise<HolidayView[]> {
  return rows<HolidayView>(
    db,
    `SELECT id, name, DATE_FORMAT(first_on, '%Y-%m-%d') AS firstOn, DATE_FORMAT(last_on, '%Y-%m-%d') AS lastOn
     FROM holidays WHERE kind = :kind AND last_on >= :from AND first_on <= :to ORDER BY first_on LIMIT 500`,
    { from, to, kind },
  );
}

export async function insertHoliday(
  db: Queryable,
  made: { id: string; name: string; firstOn: string; lastOn: string; madeBy: string; kind?: DaysKind },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO holidays (id, kind, name, first_on, last_on, made_by) VALUES (:id, :kind, :name, :firstOn, :lastOn, :madeBy)`,
    { kind: 'holiday', ...made },
  );
}

/** Who named some days; null where there are none. */
export async function holidayMaker(db: Queryable, id: string, kind: DaysKind): Promise<string | null> {
  const found = await row<{ madeBy: string }>(
    db,
    'SELECT made_by AS madeBy FROM holidays WHERE id = :id AND kind = :kind',
    { id, kind },
  );
  return found?.madeBy ?? null;
}

export async function removeHoliday(db: Queryable, id: string): Promise<boolean> {
  return (await execute(db, 'DELETE FROM holidays WHERE id = :id', { id })) > 0;
}
