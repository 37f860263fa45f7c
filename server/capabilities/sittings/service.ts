import { randomUUID } from 'node:crypto';
import { countingTake, takesLeft } from '@ecoute/core/timing/itemRun';
import { opennessAt, standingAt, takesRecordingBegunAt } from '@ecoute/core/timing/sittingState';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import type { Me } from '@ecoute/contract/people';
import type { NewTake } from '@ecoute/contract/recordings';
import type {
  MyRecording,
  NewEvents,
  Receipt,
  SittingView,
  TakeView,
  TodoEntry,
} from '@ecoute/contract/sittings';
import { transaction, type Pool } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import { viewOf, type Recordings } from '../recordings/service';
import { factsOf, findRelease, releasesOf, standings, timesOf, type ReleaseRow } from '../releases/store';
import * as store from './store';

export class Sittings {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
  ) {}

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
    const takes = await store.takesOfSittings(
      this.pool,
      [...mine.values()].flatMap(s => (s.sittingId ? [s.sittingId] : [])),
    );
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
          content: r.content,
          answeredItemIds: [
            ...new Set(takes.filter(t => t.sittingId === s.sittingId && t.stands).map(t => t.itemId)),
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
    return {
      id,
      releaseId: release.id,
      title: release.content.title,
      className: release.className,
      subject: release.subject,
      dueAt: release.dueAt.toISOString(),
      openness: opennessAt(timesOf(release), now.getTime()),
      state: standing.state,
      content: release.content,
      events: await store.eventsOf(this.pool, id),
      takes: takes.map(takeView),
      receipt: sitting.receipt,
      now: now.toISOString(),
    };
  }

  async keepEvents(id: string, { events }: NewEvents): Promise<void> {
    await store.keepEvents(this.pool, id, events);
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
      if (!sitting || !release || !item) throw notFound();
      const takes = (await store.takesOfSittings(db, [sittingId])).filter(t => t.itemId === item.id);
      const known = takes.find(t => t.id === wanted.recordingId);
      if (known) return takeView(known);
      if (sitting.handedInAt)
        throw new Trouble(
          'closed',
          'This is handed in already. The recording stays on this device; ask your teacher to let you redo it.',
        );
      if (!takesRecordingBegunAt(timesOf(release), beganAt.getTime()))
        throw new Trouble(
          'closed',
          'This assessment closed before the recording began. The recording stays on this device; ask your teacher for an extension.',
        );
      if (takesLeft(item.takesAllowed, takes.filter(t => t.recording.state !== 'refused').length) <= 0)
        throw new Trouble('noTakesLeft', 'All takes of this item are used. Choose among those you have.');
      await this.recordings.announce(db, {
        id: wanted.recordingId,
        ownerId: student.id,
        purpose: 'take',
        assessmentId: null,
        announcedType: wanted.mediaType,
        fileName: null,
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
   * @throws Trouble unfinished while a recording is on its way, or when items have no answer and `withGaps` is false
   */
  async handIn(id: string, withGaps: boolean): Promise<Receipt> {
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
      const handedInAt = new Date();
      const receipt: Receipt = {
        sittingId: id,
        handedInAt: handedInAt.toISOString(),
        late: handedInAt.getTime() > release.dueAt.getTime(),
        lines: release.content.items.map(item => {
          const take = countingTake(takes.filter(t => t.itemId === item.id));
          return {
            itemId: item.id,
            takeId: take?.id ?? null,
            durationMs: take?.durationMs ?? null,
            sizeBytes: take?.recording.sizeBytes ?? null,
            sha256: take?.recording.sha256 ?? null,
          };
        }),
      };
      const gaps = receipt.lines.filter(l => l.takeId === null).length;
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
        const { title, items } = JSON.parse(content) as AssessmentContent;
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
