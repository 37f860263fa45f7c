/** A calendar of releases: which weeks are drawn, and where each release lies in them. */
import { addDays, dayOf, daysBetween } from '@ecoute/core/timing/wallTime';
import type { ReleaseEntry } from '@ecoute/contract/releases';

/** Monday of the week of a day. */
export function mondayOf(day: string): string {
  const weekday = new Date(`${day}T00:00Z`).getUTCDay();
  return addDays(day, -((weekday + 6) % 7));
}

/** Mondays of the weeks that a view shows: the one week, or all that touch the month. */
export function weeksOf(day: string, view: 'week' | 'month'): string[] {
  if (view === 'week') return [mondayOf(day)];
  const first = `${day.slice(0, 7)}-01`;
  const weeks = [mondayOf(first)];
  for (let next = addDays(weeks[0]!, 7); next.slice(0, 7) === day.slice(0, 7); next = addDays(next, 7))
    weeks.push(next);
  return weeks;
}

/** A day some weeks or months on; the end of the month where it has no such day. */
export function paged(day: string, view: 'week' | 'month', by: number): string {
  if (view === 'week') return addDays(day, 7 * by);
  const [year, month] = day.split('-').map(Number) as [number, number, number];
  return new Date(Date.UTC(year, month - 1 + by, 1)).toISOString().slice(0, 10);
}

/** Where a release lies in one week. */
export interface Bar {
  release: ReleaseEntry;
  /** First and last column, 0 (Monday) to 6. */
  from: number;
  to: number;
  /** Which line under the days, from 0. */
  lane: number;
  /** It opens in this week, and is due in it. */
  opensHere: boolean;
  dueHere: boolean;
}

/**
 * The releases of a week as bars from the day they open to the day they are due, on as few lines as they need;
 * those that open first lie on top.
 */
export function barsOf(releases: readonly ReleaseEntry[], monday: string, zone: string): Bar[] {
  const taken: number[] = [];
  return releases
    .map(release => ({
      release,
      opensOn: dayOf(Date.parse(release.opensAt), zone),
      // Due at midnight belongs to the day that ends there.
      dueOn: dayOf(Date.parse(release.dueAt) - 1, zone),
    }))
    .filter(r => r.dueOn >= monday && r.opensOn <= addDays(monday, 6))
    .sort(
      (a, b) =>
        a.opensOn.localeCompare(b.opensOn) ||
        b.dueOn.localeCompare(a.dueOn) ||
        a.release.id.localeCompare(b.release.id),
    )
    .map(({ release, opensOn, dueOn }) => {
      const opensAt = daysBetween(monday, opensOn);
      const dueAt = daysBetween(monday, dueOn);
      const [from, to] = [Math.max(0, opensAt), Math.min(6, dueAt)];
      let lane = taken.findIndex(last => last < from);
      if (lane < 0) lane = taken.length;
      taken[lane] = to;
      return { release, from, to, lane, opensHere: opensAt >= 0, dueHere: dueAt <= 6 };
    });
}
