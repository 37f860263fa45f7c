import { countingTake } from '@ecoute/core/timing/itemRun';
import { isBack, opennessAt } from '@ecoute/core/timing/sittingState';
import type { Item } from '@ecoute/contract/assessments';
import type { Me } from '@ecoute/contract/people';
import type {
  CalendarView,
  ReleaseDetail,
  ReleaseStudent,
  ReleaseSummary,
  StateCounts,
} from '@ecoute/contract/releases';
import { teachesClass } from '../../platform/access/store';
import type { Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { holidaysBetween } from '../holidays/store';
import { studentsFrom, type StudentStanding } from '../releases/standing';
import * as store from '../releases/store';
import * as standings from '../releases/standings.store';
import { entryView } from '../releases/view';
import { takesOfSittings, type TakeRow } from '../sittings/answers.store';
import { eventsOfSittings, hearingsOf, type HearingsRow } from '../sittings/events.store';
import { liveFrom } from './live';

/** Releases with where everybody stands in them, for those who teach or plan. */
export class Overview {
  constructor(private readonly pool: Pool) {}

  /** The newest releases, and every older one in which work waits for feedback. */
  async list(teacher: Me): Promise<ReleaseSummary[]> {
    const newest = await store.releasesTaught(this.pool, teacher.id);
    const known = new Set(newest.map(r => r.id));
    const waiting = await store.releasesWithoutFeedback(this.pool, teacher.id);
    const older = await store.entriesOf(
      this.pool,
      waiting.filter(id => !known.has(id)),
    );
    return this.summaries(teacher, [
      ...newest,
      ...older.sort((a, b) => b.dueAt.getTime() - a.dueAt.getTime()),
    ]);
  }

  /** The next older page after one of the teacher's releases. @throws Trouble notFound where it is gone */
  async before(teacher: Me, id: string): Promise<ReleaseSummary[]> {
    const release = await store.findRelease(this.pool, id);
    if (!release) throw notFound();
    return this.summaries(
      teacher,
      await store.releasesTaught(this.pool, teacher.id, { dueAt: release.dueAt, id }),
    );
  }

  /** What lies on the days from one to another (that one left out); days as `YYYY-MM-DD`, a day of grace around. */
  async calendar(person: Me, from: string, to: string): Promise<CalendarView> {
    const day = 86_400_000;
    const releases = await store.releasesBetween(this.pool, {
      personId: person.id,
      isTeacher: person.role === 'teacher',
      from: new Date(Date.parse(`${from}T00:00Z`) - day),
      to: new Date(Date.parse(`${to}T00:00Z`) + day),
    });
    return { releases: releases.map(entryView), holidays: await holidaysBetween(this.pool, from, to) };
  }

  async detail(viewer: Me, id: string): Promise<ReleaseDetail> {
    const release = await store.findRelease(this.pool, id);
    const [entry] = await store.entriesOf(this.pool, [id]);
    if (!release || !entry) throw notFound();
    const now = Date.now();
    const rows = studentsFrom(store.timesOf(release), await standings.standings(this.pool, [id]), now);
    const open = rows.flatMap(s => (s.open ? [s.open.id] : []));
    const events = await eventsOfSittings(this.pool, open);
    const heard = await hearingsOf(
      this.pool,
      rows.flatMap(s => s.sittings.map(x => x.id)),
    );
    const counting = rows.flatMap(s => (s.counting ? [s.counting.id] : []));
    const takes = await takesOfSittings(this.pool, counting);
    const taken = new Map(counting.map(sittingId => [sittingId, [] as typeof takes]));
    for (const take of takes) taken.get(take.sittingId)?.push(take);
    const isHidden = (s: StudentStanding) => release.namesHidden && !isBack(s.standing.state);
    const students = rows.map((s): ReleaseStudent => {
      return {
        id: s.studentId,
        displayName: s.displayName,
        // From a name to a recording leads no way while names are hidden.
        sittingId: isHidden(s) ? null : (s.counting?.id ?? null),
        sittings: isHidden(s) ? Math.min(1, s.sittings.length) : s.sittings.length,
        ...(isHidden(s) ? presenceOf(s, now) : s.standing),
        dueAt: new Date(s.times.dueAtMs).toISOString(),
        extended: s.exception.dueAtMs !== null,
        extraSittings: isHidden(s) ? 0 : s.exception.extraSittings,
        handedInAt: isHidden(s) ? null : (s.counting?.handedInAt?.toISOString() ?? null),
        feedbackAt: isHidden(s) ? null : (s.counting?.feedbackAt?.toISOString() ?? null),
        answered: isHidden(s) ? 0 : (s.counting?.answered ?? 0),
        live:
          s.open && !isHidden(s)
            ? liveFrom(
                release.content.items,
                events.filter(e => e.sittingId === s.open!.id),
                now,
              )
            : null,
        hearings: isHidden(s)
          ? {}
          : hearingsIn(heard.filter(h => s.sittings.some(x => x.id === h.sittingId))),
        remindedAt: s.remindedAt?.toISOString() ?? null,
        takes:
          s.counting && !isHidden(s)
            ? countingTakes(release.content.items, taken.get(s.counting.id) ?? [])
            : [],
      };
    });
    const hears = await teachesClass(this.pool, viewer.id, release.classId);
    return { ...summaryView(entry, rows), hears, content: release.content, students };
  }

  private async summaries(viewer: Me, releases: store.EntryRow[]): Promise<ReleaseSummary[]> {
    const now = Date.now();
    const rows = new Map<string, standings.StandingRow[]>();
    for (const row of await standings.standingsToCount(
      this.pool,
      releases.map(r => r.id),
    )) {
      const of = rows.get(row.releaseId);
      if (of) of.push(row);
      else rows.set(row.releaseId, [row]);
    }
    const taught = new Map<string, boolean>();
    for (const { classId } of releases)
      if (!taught.has(classId)) taught.set(classId, await teachesClass(this.pool, viewer.id, classId));
    return releases.map(r => ({
      ...summaryView(r, studentsFrom(store.timesOf(r), rows.get(r.id) ?? [], now)),
      hears: taught.get(r.classId)!,
    }));
  }
}

/** Hearings by item, over all of a student's sittings. */
function hearingsIn(rows: readonly HearingsRow[]): Record<string, number> {
  const heard: Record<string, number> = {};
  for (const { itemId, count } of rows) heard[itemId] = (heard[itemId] ?? 0) + Number(count);
  return heard;
}

/**
 * What is said by name while names are hidden. Before the due time only whether somebody has begun: the moment in which
 * somebody hands in, and a voice appears on the lanes, would say whose it is. After it, who has handed in.
 */
function presenceOf(s: StudentStanding, now: number): StudentStanding['standing'] {
  const isOver = now > s.times.dueAtMs;
  const hasHandedIn = s.sittings.some(x => x.handedInAt !== null);
  const state = s.sittings.length === 0 ? 'notOpened' : isOver && hasHandedIn ? 'handedIn' : 'underWay';
  const missing = isOver && !hasHandedIn && !s.standing.excused;
  return { state, late: false, missing, excused: s.standing.excused, askedAgain: false };
}

/** What can be played of a sitting, in the order of its items. */
function countingTakes(items: readonly Item[], takes: readonly TakeRow[]): ReleaseStudent['takes'] {
  return items.flatMap(({ id }) => {
    const take = countingTake<TakeRow>(takes.filter(t => t.itemId === id));
    const isHeard = take?.recording.medium === 'sound' || take?.recording.medium === 'video';
    return take && isHeard ? [{ itemId: id, takeId: take.id, durationMs: take.durationMs }] : [];
  });
}

function summaryView(
  row: store.EntryRow,
  students: readonly StudentStanding[],
): Omit<ReleaseSummary, 'hears'> {
  const counts: StateCounts = {
    students: students.length,
    notOpened: 0,
    underWay: 0,
    handedIn: 0,
    marked: 0,
    feedbackGiven: 0,
    answered: 0,
    repliesWait: 0,
    askedAgain: 0,
    late: 0,
    missing: 0,
    excused: 0,
  };
  let waitingMs = 0;
  let waitingSittings = 0;
  // Before it opens nobody is missing anything, and an extension of one is not news about the others.
  const open = opennessAt(store.timesOf(row), Date.now()) !== 'notYet';
  for (const { standing, counting } of students) {
    counts[standing.state] += 1;
    for (const flag of ['late', 'missing', 'excused', 'askedAgain'] as const)
      if (standing[flag] && (open || flag !== 'missing')) counts[flag] += 1;
    if (counting?.replyWaits && isBack(standing.state)) counts.repliesWait += 1;
    // What is to be recorded again waits for its student, and of who is excused nothing waits.
    if (standing.state !== 'handedIn' || standing.askedAgain || standing.excused || !counting) continue;
    waitingSittings += 1;
    waitingMs += counting.waitingMs;
  }
  return { ...entryView(row), counts, waitingMs, waitingSittings };
}
