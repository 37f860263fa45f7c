import { randomUUID } from 'node:crypto';
import { mayBegin, timesFor, type Exception } from '@ecoute/core/timing/sittingState';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { Decision, NewDecision } from '@ecoute/contract/decisions';
import type { Me } from '@ecoute/contract/people';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import { findRelease, timesOf, type ReleaseRow } from '../releases/store';
import { exceptionOf, grant } from '../releases/participants.store';
import { alikeWith } from '../sittings/joint.store';
import { sittingsWith, type SittingRow } from '../sittings/store';
import { moveWhatStands } from '../sittings/again';
import { codeNames } from '../releases/names';
import * as store from './store';

const WEEK_MS = 7 * 86_400_000;

/** What is decided about single students of a release. Recordings and scores stay, whatever is decided. */
export class Decisions {
  constructor(private readonly pool: Pool) {}

  /** What was decided in a release, newest first. */
  async list(releaseId: string): Promise<Decision[]> {
    const release = await findRelease(this.pool, releaseId);
    if (!release) throw notFound();
    const found = await store.decisionsOf(this.pool, releaseId);
    const nameOf = await codeNames(this.pool, release);
    return found.map(d => ({
      id: d.id,
      kind: d.kind,
      sittingId: d.sittingId,
      // What was decided about a name says a name, what was decided about a voice says a voice: together they would be
      // whose voice it is.
      studentName: nameOf && d.sittingId ? nameOf(d.personId) : d.studentName,
      reason: d.reason,
      madeBy: d.madeBy,
      madeAt: d.madeAt.toISOString(),
      undoneBy: d.undoneBy,
      undoneAt: d.undoneAt?.toISOString() ?? null,
    }));
  }

  /**
   * Decides something about one student.
   * @throws Trouble isDiscussion for what only sittings can be; decidedOtherwise where it does not apply (nothing handed in, not late, decided already); invalid without a
   * reason where the student will read it
   */
  async decide(teacher: Me, releaseId: string, wanted: NewDecision): Promise<Decision[]> {
    await transaction(this.pool, async db => {
      const release = await findRelease(db, releaseId);
      if (!release) throw notFound();
      if (planOf(release.content) && (wanted.kind === 'askAgain' || wanted.kind === 'another'))
        throw new Trouble(
          'isDiscussion',
          'A discussion is not recorded again: reply to what was said in it, and give more time where it is over.',
        );
      // Whoever is heard in what is to be recorded again records it again as well.
      const alike =
        wanted.kind === 'askAgain' && wanted.sittingId ? await alikeWith(db, wanted.sittingId) : [];
      await this.decideOne(db, teacher, release, wanted);
      for (const sittingId of new Set(alike.map(o => o.sittingId)))
        await this.decideOne(db, teacher, release, { ...wanted, sittingId, personId: undefined }).catch(
          (error: unknown) => {
            // Of one who was asked already, or has feedback, it stays as it is.
            if (!(error instanceof Trouble) || error.code !== 'decidedOtherwise') throw error;
          },
        );
    });
    return this.list(releaseId);
  }

  private async decideOne(
    db: Queryable,
    teacher: Me,
    release: ReleaseRow,
    wanted: NewDecision,
  ): Promise<void> {
    const releaseId = release.id;
    const reason = wanted.reason.trim();
    const personId = await this.whose(db, releaseId, wanted);
    // Held from here on: of two decisions in the same moment the second sees what the first has done.
    const before = await exceptionOf(db, releaseId, personId, true);
    if (!before) throw notFound();
    const sittings = await sittingsWith(db, { releaseId, studentId: personId });
    const sitting = sittings.find(s => s.id === wanted.sittingId) ?? null;
    const after = this.decided(wanted, { release, before, sitting, sittings, reason });
    if (after.dueAtMs !== before.dueAtMs)
      await store.keepDueWas(db, { releaseId, personId }, timesFor(timesOf(release), before).dueAtMs);
    await grant(db, { releaseId, personId, by: teacher.id }, after);
    if (wanted.kind !== 'excuse' && wanted.kind !== 'another')
      await store.flagSitting(db, sitting!.id, wanted.kind, true);
    if (wanted.kind === 'askAgain')
      await store.keepAsked(db, sitting!.id, itemsAsked(wanted, release), reason);
    if (wanted.kind === 'setAside' && sitting?.handedInAt) await moveWhatStands(db, sitting, 'back');
    await store.insertDecision(db, {
      id: randomUUID(),
      releaseId,
      personId,
      sittingId: sitting?.id ?? null,
      kind: wanted.kind,
      reason,
      before,
      after,
      by: teacher.id,
    });
    await this.tell(db, release, personId);
  }

  /**
   * Takes a decision back: flags go, and what it granted goes with it where nothing was granted since.
   * @throws Trouble begunAgain when the student has begun again on the strength of it
   */
  async undo(teacher: Me, releaseId: string, id: string): Promise<Decision[]> {
    await transaction(this.pool, async db => {
      const release = await findRelease(db, releaseId);
      const decision = release && (await store.findDecision(db, id));
      if (!release || decision?.releaseId !== releaseId) throw notFound();
      if (decision.undoneAt) return;
      const { personId, kind, before, after, sittingId } = decision;
      const now = await exceptionOf(db, releaseId, personId, true);
      if (!now) throw notFound();
      const sittings = await sittingsWith(db, { releaseId, studentId: personId });
      const granted = after.extraSittings - before.extraSittings;
      const restored: Exception = {
        dueAtMs: now.dueAtMs === after.dueAtMs ? before.dueAtMs : now.dueAtMs,
        excused: now.excused === after.excused ? before.excused : now.excused,
        extraSittings: Math.max(0, now.extraSittings - granted),
      };
      const began =
        release.sittingsAllowed > 0 && sittings.length > release.sittingsAllowed + restored.extraSittings;
      if (granted > 0 && began)
        throw new Trouble(
          'begunAgain',
          'They have begun again already, so this stays. Set the newer sitting aside if it should not count.',
        );
      const about = sittings.find(s => s.id === sittingId);
      if (kind === 'askAgain' && sittings.some(s => s.standsFrom === sittingId && !s.setAsideAt))
        throw new Trouble(
          'begunAgain',
          'They have begun again already, so this stays. Set the newer sitting aside if it should not count.',
        );
      if (kind === 'setAside' && about?.handedInAt) await moveWhatStands(db, about, 'forth');
      if (restored.dueAtMs !== now.dueAtMs)
        await store.forgetDueWas(db, { releaseId, personId }, timesFor(timesOf(release), before).dueAtMs);
      await grant(db, { releaseId, personId, by: teacher.id }, restored);
      if (kind !== 'excuse' && kind !== 'another' && sittingId)
        await store.flagSitting(db, sittingId, kind, false);
      await store.undo(db, id, teacher.id);
      await this.tell(db, release, personId);
    });
    return this.list(releaseId);
  }

  /** The student meant: named, or the one who sat. With hidden names the page knows sittings alone. */
  private async whose(db: Queryable, releaseId: string, wanted: NewDecision): Promise<string> {
    if (!wanted.sittingId) {
      if (!wanted.personId) throw new Trouble('invalid', 'Say which student this is about.');
      return wanted.personId;
    }
    const studentId = await store.studentOf(db, releaseId, wanted.sittingId);
    if (!studentId) throw notFound();
    return studentId;
  }

  /** What the student is granted once it is decided. @throws Trouble where it does not apply */
  private decided(
    { kind, until }: NewDecision,
    about: {
      release: ReleaseRow;
      before: Exception;
      sitting: SittingRow | null;
      sittings: readonly SittingRow[];
      reason: string;
    },
  ): Exception {
    const { release, before, sitting, sittings, reason } = about;
    const untilMs = until ? Date.parse(until) : null;
    const oneMore = (): number => {
      const inLine = sittings.map(s => ({
        number: s.number,
        handedInAtMs: s.handedInAt?.getTime() ?? null,
        setAside: s.setAsideAt !== null,
      }));
      if (release.sittingsAllowed === 0 || mayBegin(inLine, release.sittingsAllowed, before))
        return before.extraSittings;
      return Math.max(before.extraSittings, sittings.length + 1 - release.sittingsAllowed);
    };
    /** Until when it is done once more: as said, and a week from now where nothing is said and its time is over. */
    const untilOf = (): number | null => {
      if (untilMs !== null && untilMs <= Date.now())
        throw new Trouble('invalid', 'That time has passed. Choose a later one.', {
          fields: { until: 'Choose a later time.' },
        });
      const { dueAtMs } = timesFor(timesOf(release), before);
      const meant = untilMs ?? (dueAtMs > Date.now() ? dueAtMs : Date.now() + WEEK_MS);
      return meant > dueAtMs ? meant : before.dueAtMs;
    };
    const refuse = (message: string): never => {
      throw new Trouble('decidedOtherwise', message);
    };
    switch (kind) {
      case 'excuse':
        if (before.excused) refuse('They are excused already.');
        return { ...before, excused: true };
      case 'another':
        return { ...before, dueAtMs: untilOf(), extraSittings: oneMore() };
      case 'acceptLate':
        if (!sitting?.handedInAt) return refuse('Nothing is handed in that could count as in time.');
        if (sitting.lateAcceptedAt) return refuse('This counts as in time already.');
        return before;
      case 'showNotes':
        if (!sitting || sitting.handedInAt)
          return refuse('This is handed in already: its notes are heard with the feedback.');
        if (sitting.notesShownAt) return refuse('They may hear your notes already.');
        return before;
      case 'setAside':
        if (!sitting) throw notFound();
        if (sitting.setAsideAt) return refuse('This is set aside already.');
        if (reason === '')
          throw new Trouble('invalid', 'Say why it is set aside, so that it can be understood later.', {
            fields: { reason: 'Say why it is set aside.' },
          });
        return before;
      case 'askAgain': {
        if (!sitting?.handedInAt)
          return refuse('This is not handed in, so there is nothing to record again.');
        if (sitting.askedAgainAt) return refuse('They are asked to record again already.');
        if (sitting.feedbackAt)
          return refuse(
            'Feedback is given already, or will be. Call that off first, or allow another sitting instead.',
          );
        if (sittings.some(s => s.handedInAt === null && !s.setAsideAt))
          return refuse('They are doing it again just now. Wait for that.');
        if (reason === '')
          throw new Trouble('invalid', 'Say what is to be done differently: the student reads it.', {
            fields: { reason: 'Say what is to be done differently.' },
          });
        return { ...before, dueAtMs: untilOf(), extraSittings: oneMore() };
      }
    }
  }

  private async tell(db: Queryable, release: ReleaseRow, personId: string): Promise<void> {
    await insertChange(db, {
      kind: 'release',
      subjectId: release.id,
      classId: release.classId,
      personId: null,
    });
    for (const kind of ['todo', 'feedback'] as const)
      await insertChange(db, {
        kind,
        subjectId: kind === 'todo' ? null : release.id,
        classId: null,
        personId,
      });
  }
}

/** What is to be recorded again; null for all of it. @throws Trouble notFound for items of another assessment */
function itemsAsked({ itemIds }: NewDecision, { content }: ReleaseRow): string[] | null {
  if (!itemIds) return null;
  const known = content.items.map(i => i.id);
  if (itemIds.some(id => !known.includes(id))) throw notFound();
  return known.every(id => itemIds.includes(id)) ? null : known.filter(id => itemIds.includes(id));
}
