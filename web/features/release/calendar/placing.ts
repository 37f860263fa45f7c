/** What is remembered of how somebody plans, and the dates that a plan means. */
import { spanFrom, weekly, type Holiday, type SeriesDay } from '@ecoute/core/timing/series';
import { dayOf, daysBetween, wallOf } from '@ecoute/core/timing/wallTime';
import type { HeardBy, ReleaseEntry, SeriesDate } from '@ecoute/contract/releases';

export interface Plan {
  /** Classes, or groups of them: `class` or `class group`, in the order they were chosen. */
  to: string[];
  /** `HH:MM` */
  opensAt: string;
  dueDays: number;
  dueAt: string;
  weeks: number;
  hidden: boolean;
  lateAccepted: boolean;
  sittingsAllowed: number;
  heardBy: HeardBy;
  scoresHeld: boolean;
  notify: boolean;
}

const USUAL: Plan = {
  to: [],
  opensAt: '08:00',
  dueDays: 6,
  dueAt: '18:00',
  weeks: 1,
  hidden: false,
  lateAccepted: true,
  sittingsAllowed: 1,
  heardBy: 'nobody',
  scoresHeld: false,
  notify: false,
};
const KEY = 'ecoute-plan-2';

/** The last plan of this browser; one that plans like a release where there is one. */
export function planLike(like: ReleaseEntry | undefined, zone: string, kept: string | null): Plan {
  if (like) {
    const [opens, due] = [like.opensAt, like.dueAt].map(Date.parse) as [number, number];
    return {
      to: [like.groupId ? `${like.classId} ${like.groupId}` : like.classId],
      opensAt: wallOf(opens, zone).slice(11),
      dueDays: daysBetween(dayOf(opens, zone), dayOf(due, zone)),
      dueAt: wallOf(due, zone).slice(11),
      weeks: 4,
      hidden: like.hidden,
      lateAccepted: like.lateAccepted,
      sittingsAllowed: like.sittingsAllowed,
      heardBy: like.heardBy,
      scoresHeld: like.scoresHeld,
      notify: like.notify,
    };
  }
  try {
    return { ...USUAL, ...(JSON.parse(kept ?? '{}') as Partial<Plan>), weeks: 1 };
  } catch {
    return USUAL;
  }
}

export function keptPlan(): string | null {
  return localStorage.getItem(KEY);
}

export function keepPlan(plan: Plan): void {
  localStorage.setItem(KEY, JSON.stringify(plan));
}

/** The dates of a plan, with what each holiday leaves out between them. */
export function datesOf(
  first: string,
  plan: Plan,
  holidays: readonly Holiday[],
  zone: string,
): (SeriesDay & Pick<SeriesDate, 'opensAt' | 'dueAt'>)[] {
  return weekly(first, plan.weeks, holidays).map(date => {
    const span = spanFrom(date.day, plan, zone);
    return {
      ...date,
      opensAt: new Date(span.opensAtMs).toISOString(),
      dueAt: new Date(span.dueAtMs).toISOString(),
    };
  });
}
