/** A release form as it is filled in, in clock times of the browser's zone, and the terms that it means. */
import { closingMs, opennessAt, type ReleaseTimes } from '@ecoute/core/timing/sittingState';
import { addDays, dayOf, instantOf, wallOf } from '@ecoute/core/timing/wallTime';
import type { HeardBy, ReleaseEntry, ReleaseTerms } from '@ecoute/contract/releases';

export interface TermsDraft {
  opens: 'now' | 'at' | 'byHand';
  /** `YYYY-MM-DDTHH:MM` */
  opensWall: string;
  dueWall: string;
  lateAccepted: boolean;
  /** Empty for never. */
  closesWall: string;
  sittingsAllowed: number;
  heardBy: HeardBy;
  scoresHeld: boolean;
  notify: boolean;
  note: string;
}

/** The zone that this browser's clock shows. */
export function browserZone(): string {
  return Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC';
}

/** A new release: open at once, due in a week at six in the evening, late work taken. */
export function usualTerms(nowMs: number, zone: string): TermsDraft {
  const today = dayOf(nowMs, zone);
  return {
    opens: 'now',
    opensWall: `${addDays(today, 1)}T08:00`,
    dueWall: `${addDays(today, 7)}T18:00`,
    lateAccepted: true,
    closesWall: '',
    sittingsAllowed: 1,
    heardBy: 'nobody',
    scoresHeld: false,
    notify: false,
    note: '',
  };
}

/** Due times that teachers choose most, at six in the evening. */
export function usualDueTimes(nowMs: number, zone: string): [name: string, wall: string][] {
  const today = dayOf(nowMs, zone);
  return (
    [
      ['tomorrow', 1],
      ['in three days', 3],
      ['in a week', 7],
      ['in two weeks', 14],
    ] as const
  ).map(([name, days]) => [name, `${addDays(today, days)}T18:00`]);
}

/** The form for a release as it stands. */
export function draftOf(release: ReleaseEntry, zone: string): TermsDraft {
  const wall = (at: string | null) => (at ? wallOf(Date.parse(at), zone) : '');
  const { lateAccepted, sittingsAllowed, heardBy, scoresHeld, notify, note } = release;
  return {
    opens: release.hidden ? 'byHand' : 'at',
    opensWall: wall(release.opensAt),
    dueWall: wall(release.dueAt),
    closesWall: wall(release.closesAt),
    lateAccepted,
    sittingsAllowed,
    heardBy,
    scoresHeld,
    notify,
    note,
  };
}

/** A release's terms as they are, to be put back. */
export function termsAsTheyAre(release: ReleaseEntry): ReleaseTerms {
  const { opensAt, dueAt, closesAt, lateAccepted, hidden, sittingsAllowed } = release;
  const { heardBy, scoresHeld, notify, note, timeZone } = release;
  return {
    ...{ opensAt, dueAt, closesAt, lateAccepted, hidden, sittingsAllowed },
    ...{ heardBy, scoresHeld, notify, note, timeZone },
  };
}

export interface MeantTerms {
  terms: ReleaseTerms | null;
  /** What does not fit, by field. */
  fields: Partial<Record<'opensAt' | 'dueAt' | 'closesAt', string>>;
  /** What is understood otherwise than it might be meant. */
  remark: string | null;
}

/**
 * The terms that a form means. Clock times that a change of the clocks leaves out are no times; of those that it
 * brings twice the later one is meant.
 */
export function termsOf(draft: TermsDraft, zone: string): MeantTerms {
  const fields: MeantTerms['fields'] = {};
  let remark: string | null = null;
  const read = (field: keyof typeof fields, wall: string, missing: string): string | null => {
    const found = instantOf(wall, zone);
    if (!found) fields[field] = missing;
    else if (found.kind === 'skipped')
      fields[field] =
        `The clocks go forward that night and ${wall.slice(11)} is left out. Choose another time, for example ${wallOf(found.atMs, zone).slice(11)}.`;
    else if (found.kind === 'twice')
      remark = `The clocks go back that night and ${wall.slice(11)} comes twice; the second is meant.`;
    return found ? new Date(found.atMs).toISOString() : null;
  };
  const dueAt = read('dueAt', draft.dueWall, 'Say when it is due.');
  const opensAt = draft.opens === 'at' ? read('opensAt', draft.opensWall, 'Say when it opens.') : null;
  const closesAt =
    draft.lateAccepted && draft.closesWall ? read('closesAt', draft.closesWall, 'Say when it closes.') : null;
  if (Object.keys(fields).length > 0 || !dueAt) return { terms: null, fields, remark };
  const { lateAccepted, sittingsAllowed, heardBy, scoresHeld, notify, note } = draft;
  return {
    terms: {
      ...(opensAt && { opensAt }),
      dueAt,
      closesAt,
      lateAccepted,
      hidden: draft.opens === 'byHand',
      sittingsAllowed,
      heardBy,
      scoresHeld,
      notify,
      note,
      timeZone: zone,
    },
    fields,
    remark,
  };
}

/** A release's times as core counts them. */
export function timesOf(release: ReleaseEntry): ReleaseTimes {
  return {
    opensAtMs: Date.parse(release.opensAt),
    dueAtMs: Date.parse(release.dueAt),
    closesAtMs: release.closesAt ? Date.parse(release.closesAt) : null,
    lateAccepted: release.lateAccepted,
    hidden: release.hidden,
  };
}

/** How a release stands just now, in words; `when` says an instant. */
export function standsWords(release: ReleaseEntry, nowMs: number, when: (iso: string) => string): string {
  const times = timesOf(release);
  const due = `due ${when(release.dueAt)}`;
  switch (opennessAt(times, nowMs)) {
    case 'notYet':
      return release.hidden ? `hidden until you show it, ${due}` : `opens ${when(release.opensAt)}, ${due}`;
    case 'open':
      return `open, ${due}`;
    case 'lateOpen':
      return closingMs(times) === Infinity
        ? `was ${due}, late work is taken`
        : `was ${due}, late work is taken until ${when(new Date(closingMs(times)).toISOString())}`;
    case 'closed':
      return `closed, was ${due}`;
  }
}
