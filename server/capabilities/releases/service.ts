import { randomUUID } from 'node:crypto';
import { allMovedByDays, changedAlike } from '@ecoute/core/timing/series';
import { opennessAt } from '@ecoute/core/timing/sittingState';
import { isTimeZone, wallOf } from '@ecoute/core/timing/wallTime';
import { planOf } from '@ecoute/contract/assessment/discussion';
import { releaseProblems } from '@ecoute/contract/assessment/problems';
import type { Me } from '@ecoute/contract/people';
import type {
  ChangeSeries,
  MoveReleases,
  NewException,
  NewRelease,
  NewSeries,
  Reach,
  ReleaseEntry,
  ReleaseTerms,
  ReminderResult,
  SeriesChanged,
} from '@ecoute/contract/releases';
import { insertChange, insertForParticipants } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { UNTIL_DONE, type JobQueue } from '../../platform/jobs/queue';
import { addressOf, type Mailer } from '../../platform/mail/mailer';
import { invalid, notFound, Trouble } from '../../platform/trouble';
import { editsAssessment, managesClass, managesRelease } from '../../platform/access/store';
import { fillOutlines, findAssessment, freezeVersion } from '../assessments/store';
import { studentsFrom, type StudentStanding } from './standing';
import * as store from './store';
import * as standings from './standings.store';
import * as participants from './participants.store';
import { entryView } from './view';

/** Nobody is reminded twice within this time, however often a teacher asks. */
const REMIND_AGAIN_MS = 3_600_000;

export class Releases {
  constructor(
    private readonly pool: Pool,
    private readonly jobs: JobQueue,
    private readonly mailer: Mailer,
    private readonly baseUrl: string,
  ) {
    jobs.on('announceRelease', (payload: { id: string }) => this.announce(payload.id), UNTIL_DONE);
  }

  /** Fills in what releases of an earlier Ecoute lack. */
  prepare(): Promise<void> {
    return fillOutlines(this.pool);
  }

  /**
   * Freezes the assessment as it stands and gives it to whom it is for.
   * @returns the id of the release
   * @throws Trouble invalid when it is not ready, or the times contradict each other
   */
  async make(teacher: Me, wanted: NewRelease): Promise<string> {
    const [id] = await transaction(this.pool, db => this.makeIn(db, teacher, wanted, [wanted], null));
    return id!;
  }

  /** The same release on several dates, all or none. @throws Trouble as `make` does */
  async makeSeries(teacher: Me, wanted: NewSeries): Promise<ReleaseEntry[]> {
    const dates = wanted.each.map(date => ({ ...wanted, closesAt: null, ...date }));
    const ids = await transaction(this.pool, async db => {
      const made = await this.makeIn(db, teacher, wanted, dates, randomUUID());
      for (const { classId, groupId = null } of wanted.alsoTo ?? []) {
        const audience = groupId ? ('group' as const) : ('class' as const);
        const also = { ...wanted, classId, groupId, audience, studentIds: [] };
        made.push(...(await this.makeIn(db, teacher, also, dates, randomUUID())));
      }
      return made;
    });
    return (await store.entriesOf(this.pool, ids))
      .map(entryView)
      .sort((a, b) => a.opensAt.localeCompare(b.opensAt));
  }

  private async makeIn(
    db: Queryable,
    teacher: Me,
    given: NewRelease,
    dates: readonly ReleaseTerms[],
    seriesId: string | null,
  ): Promise<string[]> {
    // All ids come in the body: what is not the teacher's own does not exist.
    if (!(await editsAssessment(db, teacher.id, given.assessmentId))) throw notFound();
    if (!(await managesClass(db, teacher.id, given.classId))) throw notFound();
    const audience = given.audience ?? 'class';
    const groupId = audience === 'group' ? (given.groupId ?? null) : null;
    if (audience === 'group' && (!groupId || !(await participants.groupIsOf(db, groupId, given.classId))))
      throw invalid('groupId', 'Choose a group of this class.');
    const studentIds = audience === 'students' ? (given.studentIds ?? []) : [];
    if (audience === 'students' && studentIds.length === 0)
      throw invalid('studentIds', 'Choose at least one student.');
    const terms = dates.map(d => termsOf(d, null));
    const draft = await findAssessment(db, given.assessmentId, true);
    if (!draft) throw notFound();
    if (draft.away === 'thrown')
      throw invalid(
        'assessmentId',
        'This assessment was thrown away. Put it back on the shelf, then release it.',
      );
    const problems = releaseProblems(draft.content);
    if (problems[0])
      throw new Trouble('invalid', problems[0], { fields: { assessmentId: problems.join(' ') } });
    const versionId = await freezeVersion(db, {
      id: randomUUID(),
      assessmentId: draft.id,
      revision: draft.revision,
      content: draft.content,
    });
    const ids: string[] = [];
    for (const term of terms) {
      const id = randomUUID();
      await store.insertRelease(db, {
        ...term,
        id,
        versionId,
        assessmentId: draft.id,
        classId: given.classId,
        audience,
        groupId,
        seriesId,
        releasedBy: teacher.id,
      });
      await participants.addAudience(db, { id, classId: given.classId, audience, groupId });
      const added = await participants.addParticipants(db, id, given.classId, studentIds);
      if (added !== new Set(studentIds).size) throw invalid('studentIds', 'Choose students of this class.');
      ids.push(id);
    }
    await this.tell(db, ids, given.classId);
    return ids;
  }

  /** Changes when and how a release takes place. What was handed in stays handed in. */
  async change(id: string, wanted: ReleaseTerms): Promise<void> {
    await transaction(this.pool, async db => {
      const release = await store.findRelease(db, id);
      if (!release) throw notFound();
      await store.changeTerms(db, id, termsOf(wanted, release));
      // Put off again, it is once more what its assessment is.
      await this.follow(db, release.assessmentId, id);
      await this.tell(db, [id], release.classId);
    });
  }

  /**
   * Gives releases that follow an assessment, and have not opened, what it is now. While it cannot be released as it is
   * they keep what they had; so do those of whoever may no longer change it.
   * @param id that release alone
   */
  async follow(db: Queryable, assessmentId: string, id: string | null = null): Promise<void> {
    const followers = await store.followersOf(db, assessmentId, id);
    if (followers.length === 0) return;
    const draft = await findAssessment(db, assessmentId);
    if (!draft || releaseProblems(draft.content).length > 0) return;
    const may = new Map<string, boolean>();
    for (const { releasedBy } of followers)
      if (!may.has(releasedBy)) may.set(releasedBy, await editsAssessment(db, releasedBy, assessmentId));
    const taking = followers.filter(f => may.get(f.releasedBy));
    if (taking.length === 0) return;
    const versionId = await freezeVersion(db, {
      id: randomUUID(),
      assessmentId,
      revision: draft.revision,
      content: draft.content,
    });
    const behind = taking.filter(f => f.versionId !== versionId);
    if (behind.length === 0) return;
    await store.setVersion(
      db,
      behind.map(f => f.id),
      versionId,
    );
    await store.removeUnusedVersions(
      db,
      behind.map(f => f.versionId),
    );
    for (const { id: subjectId, classId } of behind)
      await insertChange(db, { kind: 'release', subjectId, classId, personId: null });
  }

  /** Lets a release follow its assessment, or holds it as it is. @throws Trouble inUse once it has opened */
  async setFollows(id: string, follows: boolean): Promise<void> {
    await transaction(this.pool, async db => {
      const release = await store.findRelease(db, id);
      if (!release) throw notFound();
      if (!(await store.setFollows(db, id, follows)))
        throw new Trouble('inUse', 'It has opened, or somebody has begun it: what they sit stays as it is.');
      await this.follow(db, release.assessmentId, id);
      await insertChange(db, { kind: 'release', subjectId: id, classId: release.classId, personId: null });
    });
  }

  /**
   * Changes a release and those of its series that the change reaches: each as this one, with its own line. What is over
   * stays; what is open already keeps when it opened.
   * @throws Trouble notFound unless all of them are the teacher's; invalid, and nothing is changed, where times contradict
   */
  async changeSeries(teacher: Me, id: string, { reach, ...wanted }: ChangeSeries): Promise<SeriesChanged> {
    const done = await transaction(this.pool, async db => {
      const pivot = await store.findRelease(db, id);
      if (!pivot) throw notFound();
      const after = termsOf(wanted, pivot);
      const spanOf = (r: Pick<store.ReleaseTermsRow, 'opensAt' | 'dueAt' | 'closesAt'>) => ({
        opensAtMs: r.opensAt.getTime(),
        dueAtMs: r.dueAt.getTime(),
        closesAtMs: r.closesAt?.getTime() ?? null,
      });
      const policies = POLICIES.filter(name => after[name] !== pivot[name]);
      const ids = await store.reachedBy(db, pivot, reach);
      const before = (await store.entriesOf(db, ids)).map(entryView);
      const changed: string[] = [];
      for (const one of ids) {
        if (!(await managesRelease(db, teacher.id, one))) throw notFound();
        const release = (await store.findRelease(db, one))!;
        if (one === id) await store.changeTerms(db, id, after);
        else {
          if (opennessAt(store.timesOf(release), Date.now()) === 'closed' || release.dueAt <= new Date())
            continue;
          const span = changedAlike(spanOf(pivot), spanOf(after), spanOf(release), after.timeZone);
          const isOpen = opennessAt(store.timesOf(release), Date.now()) === 'open';
          const opensAt = isOpen ? release.opensAt : new Date(span.opensAtMs);
          const own = Object.fromEntries(policies.map(name => [name, after[name]]));
          const terms = {
            ...release,
            ...own,
            opensAt: opensAt.toISOString(),
            dueAt: new Date(span.dueAtMs).toISOString(),
            closesAt: span.closesAtMs === null ? null : new Date(span.closesAtMs).toISOString(),
          };
          await store.changeTerms(db, one, termsOfOther(terms, release));
        }
        await this.follow(db, release.assessmentId, one);
        await this.tell(db, [one], release.classId);
        changed.push(one);
      }
      return {
        changed,
        before: before.filter(r => changed.includes(r.id)),
        stayed: ids.length - changed.length,
      };
    });
    return { ...done, changed: (await store.entriesOf(this.pool, done.changed)).map(entryView) };
  }

  /**
   * Takes back a release and those of its series that are reached; those that somebody has begun stay.
   * @throws Trouble notFound unless all of them are the teacher's; inUse where every one is begun
   */
  async takeBackSeries(teacher: Me, id: string, reach: Reach): Promise<{ taken: number; stayed: number }> {
    return transaction(this.pool, async db => {
      const pivot = await store.findRelease(db, id);
      if (!pivot) throw notFound();
      const ids = await store.reachedBy(db, pivot, reach);
      let taken = 0;
      for (const one of ids) {
        if (!(await managesRelease(db, teacher.id, one))) throw notFound();
        if (await this.removeIn(db, one)) taken += 1;
      }
      if (taken === 0) throw begunAlready();
      return { taken, stayed: ids.length - taken };
    });
  }

  /** Nothing is begun or recorded from now on, late work neither; what is recorded can still be handed in, and stays. */
  async close(id: string): Promise<void> {
    await transaction(this.pool, async db => {
      const release = await store.findRelease(db, id);
      if (!release) throw notFound();
      if (opennessAt(store.timesOf(release), Date.now()) === 'notYet')
        throw new Trouble('notOpenYet', 'It has not opened yet. Take it back, or let it open later.');
      await store.closeRelease(db, id);
      await this.tell(db, [id], release.classId);
    });
  }

  /**
   * Moves releases by whole days; hours on the wall stay, over changes of the clocks as well.
   * @throws Trouble notFound unless all of them are the teacher's
   */
  async move(teacher: Me, { releaseIds, days, reach = 'this' }: MoveReleases): Promise<ReleaseEntry[]> {
    const moved = await transaction(this.pool, async db => {
      const ids = new Set(releaseIds);
      const first = await store.findRelease(db, releaseIds[0]!);
      if (first) for (const id of await store.reachedBy(db, first, reach)) ids.add(id);
      for (const id of ids) {
        if (!(await managesRelease(db, teacher.id, id))) throw notFound();
        const release = await store.findRelease(db, id);
        if (!release) throw notFound();
        const [opens, due, closes] = allMovedByDays(
          [release.opensAt.getTime(), release.dueAt.getTime(), release.closesAt?.getTime() ?? null],
          days,
          release.timeZone,
        ) as [number, number, number | null];
        await store.changeTerms(db, id, {
          ...release,
          opensAt: new Date(opens),
          dueAt: new Date(due),
          closesAt: closes === null ? null : new Date(closes),
        });
        await this.follow(db, release.assessmentId, id);
        await this.tell(db, [id], release.classId);
      }
      return [...ids];
    });
    return (await store.entriesOf(this.pool, moved)).map(entryView);
  }

  /** Takes a release back. @throws Trouble inUse once somebody has begun: work is never taken away */
  async takeBack(id: string): Promise<void> {
    await transaction(this.pool, async db => {
      if (!(await this.removeIn(db, id))) throw begunAlready();
    });
  }

  /** @returns false where somebody has begun it: it stays */
  private async removeIn(db: Queryable, id: string): Promise<boolean> {
    const release = await store.findRelease(db, id);
    if (!release) throw notFound();
    await insertForParticipants(db, [id]);
    if (!(await store.removeRelease(db, id))) return false;
    await insertChange(db, { kind: 'release', subjectId: id, classId: release.classId, personId: null });
    return true;
  }

  /**
   * What one student is granted: an extension, an excuse, more sittings.
   * @throws Trouble isDiscussion for more sittings of what is not sat
   */
  async grant(teacher: Me, id: string, personId: string, wanted: NewException): Promise<void> {
    await transaction(this.pool, async db => {
      const release = await store.findRelease(db, id);
      if (!release) throw notFound();
      if (planOf(release.content) && (wanted.another || wanted.extraSittings))
        throw new Trouble(
          'isDiscussion',
          'A discussion is not sat once more: give more time where it is needed.',
        );
      // Held from here on: two grants in the same moment come one after the other.
      const before = await participants.exceptionOf(db, id, personId, true);
      if (!before) throw notFound();
      const dueAtMs =
        wanted.dueAt === undefined ? before.dueAtMs : wanted.dueAt ? Date.parse(wanted.dueAt) : null;
      if (dueAtMs !== null && dueAtMs <= release.opensAt.getTime())
        throw invalid('dueAt', 'That is before it opens. Choose a later time.');
      let extraSittings = wanted.extraSittings ?? before.extraSittings;
      if (wanted.another && release.sittingsAllowed > 0) {
        const begun = (await standings.standings(db, [id], personId)).filter(
          s => s.sittingId !== null,
        ).length;
        extraSittings = Math.max(extraSittings, begun + 1 - release.sittingsAllowed);
      }
      await participants.grant(
        db,
        { releaseId: id, personId, by: teacher.id },
        { dueAtMs, excused: wanted.excused ?? before.excused, extraSittings },
      );
      await insertChange(db, { kind: 'release', subjectId: id, classId: release.classId, personId: null });
      await insertChange(db, { kind: 'todo', subjectId: null, classId: null, personId });
    });
  }

  /**
   * Reminds by mail whoever has not handed in and is not excused; nobody twice within an hour.
   * @throws Trouble notOpenYet while students do not see it, or when nothing is taken any more
   */
  async remind(id: string): Promise<ReminderResult> {
    this.mailer.needed();
    return transaction(this.pool, async db => {
      // One reminder at a time: two teachers who ask in the same moment send one mail.
      await store.lockRelease(db, id);
      const release = await store.findRelease(db, id);
      if (!release) throw notFound();
      const now = Date.now();
      const openness = opennessAt(store.timesOf(release), now);
      if (openness === 'notYet')
        throw new Trouble('notOpenYet', 'Students do not see this yet, so nobody is reminded of it.');
      const students = studentsFrom(store.timesOf(release), await standings.standings(db, [id]), now);
      const result: ReminderResult = { sent: 0, without: [], already: 0 };
      for (const s of students) {
        if (s.counting?.handedInAt || s.standing.excused || opennessAt(s.times, now) === 'closed') continue;
        if (s.remindedAt && now - s.remindedAt.getTime() < REMIND_AGAIN_MS) {
          result.already += 1;
          continue;
        }
        const to = addressOf(s);
        if (!to) {
          if (!release.namesHidden) result.without.push(s.displayName);
          continue;
        }
        await participants.markReminded(db, id, s.studentId);
        await this.mailer.send(db, {
          to,
          subject: `${release.content.title}: still to do`,
          text: this.letter(release, s, 'is still waiting for you.'),
        });
        result.sent += 1;
      }
      await insertChange(db, { kind: 'release', subjectId: id, classId: release.classId, personId: null });
      return result;
    });
  }

  /** Job: tells students by mail that a release is open, once, where its teacher wants that. */
  private async announce(id: string): Promise<void> {
    await transaction(this.pool, async db => {
      const release = await store.findRelease(db, id);
      const now = Date.now();
      if (!release?.notify || opennessAt(store.timesOf(release), now) !== 'open') return;
      if (!(await store.markAnnounced(db, id))) return;
      for (const s of studentsFrom(store.timesOf(release), await standings.standings(db, [id]), now)) {
        const to = addressOf(s);
        if (to && !s.standing.excused)
          await this.mailer.send(db, {
            to,
            subject: `${release.content.title} is open`,
            text: this.letter(release, s, 'is open for you now.'),
          });
      }
    });
  }

  private letter(release: store.ReleaseRow, student: StudentStanding, what: string): string {
    const due = new Intl.DateTimeFormat('en-GB', {
      dateStyle: 'full',
      timeStyle: 'short',
      timeZone: release.timeZone,
    }).format(student.times.dueAtMs);
    return [
      `${student.displayName},`,
      `“${release.content.title}” (${release.className}) ${what} It is due on ${due}.`,
      ...(release.note ? [`“${release.note}”`] : []),
      `${this.baseUrl}/sit/${release.id}`,
    ].join('\n\n');
  }

  /** Open pages of the teachers, and of the students, learn of it by themselves. */
  private async tell(db: Queryable, ids: readonly string[], classId: string): Promise<void> {
    for (const subjectId of ids)
      await insertChange(db, { kind: 'release', subjectId, classId, personId: null });
    await insertForParticipants(db, ids);
    for (const id of ids) {
      const release = await store.findRelease(db, id);
      if (release?.notify && !release.hidden)
        await this.jobs.add(db, 'announceRelease', { id }, { runAfter: release.opensAt, subjectId: id });
    }
  }
}

/** Terms of another one of a series. @throws Trouble invalid, which says of which day it is */
function termsOfOther(wanted: ReleaseTerms, known: store.ReleaseTermsRow): store.ReleaseTermsRow {
  try {
    return termsOf(wanted, known);
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    const day = wallOf(known.opensAt.getTime(), known.timeZone).slice(0, 10);
    throw invalid('dueAt', `The one that opens on ${day}: ${error.message}`);
  }
}

const begunAlready = () =>
  new Trouble('inUse', 'Somebody has begun this already, and their work stays. Hide it, or close it.');

/** What of the terms is the same for a whole series when it is changed for one; times and lines are each one's own. */
const POLICIES = [
  'lateAccepted',
  'hidden',
  'sittingsAllowed',
  'heardBy',
  'scoresHeld',
  'notify',
  'timeZone',
] as const;

/**
 * Terms as they are kept.
 * @param known the terms that hold so far, for what is left out; null for a new release
 * @throws Trouble invalid when the times contradict each other
 */
function termsOf(wanted: ReleaseTerms, known: store.ReleaseTermsRow | null): store.ReleaseTermsRow {
  const opensAt = wanted.opensAt ? new Date(wanted.opensAt) : (known?.opensAt ?? new Date());
  const dueAt = new Date(wanted.dueAt);
  const lateAccepted = wanted.lateAccepted;
  const closesAt = lateAccepted && wanted.closesAt ? new Date(wanted.closesAt) : null;
  const timeZone = wanted.timeZone ?? known?.timeZone ?? 'UTC';
  if (!isTimeZone(timeZone)) throw invalid('timeZone', 'This time zone is not known here. Choose another.');
  const moved = known === null || dueAt.getTime() !== known.dueAt.getTime();
  if (moved && dueAt.getTime() <= Date.now())
    throw invalid('dueAt', 'The due time has passed already. Choose a later one.');
  if (dueAt.getTime() <= opensAt.getTime())
    throw invalid('dueAt', 'It would be due before it opens. Choose a later due time.');
  if (closesAt && closesAt < dueAt)
    throw invalid('closesAt', 'It would close before it is due. Choose a later time, or leave it open.');
  return {
    opensAt,
    dueAt,
    closesAt,
    lateAccepted,
    timeZone,
    hidden: wanted.hidden ?? known?.hidden ?? false,
    sittingsAllowed: wanted.sittingsAllowed ?? known?.sittingsAllowed ?? 1,
    heardBy: wanted.heardBy ?? known?.heardBy ?? 'nobody',
    scoresHeld: wanted.scoresHeld ?? known?.scoresHeld ?? false,
    notify: wanted.notify ?? known?.notify ?? false,
    note: wanted.note.trim(),
  };
}
