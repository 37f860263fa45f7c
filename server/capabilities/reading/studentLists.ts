import { isBack, mayBegin, opennessAt } from '@ecoute/core/timing/sittingState';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { completed } from '@ecoute/contract/blank';
import { countingTake } from '@ecoute/core/timing/itemRun';
import type { Me } from '@ecoute/contract/people';
import type { MyRecording, TodoEntry } from '@ecoute/contract/sittings';
import type { Pool } from '../../platform/database';
import { unheardOf } from '../discussions/store';
import { reasonsOf } from '../decisions/store';
import { studentsFrom } from '../releases/standing';
import { releasesGiven, timesOf } from '../releases/store';
import { standings } from '../releases/standings.store';
import { inOrder } from '../sittings/situation';
import * as answers from '../sittings/answers.store';
import { passedItems } from '../sittings/events.store';

/** What a student has before them and behind them. */
export class StudentLists {
  constructor(private readonly pool: Pool) {}

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
    const takes = await answers.takesOfSittings(this.pool, sittingIds);
    const written = await answers.writtenOf(this.pool, sittingIds);
    const passed = await passedItems(this.pool, sittingIds);
    const unheard = await unheardOf(
      this.pool,
      releases.filter(r => r.outline.isDiscussion).map(r => r.id),
      student.id,
    );
    const reasons = await reasonsOf(this.pool, 'askAgain', sittingIds);
    /** What was handed in last and counts no more, where nothing else does. */
    const asideOf = (own: (typeof mine)[number]['own']) =>
      own.counting || own.open
        ? undefined
        : own.sittings.findLast(s => s.setAside && s.handedInAt !== null)?.id;
    const aside = await reasonsOf(
      this.pool,
      'setAside',
      mine.flatMap(({ own }) => asideOf(own) ?? []),
    );
    return mine
      .map(({ release, own }): TodoEntry => {
        const { standing, times, exception, counting } = own;
        const sitting = shown(own);
        const asideId = asideOf(own);
        const openness = opennessAt(times, now);
        const mayBeginNow =
          openness !== 'closed' && mayBegin(own.sittings, release.sittingsAllowed, exception);
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
          // Whether it is marked already is not for the student before the feedback.
          state: standing.state === 'marked' ? ('handedIn' as const) : standing.state,
          sittingId: sitting?.id ?? null,
          goesOn: own.open !== null,
          mayBegin: mayBeginNow,
          sittings: own.sittings.length,
          isAllowedAnother:
            mayBeginNow && release.sittingsAllowed > 0 && own.sittings.length >= release.sittingsAllowed,
          handedInAt: counting?.handedInAt?.toISOString() ?? null,
          feedbackAt: isBack(standing.state) ? (counting?.feedbackAt?.toISOString() ?? null) : null,
          feedbackSittingId: isBack(standing.state) || standing.askedAgain ? (counting?.id ?? null) : null,
          askedAgainFor: standing.askedAgain && counting ? (reasons.get(counting.id) ?? '') : null,
          setAsideFor: asideId === undefined ? null : (aside.get(asideId) ?? ''),
          notesOfSittingId: own.open?.notesShown ? own.open.id : null,
          asked: isBack(standing.state) && counting ? counting.asked - counting.replied : 0,
          hearsOthers: release.heardBy === 'class' && counting?.handedInAt != null,
          outline: release.outline,
          discussion: release.outline.isDiscussion ? { unheard: unheard.get(release.id) ?? 0 } : null,
          answeredItemIds: [
            ...new Set(
              [...takes.filter(t => t.stands), ...written, ...passed]
                .filter(a => a.sittingId === sitting?.id)
                .map(a => a.itemId),
            ),
          ],
        };
      })
      .sort((a, b) => a.dueAt.localeCompare(b.dueAt));
  }

  async myRecordings(student: Me): Promise<MyRecording[]> {
    const found = await answers.recordingsOfStudent(this.pool, student.id);
    const answerOf = (r: { sittingId: string; itemId: string }) => `${r.sittingId} ${r.itemId}`;
    const byAnswer = new Map<string, typeof found>();
    for (const r of found) byAnswer.set(answerOf(r), [...(byAnswer.get(answerOf(r)) ?? []), r]);
    const now = Date.now();
    return found.map(({ content, itemId, number, beganAt, chosenAt: _, handedInAt, feedbackAt, ...rest }) => {
      const takes = byAnswer.get(answerOf({ ...rest, itemId }))!;
      const counting = countingTake(
        takes.map(r => ({
          id: r.takeId,
          number: r.number,
          chosenAtMs: r.chosenAt?.getTime() ?? null,
          stands: true,
        })),
      );
      const { title, items } = inOrder(completed(JSON.parse(content) as AssessmentContent), rest.sittingId);
      const index = items.findIndex(i => i.id === itemId);
      return {
        ...rest,
        assessment: title,
        promptText: items[index]?.promptText ?? '',
        itemNumber: index + 1,
        takeNumber: number,
        beganAt: beganAt.toISOString(),
        several: takes.length > 1,
        counts: counting?.id === rest.takeId,
        isHandedIn: handedInAt !== null,
        hasFeedback: feedbackAt !== null && feedbackAt.getTime() <= now,
      };
    });
  }
}
