import { randomUUID } from 'node:crypto';
import { leadInMs } from '@ecoute/core/timing/accompaniment';
import { countingTake, leftOf, phaseAt } from '@ecoute/core/timing/itemRun';
import { hasTakes, isRun } from '@ecoute/core/timing/strip';
import { HAND_IN_GRACE_MS, timeUpAt } from '@ecoute/core/timing/sittingClock';
import {
  isBack,
  mayBegin,
  openSitting,
  opennessAt,
  standingAt,
  timesFor,
} from '@ecoute/core/timing/sittingState';
import { forStudents, withoutModels, type AssessmentContent } from '@ecoute/contract/assessments';
import { completed } from '@ecoute/contract/blank';
import type { Judgement } from '@ecoute/contract/marking';
import type { Me } from '@ecoute/contract/people';
import type { NewTake } from '@ecoute/contract/recordings';
import {
  engineEvents,
  isGap,
  type Hold,
  type HoldSitting,
  type MyRecording,
  type NewEvents,
  type OthersView,
  type Receipt,
  type SittingView,
  type SittingAccount,
  type TakeSource,
  type TakeView,
  type TodoEntry,
} from '@ecoute/contract/sittings';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { givenBackReasons } from '../decisions/store';
import type { JobQueue } from '../../platform/jobs/queue';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { studentsFrom } from '../releases/standing';
import { exceptionOf, findRelease, releasesGiven, standings, timesOf } from '../releases/store';
import { marksBegun } from '../marking/store';
import { isReturned } from '../marking/views';
import { notesBegun } from '../notes/store';
import { fillFacts, refreshFacts } from './facts';
import {
  contentFor,
  inOrder,
  noteInAccount,
  refuseWhenOver,
  situationOf,
  takeView,
  tellTeachers,
  type Situation,
} from './situation';
import * as store from './store';

export class Sittings {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly jobs: JobQueue,
  ) {
    jobs.on('timeUp', (payload: { sittingId: string }) => this.timeUp(payload.sittingId));
    recordings.onSettled((db, recordingId) => this.takeSettled(db, recordingId));
  }

  /** Fills in what sittings of an earlier Ecoute lack. */
  prepare(): Promise<void> {
    return fillFacts(this.pool);
  }

  /** A take was looked at: what lists count of its sitting is other than before. */
  private async takeSettled(db: Queryable, recordingId: string): Promise<void> {
    const sittingId = await store.sittingOfTake(db, recordingId);
    if (!sittingId) return;
    await refreshFacts(db, [sittingId]);
    await tellTeachers(db, sittingId);
    // Its student may be looking at another screen than the one it was recorded with.
    const sitting = await store.findSitting(db, sittingId);
    await insertChange(db, {
      kind: 'sitting',
      subjectId: sittingId,
      classId: null,
      personId: sitting!.studentId,
    });
  }

  /** What a student has to do or has done, soonest due first. */
  async todo(student: Me): Promise<TodoEntry[]> {
    const releases = await releasesGiven(this.pool, student.id);
    const rows = await standings(
      this.pool,
      releases.map(r => r.id),
      student.id,
    );
    const now = Date.now();
    const mine = releases.map(release => {
      const [own] = studentsFrom(
        timesOf(release),
        rows.filter(s => s.releaseId === release.id),
        now,
      );
      return { release, own: own! };
    });
    // What is gone on with is shown as far as it has come; else what was handed in.
    const shown = (own: (typeof mine)[number]['own']) => own.open ?? own.counting;
    const sittingIds = mine.flatMap(({ own }) => shown(own)?.id ?? []);
    const takes = await store.takesOfSittings(this.pool, sittingIds);
    const written = await store.writtenOf(this.pool, sittingIds);
    const reasons = await givenBackReasons(this.pool, sittingIds);
    return mine
      .map(({ release, own }): TodoEntry => {
        const { standing, times, exception, counting } = own;
        const sitting = shown(own);
        const openness = opennessAt(times, now);
        return {
          releaseId: release.id,
          title: release.outline.title,
          className: release.className,
          note: release.note,
          opensAt: release.opensAt.toISOString(),
          dueAt: new Date(times.dueAtMs).toISOString(),
          extended: exception.dueAtMs !== null,
          openness,
          ...standing,
          // Whether it is marked already is not for the student before the return.
          state: standing.state === 'marked' ? ('handedIn' as const) : standing.state,
          sittingId: sitting?.id ?? null,
          goesOn: own.open !== null,
          mayBegin: openness !== 'closed' && mayBegin(own.sittings, release.sittingsAllowed, exception),
          sittings: own.sittings.length,
          handedInAt: counting?.handedInAt?.toISOString() ?? null,
          returnedAt: isBack(standing.state) ? (counting?.returnedAt?.toISOString() ?? null) : null,
          returnedSittingId: isBack(standing.state) || standing.givenBack ? (counting?.id ?? null) : null,
          givenBackFor: standing.givenBack && counting ? (reasons.get(counting.id) ?? '') : null,
          notesOfSittingId: own.open?.notesShown ? own.open.id : null,
          asked: isBack(standing.state) && counting ? counting.asked - counting.replied : 0,
          hearsOthers: release.heardBy === 'class' && counting?.handedInAt != null,
          outline: release.outline,
          answeredItemIds: [
            ...new Set(
              [...takes.filter(t => t.stands), ...written]
                .filter(a => a.sittingId === sitting?.id)
                .map(a => a.itemId),
            ),
          ],
        };
      })
      .sort((a, b) => a.dueAt.localeCompare(b.dueAt));
  }

  /**
   * Goes on with a student's sitting, or shows the last one; begins one where none is.
   * @param another begins one more where all are handed in
   * @throws Trouble closed when none may be begun any more
   */
  async begin(student: Me, releaseId: string, another = false): Promise<SittingView> {
    const of = { releaseId, studentId: student.id };
    const id = await transaction(this.pool, async db => {
      // First of all, and this row alone: a lock on sittings that are not there yet would make a whole class that
      // begins in the same second wait for each other.
      const exception = await exceptionOf(db, releaseId, student.id, true);
      const release = await findRelease(db, releaseId);
      if (!release || !exception) throw notFound();
      const known = await store.sittingsWith(db, of);
      const inLine = known.map(s => ({
        ...s,
        handedInAtMs: s.handedInAt?.getTime() ?? null,
        setAside: s.setAsideAt !== null,
      }));
      const goesOn = openSitting(inLine) ?? (another ? null : inLine.at(-1));
      if (goesOn) return goesOn.id;
      if (opennessAt(timesFor(timesOf(release), exception), Date.now()) === 'closed')
        throw new Trouble(
          'closed',
          'This assessment is closed and takes no more answers. Ask your teacher for an extension.',
        );
      if (!mayBegin(inLine, release.sittingsAllowed, exception))
        throw new Trouble(
          'closed',
          'You have handed this in as often as it may be sat. Ask your teacher for another sitting.',
        );
      const made = await store.ensureSitting(db, {
        ...of,
        id: randomUUID(),
        number: (known.at(-1)?.number ?? 0) + 1,
        arrangement: await store.arrangementOf(db, student.id),
      });
      await tellTeachers(db, made);
      return made;
    });
    return this.view(id);
  }

  async view(id: string): Promise<SittingView> {
    const { sitting, release, exception, times, upAtMs } = await situationOf(this.pool, id);
    const now = new Date();
    const takes = await store.takesOfSittings(this.pool, [id]);
    const standing = standingAt(
      timesOf(release),
      exception,
      {
        handedInAtMs: sitting.handedInAt?.getTime() ?? null,
        returnedAtMs: sitting.returnedAt?.getTime() ?? null,
        marked: false,
      },
      now.getTime(),
    );
    const content = contentFor(release.content, sitting);
    const modelsOpen =
      isBack(standing.state) ||
      content.modelOpens === 'atOnce' ||
      (sitting.handedInAt !== null && content.modelOpens === 'afterHandIn');
    return {
      id,
      number: sitting.number,
      arrangement: sitting.arrangement,
      releaseId: release.id,
      title: release.content.title,
      className: release.className,
      subject: release.subject,
      dueAt: new Date(times.dueAtMs).toISOString(),
      openness: opennessAt(times, now.getTime()),
      state: standing.state,
      content: forStudents(
        modelsOpen ? content : withoutModels(content),
        sitting.arrangement.readAloud,
        sitting.arrangement.directionsLanguage,
      ),
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
      mayWithdraw:
        (await this.whyNotWithdraw(this.pool, { sitting, release, exception, times, upAtMs })) === null,
      timeUpAt: upAtMs === null ? null : new Date(upAtMs).toISOString(),
      receipt: sitting.receipt,
      now: now.toISOString(),
    };
  }

  /** Keeps events of the account; the first sight of the items sets the clock of a limited sitting going. */
  async keepEvents(id: string, { events }: NewEvents): Promise<void> {
    await transaction(this.pool, async db => {
      await store.keepEvents(db, id, events);
      await tellTeachers(db, id);
    });
    const opened = events.find(e => e.kind === 'itemsOpened');
    if (!opened) return;
    const { sitting, release } = await situationOf(this.pool, id);
    const limitMs = release.content.sittingLimitMs;
    if (limitMs === null) return;
    // A browser's word counts only within what can be true.
    const at = Math.min(Date.now(), Math.max(sitting.beganAt.getTime(), Date.parse(opened.at)));
    await transaction(this.pool, async db => {
      if (!(await store.beginClock(db, id, new Date(at)))) return;
      const upAt = timeUpAt(at, limitMs, sitting.arrangement)!;
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
    const { sitting, upAtMs } = await situationOf(this.pool, id);
    if (sitting.handedInAt || upAtMs === null) return;
    // A break has put the end off.
    if (upAtMs > Date.now()) {
      await this.jobs.add(
        this.pool,
        'timeUp',
        { sittingId: id },
        { runAfter: new Date(upAtMs + HAND_IN_GRACE_MS), urgent: true },
      );
      return;
    }
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
      const { sitting, release, times, upAtMs } = await situationOf(db, sittingId, true);
      const item = release.content.items.find(i => i.id === itemId);
      if (item?.answerBy !== 'text') throw notFound();
      refuseWhenOver({ sitting, times, upAtMs }, Date.now());
      await store.keepWritten(db, { sittingId, itemId, text });
      await refreshFacts(db, [sittingId]);
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

  /**
   * Announces a take before its bytes come. Announcing it twice answers the same.
   * @throws Trouble closed after hand-in or closing, noTakesLeft, notFound for an item of another assessment
   */
  async announceTake(
    student: Pick<Me, 'id'>,
    sittingId: string,
    wanted: NewTake,
    source: TakeSource = wanted.source ?? 'recorded',
  ): Promise<TakeView> {
    const beganAt = new Date(wanted.beganAt);
    return transaction(this.pool, async db => {
      const { sitting, release, times, upAtMs } = await situationOf(db, sittingId, true);
      const item = contentFor(release.content, sitting).items.find(i => i.id === wanted.itemId);
      if (!item || !hasTakes(item.answerBy)) throw notFound();
      const brought = source === 'uploaded' && item.answerBy !== 'file';
      if (brought && (!release.content.mayBring || item.answerBy !== 'audio' || isRun(item)))
        throw new Trouble('closed', 'This item is recorded here; a file cannot take its place.');
      const takes = (await store.takesOfSittings(db, [sittingId])).filter(t => t.itemId === item.id);
      const known = takes.find(t => t.id === wanted.recordingId);
      if (known) return takeView(known);
      refuseWhenOver({ sitting, times, upAtMs }, beganAt.getTime());
      if (leftOf(item.takesAllowed, takes.filter(t => t.recording.state !== 'refused').length) <= 0)
        throw new Trouble('noTakesLeft', 'All takes of this item are used. Choose among those you have.');
      await this.recordings.announce(db, {
        id: wanted.recordingId,
        ownerId: student.id,
        purpose: 'take',
        assessmentId: null,
        wanted: item.answerBy === 'file' ? 'file' : item.answerBy === 'audio' ? 'sound' : 'video',
        announcedType: wanted.mediaType,
        fileName: item.answerBy === 'file' || brought ? (wanted.fileName ?? null) : null,
        limitMs: item.answerLimitMs + leadInMs(item.music),
      });
      await store.insertTake(db, {
        id: wanted.recordingId,
        sittingId,
        itemId: item.id,
        number: Math.max(0, ...takes.map(t => t.number)) + 1,
        beganAt,
        source,
        clock: wanted.clock ?? null,
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
      await refreshFacts(db, [sittingId]);
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
    return transaction(this.pool, async db => {
      const { sitting, release, times, upAtMs } = await situationOf(db, id, true);
      if (sitting.receipt) return sitting.receipt;
      const takes = await store.takesOfSittings(db, [id]);
      if (takes.some(t => t.recording.state === 'arriving' || t.recording.state === 'checking'))
        throw new Trouble(
          'unfinished',
          'A recording is still on its way. It is safe; hand in again in a moment.',
        );
      const written = await store.writtenOf(db, [id]);
      const events = await store.eventsOf(db, id);
      const handedInAt = new Date(byItself && upAtMs !== null ? upAtMs : Date.now());
      const { items } = contentFor(release.content, sitting);
      const receipt: Receipt = {
        sittingId: id,
        handedInAt: handedInAt.toISOString(),
        late: handedInAt.getTime() > times.dueAtMs,
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
      await noteInAccount(db, id, 'handedIn');
      await refreshFacts(db, [id]);
      await tellTeachers(db, id);
      return receipt;
    });
  }

  /** Why what was handed in cannot be taken back, in words; null when it can. */
  private async whyNotWithdraw(
    db: Queryable,
    { sitting, release, times }: Situation,
  ): Promise<string | null> {
    if (!sitting.handedInAt) return 'This is not handed in yet.';
    if (!release.content.mayWithdraw || release.content.sittingLimitMs !== null)
      return 'This assessment is handed in once. Ask your teacher to let you redo it.';
    if (Date.now() > times.dueAtMs) return 'It is due already. Ask your teacher to let you redo it.';
    if (sitting.returnedAt || (await marksBegun(db, sitting.id)) || (await notesBegun(db, sitting.id)))
      return 'Your teacher listens to it already. Ask your teacher to let you redo it.';
    return null;
  }

  /**
   * Takes back what was handed in, to go on with it; every take stays.
   * @throws Trouble closed with the reason when it cannot be taken back (any more)
   */
  async withdraw(id: string): Promise<SittingView> {
    await transaction(this.pool, async db => {
      const both = await situationOf(db, id, true);
      const why = await this.whyNotWithdraw(db, both);
      if (why) throw new Trouble('closed', why);
      await store.withdraw(db, id);
      await noteInAccount(db, id, 'withdrawn');
      await refreshFacts(db, [id]);
      await tellTeachers(db, id);
    });
    return this.view(id);
  }

  /**
   * Says which browser goes on with a sitting, and learns whether another one does. Asked again now and then while
   * the sitting is open; a browser that is silent for a while holds nothing any more.
   */
  async hold(id: string, { deviceId, takeOver, leaves }: HoldSitting): Promise<Hold> {
    return transaction(this.pool, async db => {
      const holder = await store.holderOf(db, id);
      if (leaves) {
        if (holder?.deviceId === deviceId) await store.letGo(db, id);
        return { held: false, otherSeenAt: null };
      }
      const other =
        holder?.deviceId &&
        holder.deviceId !== deviceId &&
        holder.seenAt &&
        Date.now() - holder.seenAt.getTime() < HOLD_MS
          ? holder.seenAt
          : null;
      if (other && !takeOver) return { held: false, otherSeenAt: other.toISOString() };
      if (holder?.deviceId && holder.deviceId !== deviceId) await noteInAccount(db, id, 'movedHere');
      await store.hold(db, id, deviceId);
      return { held: true, otherSeenAt: null };
    });
  }

  /** What happened in a sitting and when, for its teacher. */
  async account(id: string): Promise<SittingAccount> {
    const { sitting, release } = await situationOf(this.pool, id);
    return {
      studentName: release.namesHidden && !isReturned(sitting) ? '' : await store.studentName(this.pool, id),
      beganAt: sitting.beganAt.toISOString(),
      handedInAt: sitting.handedInAt?.toISOString() ?? null,
      events: await store.eventsOf(this.pool, id),
      takes: (await store.takesOfSittings(this.pool, [id])).map(t => ({
        id: t.id,
        itemId: t.itemId,
        number: t.number,
        source: t.source,
        durationMs: t.durationMs,
      })),
    };
  }

  async myRecordings(student: Me): Promise<MyRecording[]> {
    return (await store.recordingsOfStudent(this.pool, student.id)).map(
      ({ content, itemId, number, beganAt, ...rest }) => {
        const { title, items } = inOrder(completed(JSON.parse(content) as AssessmentContent), rest.sittingId);
        const index = items.findIndex(i => i.id === itemId);
        return {
          ...rest,
          assessment: title,
          promptText: items[index]?.promptText ?? '',
          itemNumber: index + 1,
          takeNumber: number,
          beganAt: beganAt.toISOString(),
        };
      },
    );
  }

  /**
   * What the others handed in, where the release lets classmates hear each other.
   * @throws Trouble closed before one has handed in oneself
   */
  async others(student: Me, releaseId: string): Promise<OthersView> {
    const release = await findRelease(this.pool, releaseId);
    if (release?.heardBy !== 'class') throw notFound();
    const all = studentsFrom(timesOf(release), await standings(this.pool, [releaseId]), Date.now());
    if (!all.find(s => s.studentId === student.id)?.counting?.handedInAt)
      throw new Trouble('closed', 'Hand in first; then you can hear what the others recorded.');
    const sat = all.filter(s => s.studentId !== student.id && s.counting?.handedInAt);
    const takes = await store.takesOfSittings(
      this.pool,
      sat.map(s => s.counting!.id),
    );
    return {
      title: release.content.title,
      items: release.content.items.flatMap((item, i) => {
        const answers = sat.flatMap(s => {
          const take = countingTake<store.TakeRow>(
            takes.filter(t => t.sittingId === s.counting!.id && t.itemId === item.id),
          );
          const { durationMs = null, recording } = take ?? {};
          return take
            ? [{ takeId: take.id, studentName: s.displayName, durationMs, medium: recording?.medium ?? null }]
            : [];
        });
        return answers.length > 0 ? [{ number: i + 1, promptText: item.promptText, answers }] : [];
      }),
    };
  }
}

/** After time-up, sounds on their way are waited for this long; then they count as far as they have come. */
const LONGEST_WAIT_MS = 10 * 60_000;
const LOOK_AGAIN_MS = 10_000;

/** A browser that goes on with a sitting says so every twenty seconds; after this long it is taken for gone. */
const HOLD_MS = 65_000;
