/** The same release again and again over a term, with holidays left out. */
import { addDays, instantOf, movedByDays } from './wallTime';

/** Days without school, first and last included, as `YYYY-MM-DD`. */
export interface Holiday {
  name: string;
  firstOn: string;
  lastOn: string;
}

export interface SeriesDay {
  day: string;
  /** The holiday that leaves this day out; null where the release takes place. */
  leftOut: string | null;
}

const MOST_WEEKS = 60;

/** The holiday that a day falls into, if any. */
export function holidayOn(day: string, holidays: readonly Holiday[]): Holiday | null {
  return holidays.find(h => day >= h.firstOn && day <= h.lastOn) ?? null;
}

/**
 * The days of a weekly series, with those that fall into holidays named and not counted.
 * @param first first day, `YYYY-MM-DD`
 * @param count how many times it takes place
 * @param every weeks from one to the next
 */
export function weekly(first: string, count: number, holidays: readonly Holiday[], every = 1): SeriesDay[] {
  const days: SeriesDay[] = [];
  let taking = 0;
  for (let n = 0; taking < count && n < MOST_WEEKS; n++) {
    const day = addDays(first, n * 7 * every);
    const leftOut = holidayOn(day, holidays)?.name ?? null;
    days.push({ day, leftOut });
    if (leftOut === null) taking += 1;
  }
  return days;
}

/**
 * When a release that opens on a day opens and is due. Clock times that a change of the clocks leaves out move on
 * with the clocks.
 * @param day     `YYYY-MM-DD`
 * @param opensAt `HH:MM` on that day
 * @param dueDays days later that it is due
 * @param dueAt   `HH:MM` on the due day
 * @returns instants in ms since 1970 (UTC)
 */
export function spanFrom(
  day: string,
  { opensAt, dueDays, dueAt }: { opensAt: string; dueDays: number; dueAt: string },
  zone: string,
): { opensAtMs: number; dueAtMs: number } {
  return {
    opensAtMs: instantOf(`${day}T${opensAt}`, zone)!.atMs,
    dueAtMs: instantOf(`${addDays(day, dueDays)}T${dueAt}`, zone)!.atMs,
  };
}

/** Instants moved together by whole days on the wall of a zone; null stays null. */
export function allMovedByDays<T extends (number | null)[]>(instants: T, days: number, zone: string): T {
  return instants.map(at => (at === null ? null : movedByDays(at, days, zone))) as T;
}
