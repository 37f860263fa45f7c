import { randomUUID } from 'node:crypto';
import { fromHundredths } from '@ecoute/core/scoring/points';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { standingAt } from '@ecoute/core/timing/sittingState';
import { releaseProblems } from '@ecoute/contract/assessments';
import type { Me } from '@ecoute/contract/people';
import type { NewRelease, ReleaseDetail, ReleaseSummary, StateCounts } from '@ecoute/contract/releases';
import { transaction, type Pool } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import { editsAssessment, teachesClass } from '../../platform/access/store';
import { findAssessment, freezeVersion } from '../assessments/store';
import { finishedItems } from '../marking/store';
import { takesOfSittings, type TakeRow } from '../sittings/store';
import * as store from './store';

export class Releases {
  constructor(private readonly pool: Pool) {}

  async list(teacher: Me): Promise<ReleaseSummary[]> {
    return this.summaries(await store.releasesOf(this.pool, { personId: teacher.id, role: 'teacher' }));
  }

  async detail(id: string): Promise<ReleaseDetail> {
    const release = await store.findRelease(this.pool, id);
    if (!release) throw notFound();
    const [summary] = await this.summaries([release]);
    if (!summary) throw notFound();
    const given = await store.pointsGiven(this.pool, id);
    const now = Date.now();
    const students = (await store.standings(this.pool, [id])).map(s => {
      const points = s.sittingId ? given.get(s.sittingId) : undefined;
      return {
        id: s.studentId,
        displayName: s.displayName,
        sittingId: s.sittingId,
        ...standingAt(store.timesOf(release), store.factsOf(s), now),
        handedInAt: s.handedInAt?.toISOString() ?? null,
        returnedAt: s.returnedAt?.toISOString() ?? null,
        answered: Number(s.answered),
        givenPoints: points === undefined ? null : fromHundredths(points),
      };
    });
    return { ...summary, students };
  }

  /**
   * Freezes the assessment as it stands and gives it to a class.
   * @throws Trouble invalid when it is not ready, or the times contradict each other
   */
  async make(teacher: Me, wanted: NewRelease): Promise<ReleaseDetail> {
    // Both ids come in the body: what is not the teacher's own does not exist.
    if (!(await editsAssessment(this.pool, teacher.id, wanted.assessmentId))) throw notFound();
    if (!(await teachesClass(this.pool, teacher.id, wanted.classId))) throw notFound();
    const opensAt = wanted.opensAt ? new Date(wanted.opensAt) : new Date();
    const dueAt = new Date(wanted.dueAt);
    const message =
      dueAt.getTime() <= Date.now()
        ? 'The due time has passed already. Choose a later one.'
        : dueAt.getTime() <= opensAt.getTime()
          ? 'It would be due before it opens. Choose a later due time.'
          : null;
    if (message) throw new Trouble('invalid', message, { fields: { dueAt: message } });
    const id = randomUUID();
    await transaction(this.pool, async db => {
      const draft = await findAssessment(db, wanted.assessmentId, true);
      if (!draft) throw notFound();
      const problems = releaseProblems(draft.content);
      if (problems[0])
        throw new Trouble('invalid', problems[0], { fields: { assessmentId: problems.join(' ') } });
      const versionId = await freezeVersion(db, {
        id: randomUUID(),
        assessmentId: draft.id,
        revision: draft.revision,
        content: draft.content,
      });
      await store.insertRelease(db, {
        id,
        versionId,
        opensAt,
        dueAt,
        releasedBy: teacher.id,
        assessmentId: draft.id,
        classId: wanted.classId,
        lateAccepted: wanted.lateAccepted,
        note: wanted.note.trim(),
      });
    });
    return this.detail(id);
  }

  private async summaries(releases: store.ReleaseRow[]): Promise<ReleaseSummary[]> {
    const now = Date.now();
    const ids = releases.map(r => r.id);
    const standings = groupBy(await store.standings(this.pool, ids), s => s.releaseId);
    const waiting = new Map<string, string[]>();
    const counts = new Map<string, StateCounts>();
    for (const release of releases) {
      const count: StateCounts = {
        students: 0,
        notOpened: 0,
        underWay: 0,
        handedIn: 0,
        marked: 0,
        returned: 0,
        late: 0,
        missing: 0,
      };
      for (const s of standings.get(release.id) ?? []) {
        const standing = standingAt(store.timesOf(release), store.factsOf(s), now);
        count.students += 1;
        count[standing.state] += 1;
        if (standing.late) count.late += 1;
        if (standing.missing) count.missing += 1;
        if (standing.state === 'handedIn' && s.sittingId)
          waiting.set(release.id, [...(waiting.get(release.id) ?? []), s.sittingId]);
      }
      counts.set(release.id, count);
    }
    const listening = await this.listeningMs([...waiting.values()].flat());
    return releases.map(r => ({
      ...r,
      title: r.content.title,
      opensAt: r.opensAt.toISOString(),
      dueAt: r.dueAt.toISOString(),
      counts: counts.get(r.id)!,
      waitingSittings: waiting.get(r.id)?.length ?? 0,
      waitingMs: (waiting.get(r.id) ?? []).reduce((sum, id) => sum + (listening.get(id) ?? 0), 0),
    }));
  }

  /** Length of the takes that count and have no finished mark yet, by sitting. */
  private async listeningMs(sittingIds: string[]): Promise<Map<string, number>> {
    const done = await finishedItems(this.pool, sittingIds);
    const bySlot = groupBy(await takesOfSittings(this.pool, sittingIds), t => `${t.sittingId} ${t.itemId}`);
    const sums = new Map<string, number>();
    for (const [slot, takes] of bySlot) {
      const take = countingTake<TakeRow>(takes);
      if (!take || done.has(slot)) continue;
      sums.set(take.sittingId, (sums.get(take.sittingId) ?? 0) + (take.durationMs ?? 0));
    }
    return sums;
  }
}

function groupBy<T>(list: readonly T[], key: (t: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const t of list) {
    const group = groups.get(key(t));
    if (group) group.push(t);
    else groups.set(key(t), [t]);
  }
  return groups;
}
