/** The same release again and again over a term, with holidays left out. */
import { addDays, dayOf, daysBetween, instantOf, movedByDays, wallOf } from './wallTime';

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

/** When a release opens, is due and closes, in ms since 1970; null where it never closes. */
export interface ReleaseSpan {
  opensAtMs: number;
  dueAtMs: number;
  closesAtMs: number | null;
}

/**
 * The times of another release of a series, changed as one of them was: by as many days, and to the same time of day where
 * that was changed. What was not changed keeps what it has.
 * @param before,after the one that was changed, as it was and as it is
 * @param other        the one that follows it
 */
export function changedAlike(
  before: ReleaseSpan,
  after: ReleaseSpan,
  other: ReleaseSpan,
  zone: string,
): ReleaseSpan {
  const dayIn = (ms: number) => dayOf(ms, zone);
  const timeIn = (ms: number) => wallOf(ms, zone).slice(11);
  const at = (day: string, time: string) => instantOf(`${day}T${time}`, zone)!.atMs;
  const days = daysBetween(dayIn(before.opensAtMs), dayIn(after.opensAtMs));
  const opensOn = addDays(dayIn(other.opensAtMs), days);
  const isSameTime = (a: number, b: number) => timeIn(a) === timeIn(b);
  const isKept = days === 0 && isSameTime(before.opensAtMs, after.opensAtMs);
  const opensAtMs = isKept
    ? other.opensAtMs
    : at(opensOn, timeIn(isSameTime(before.opensAtMs, after.opensAtMs) ? other.opensAtMs : after.opensAtMs));
  /** A later time, by how many days after `from` and at which time of day. */
  const alike = (
    [was, is, own]: [number, number, number],
    [fromWas, fromIs, fromOwn, fromNew]: [number, number, number, number],
  ) => {
    const gap = (from: number, to: number) => daysBetween(dayIn(from), dayIn(to));
    const isGapKept = gap(fromWas, was) === gap(fromIs, is);
    if (isGapKept && isSameTime(was, is) && fromNew === fromOwn) return own;
    const day = addDays(dayIn(fromNew), isGapKept ? gap(fromOwn, own) : gap(fromIs, is));
    return at(day, timeIn(isSameTime(was, is) ? own : is));
  };
  const dueAtMs = alike(
    [before.dueAtMs, after.dueAtMs, other.dueAtMs],
    [before.opensAtMs, after.opensAtMs, other.opensAtMs, opensAtMs],
  );
  const closes = (): number | null => {
    if (before.closesAtMs === after.closesAtMs && other.closesAtMs === null) return null;
    if (after.closesAtMs === null) return before.closesAtMs === null ? other.closesAtMs : null;
    const own = other.closesAtMs ?? other.dueAtMs;
    const was = before.closesAtMs ?? before.dueAtMs;
    return alike([was, after.closesAtMs, own], [before.dueAtMs, after.dueAtMs, other.dueAtMs, dueAtMs]);
  };
  return { opensAtMs, dueAtMs, closesAtMs: closes() };
}
