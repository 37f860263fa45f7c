import { randomUUID } from 'node:crypto';
import { ORDINARY } from '@ecoute/core/timing/arrangements';
import { countingTake, leftOf, phaseAt } from '@ecoute/core/timing/itemRun';
import { orderOf } from '@ecoute/core/timing/order';
import { hasTakes } from '@ecoute/core/timing/strip';
import { HAND_IN_GRACE_MS, timeUpAt, withinSitting } from '@ecoute/core/timing/sittingClock';
import {
  CLOSING_GRACE_MS,
  opennessAt,
  standingAt,
  takesRecordingBegunAt,
} from '@ecoute/core/timing/sittingState';
import { forStudents, withoutModels, type AssessmentContent } from '@ecoute/contract/assessments';
import { completed } from '@ecoute/contract/blank';
import type { Judgement } from '@ecoute/contract/marking';
import type { Me } from '@ecoute/contract/people';
import type { NewTake } from '@ecoute/contract/recordings';
import {
  engineEvents,
  isGap,
  type MyRecording,
  type NewEvents,
  type Receipt,
  type SittingView,
  type TakeView,
  type TodoEntry,
} from '@ecoute/contract/sittings';
import { transaction, type Pool } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { notFound, Trouble } from '../../platform/trouble';
import { viewOf, type Recordings } from '../recordings/service';
import { factsOf, findRelease, releasesOf, standings, timesOf, type ReleaseRow } from '../releases/store';
import * as store from './store';

export class Sittings {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly jobs: JobQueue,
  ) {
    jobs.on('timeUp', (payload: { sittingId: string }) => this.timeUp(payload.sittingId));
  }

  /** What a student has to do or has done, soonest due first. */
  async todo(student: Me): Promise<TodoEntry[]> {
    const releases = await releasesOf(this.pool, { personId: student.id, role: 'student' });
    const mine = new Map(
      (
        await standings(
          this.pool,
          releases.map(r => r.id),
        )
      )
        .filter(s => s.studentId === student.id)
        .map(s => [s.releaseId, s]),
    );
    const sittingIds = [...mine.values()].flatMap(s => (s.sittingId ? [s.sittingId] : []));
    const takes = await store.takesOfSittings(this.pool, sittingIds);
    const written = await store.writtenOf(this.pool, sittingIds);
    const now = Date.now();
    return releases
      .map(r => {
        const s = mine.get(r.id)!;
        const standing = standingAt(timesOf(r), factsOf(s), now);
        return {
          releaseId: r.id,
          title: r.content.title,
          className: r.className,
          note: r.note,
          opensAt: r.opensAt.toISOString(),
          dueAt: r.dueAt.toISOString(),
          openness: opennessAt(timesOf(r), now),
          ...standing,
          // Whether it is marked already is not for the student before the return.
          state: standing.state === 'marked' ? ('handedIn' as const) : standing.state,
          sittingId: s.sittingId,
          handedInAt: s.handedInAt?.toISOString() ?? null,
          returnedAt: standing.state === 'returned' ? (s.returnedAt?.toISOString() ?? null) : null,
          content: forStudents(withoutModels(r.content)),
          answeredItemIds: [
            ...new Set(
              [...takes.filter(t => t.stands), ...written]
                .filter(a => a.sittingId === s.sittingId)
                .map(a => a.itemId),
            ),
          ],
        };
      })
      .sort((a, b) => a.dueAt.localeCompare(b.dueAt));
  }

  /** Begins, or goes on with, a student's sitting. @throws Trouble closed */
  async begin(student: Me, releaseId: string): Promise<SittingView> {
    const release = await findRelease(this.pool, releaseId);
    if (!release) throw notFound();
    const known = (await store.sittingsOf(this.pool, student.id)).find(s => s.releaseId === releaseId);
    if (!known && opennessAt(timesOf(release), Date.now()) === 'closed')
      throw new Trouble(
        'closed',
        'This assessment is closed and takes no more answers. Ask your teacher for an extension.',
      );
    const id =
      known?.id ??
      (await store.ensureSitting(this.pool, { id: randomUUID(), releaseId, studentId: student.id }));
    return this.view(id);
  }

  async view(id: string): Promise<SittingView> {
    const { sitting, release } = await this.both(id);
    const now = new Date();
    const takes = await store.takesOfSittings(this.pool, [id]);
    const standing = standingAt(
      timesOf(release),
      {
        handedInAtMs: sitting.handedInAt?.getTime() ?? null,
        returnedAtMs: sitting.returnedAt?.getTime() ?? null,
        marked: false,
      },
      now.getTime(),
    );
    const content = contentFor(release.content, id);
    const modelsOpen =
      standing.state === 'returned' || (sitting.handedInAt !== null && content.modelOpens === 'afterHandIn');
    const upAtMs = timeUpOf(sitting, release);
    return {
      id,
      releaseId: release.id,
      title: release.content.title,
      className: release.className,
      subject: release.subject,
      dueAt: release.dueAt.toISOString(),
      openness: opennessAt(timesOf(release), now.getTime()),
      state: standing.state,
      content: forStudents(modelsOpen ? content : withoutModels(content)),
      events: await store.eventsOf(this.pool, id),
      takes: takes.map(takeView),
      judgements: Object.fromEntries(
        (await store.judgementsOf(this.pool, [id])).map(j => [j.itemId, j.judgement]),
      ),
      written: (await store.writtenOf(this.pool, [id])).map(({ itemId, text, updatedAt }) => ({
        itemId,
        text,
        updatedAt: updatedAt.toISOString(),
      })),
      clockBeganAt: sitting.clockBeganAt?.toISOString() ?? null,
      timeUpAt: upAtMs === null ? null : new Date(upAtMs).toISOString(),
      receipt: sitting.receipt,
      now: now.toISOString(),
    };
  }

  /** Keeps events of the account; the first sight of the items sets the clock of a limited sitting going. */
  async keepEvents(id: string, { events }: NewEvents): Promise<void> {
    await store.keepEvents(this.pool, id, events);
    const opened = events.find(e => e.kind === 'itemsOpened');
    if (!opened) return;
    const { sitting, release } = await this.both(id);
    const limitMs = release.content.sittingLimitMs;
    if (limitMs === null) return;
    // A browser's word counts only within what can be true.
    const at = Math.min(Date.now(), Math.max(sitting.beganAt.getTime(), Date.parse(opened.at)));
    await transaction(this.pool, async db => {
      if (!(await store.beginClock(db, id, new Date(at)))) return;
      const upAt = timeUpAt(at, limitMs, ORDINARY)!;
      await this.jobs.add(
        db,
        'timeUp',
        { sittingId: id },
        {
          runAfter: new Date(upAt + HAND_IN_GRACE_MS),
          urgent: true,
        },
      );
    });
  }

  /**
   * Job: a sitting's time is up. Everything recorded is handed in, also when the browser is gone; sounds on their
   * way are waited for, and after that count as far as they have come.
   */
  private async timeUp(id: string): Promise<void> {
    const { sitting, release } = await this.both(id);
    const upAtMs = timeUpOf(sitting, release);
    if (sitting.handedInAt || upAtMs === null) return;
    const coming = (await store.takesOfSittings(this.pool, [id])).filter(
      t => t.recording.state === 'arriving' || t.recording.state === 'checking',
    );
    if (coming.length > 0) {
      if (Date.now() > upAtMs + LONGEST_WAIT_MS)
        for (const take of coming) await this.recordings.arrived(take.id);
      await this.jobs.add(
        this.pool,
        'timeUp',
        { sittingId: id },
        { runAfter: new Date(Date.now() + LOOK_AGAIN_MS), urgent: true },
      );
      return;
    }
    await this.handIn(id, true, true);
  }

  /**
   * Keeps a written answer as it is typed.
   * @throws Trouble closed after hand-in, time-up or closing; notFound for an item that is not written
   */
  async write(sittingId: string, itemId: string, text: string): Promise<{ updatedAt: string }> {
    await transaction(this.pool, async db => {
      const sitting = await store.findSitting(db, sittingId, true);
      const release = sitting && (await findRelease(db, sitting.releaseId));
      const item = release?.content.items.find(i => i.id === itemId);
      if (!sitting || !release || item?.answerBy !== 'text') throw notFound();
      this.refuseWhenOver(sitting, release, Date.now());
      await store.keepWritten(db, { sittingId, itemId, text });
    });
    return { updatedAt: new Date().toISOString() };
  }

  /**
   * Keeps what a student says of an answer of their own; the sitting's own id stands for the whole.
   * @throws Trouble closed after the hand-in; notFound where nobody is asked to judge
   */
  async judge(sittingId: string, itemId: string, judgement: Judgement): Promise<Judgement> {
    await transaction(this.pool, async db => {
      const sitting = await store.findSitting(db, sittingId, true);
      const release = sitting && (await findRelease(db, sitting.releaseId));
      const known = itemId === sittingId || release?.content.items.some(i => i.id === itemId);
      if (!sitting || !release || !known || release.content.selfAssessment === 'none') throw notFound();
      if (sitting.handedInAt)
        throw new Trouble('closed', 'This is handed in already; what you said of it is with your teacher.');
      const { rubric } = release.content.scoring;
      const unknown = judgement.choices.some(
        c => !rubric?.criteria.some(k => k.id === c.criterionId) || c.level >= rubric.levels.length,
      );
      if (unknown)
        throw new Trouble('invalid', 'This rubric has no such level. Reload the page to see it as it is.');
      await store.keepJudgement(db, { sittingId, itemId, judgement });
    });
    return judgement;
  }

  /** @throws Trouble closed for what was begun at an instant after hand-in, time-up or closing */
  private refuseWhenOver(sitting: store.SittingRow, release: ReleaseRow, beganAtMs: number): void {
    if (sitting.handedInAt)
      throw new Trouble(
        'closed',
        'This is handed in already. What you made stays on this device; ask your teacher to let you redo it.',
      );
    if (!takesRecordingBegunAt(timesOf(release), beganAtMs))
      throw new Trouble(
        'closed',
        'This assessment closed before you began. What you made stays on this device; ask your teacher for an extension.',
      );
    const upAtMs = timeUpOf(sitting, release);
    if (!withinSitting(beganAtMs, upAtMs === null ? null : upAtMs + CLOSING_GRACE_MS))
      throw new Trouble(
        'closed',
        'The time of this sitting was up before you began. What you made stays on this device; what was made before is handed in.',
      );
  }

  /**
   * Announces a take before its bytes come. Announcing it twice answers the same.
   * @throws Trouble closed after hand-in or closing, noTakesLeft, notFound for an item of another assessment
   */
  async announceTake(student: Me, sittingId: string, wanted: NewTake): Promise<TakeView> {
    const beganAt = new Date(wanted.beganAt);
    return transaction(this.pool, async db => {
      const sitting = await store.findSitting(db, sittingId, true);
      const release = sitting && (await findRelease(db, sitting.releaseId));
      const item = release?.content.items.find(i => i.id === wanted.itemId);
      if (!sitting || !release || !item || !hasTakes(item.answerBy)) throw notFound();
      const takes = (await store.takesOfSittings(db, [sittingId])).filter(t => t.itemId === item.id);
      const known = takes.find(t => t.id === wanted.recordingId);
      if (known) return takeView(known);
      this.refuseWhenOver(sitting, release, beganAt.getTime());
      if (leftOf(item.takesAllowed, takes.filter(t => t.recording.state !== 'refused').length) <= 0)
        throw new Trouble('noTakesLeft', 'All takes of this item are used. Choose among those you have.');
      await this.recordings.announce(db, {
        id: wanted.recordingId,
        ownerId: student.id,
        purpose: 'take',
        assessmentId: null,
        wanted: item.answerBy === 'file' ? 'file' : item.answerBy === 'audio' ? 'sound' : 'video',
        announcedType: wanted.mediaType,
        fileName: item.answerBy === 'file' ? (wanted.fileName ?? null) : null,
        limitMs: item.answerLimitMs,
      });
      await store.insertTake(db, {
        id: wanted.recordingId,
        sittingId,
        itemId: item.id,
        number: Math.max(0, ...takes.map(t => t.number)) + 1,
        beganAt,
      });
      const made = (await store.takesOfSittings(db, [sittingId])).find(t => t.id === wanted.recordingId);
      return takeView(made!);
    });
  }

  /** Lets one take of an item count. @throws Trouble closed after hand-in */
  async choose(takeId: string): Promise<SittingView> {
    const sittingId = await store.sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    await transaction(this.pool, async db => {
      const sitting = await store.findSitting(db, sittingId, true);
      if (sitting?.handedInAt)
        throw new Trouble('closed', 'This is handed in already; the takes that count are settled.');
      await store.chooseTake(db, takeId);
    });
    return this.view(sittingId);
  }

  /**
   * Hands in. Doing it twice, or in two windows at once, gives the same receipt.
   * @param byItself the sitting's time was up; nobody asked
   * @throws Trouble unfinished while a recording is on its way, or when required items have no answer and
   * `withGaps` is false
   */
  async handIn(id: string, withGaps: boolean, byItself = false): Promise<Receipt> {
    const { release } = await this.both(id);
    return transaction(this.pool, async db => {
      const sitting = await store.findSitting(db, id, true);
      if (!sitting) throw notFound();
      if (sitting.receipt) return sitting.receipt;
      const takes = await store.takesOfSittings(db, [id]);
      if (takes.some(t => t.recording.state === 'arriving' || t.recording.state === 'checking'))
        throw new Trouble(
          'unfinished',
          'A recording is still on its way. It is safe; hand in again in a moment.',
        );
      const written = await store.writtenOf(db, [id]);
      const events = await store.eventsOf(db, id);
      const upAtMs = timeUpOf(sitting, release);
      const handedInAt = new Date(byItself && upAtMs !== null ? upAtMs : Date.now());
      const { items } = contentFor(release.content, id);
      const receipt: Receipt = {
        sittingId: id,
        handedInAt: handedInAt.toISOString(),
        late: handedInAt.getTime() > release.dueAt.getTime(),
        byItself,
        lines: items.map(item => {
          const take = countingTake(takes.filter(t => t.itemId === item.id));
          const run = phaseAt(item, engineEvents(events, item.id), handedInAt.getTime());
          return {
            itemId: item.id,
            takeId: take?.id ?? null,
            written: written.some(w => w.itemId === item.id),
            passed: item.passAllowed && run.passed,
            studied: run.studied,
            medium: take?.recording.medium ?? null,
            fileName: take?.recording.fileName ?? null,
            durationMs: take?.durationMs ?? null,
            sizeBytes: take?.recording.sizeBytes ?? null,
            sha256: take?.recording.sha256 ?? null,
          };
        }),
      };
      const gaps = items.filter((item, i) => item.required && isGap(item.answerBy, receipt.lines[i]!)).length;
      if (gaps > 0 && !withGaps)
        throw new Trouble(
          'unfinished',
          `${gaps === 1 ? 'One item has' : `${gaps} items have`} no answer yet. Go back to answer, or hand in as it is.`,
        );
      await store.handIn(db, id, handedInAt, receipt);
      return receipt;
    });
  }

  async myRecordings(student: Me): Promise<MyRecording[]> {
    return (await store.recordingsOfStudent(this.pool, student.id)).map(
      ({ content, itemId, number, beganAt, ...rest }) => {
        const { title, items } = contentFor(
          completed(JSON.parse(content) as AssessmentContent),
          rest.sittingId,
        );
        const index = items.findIndex(i => i.id === itemId);
        return {
          ...rest,
          title,
          promptText: items[index]?.promptText ?? '',
          itemNumber: index + 1,
          takeNumber: number,
          beganAt: beganAt.toISOString(),
        };
      },
    );
  }

  private async both(id: string): Promise<{ sitting: store.SittingRow; release: ReleaseRow }> {
    const sitting = await store.findSitting(this.pool, id);
    const release = sitting && (await findRelease(this.pool, sitting.releaseId));
    if (!sitting || !release) throw notFound();
    return { sitting, release };
  }
}

/** After time-up, sounds on their way are waited for this long; then they count as far as they have come. */
const LONGEST_WAIT_MS = 10 * 60_000;
const LOOK_AGAIN_MS = 10_000;

/** An assessment as one sitting meets it: items in the sitting's own order. */
function contentFor(content: AssessmentContent, sittingId: string): AssessmentContent {
  return { ...content, items: orderOf(content.items, content.sections, sittingId) };
}

function timeUpOf(sitting: store.SittingRow, release: ReleaseRow): number | null {
  return timeUpAt(sitting.clockBeganAt?.getTime() ?? null, release.content.sittingLimitMs, ORDINARY);
}

function takeView(take: store.TakeRow): TakeView {
  return {
    id: take.id,
    itemId: take.itemId,
    number: take.number,
    beganAt: take.beganAt.toISOString(),
    chosenAt: take.chosenAtMs === null ? null : new Date(take.chosenAtMs).toISOString(),
    recording: viewOf(take.recording),
  };
}
