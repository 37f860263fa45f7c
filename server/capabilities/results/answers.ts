import { fromHundredths } from '@ecoute/core/scoring/points';
import { filledIn } from '@ecoute/core/feedback/comments';
import { isFeedbackGiven } from '@ecoute/core/timing/sittingState';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { CellAnswers } from '@ecoute/contract/results';
import type { Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { marksOf } from '../marks/store';
import { choicesIn } from '../marks/view';
import { notesOf } from '../notes/store';
import { grouped, passedIn, placedOf } from '../reading/views';
import { findRelease } from '../releases/store';
import { takesOfSittings, writtenOf, type TakeRow } from '../sittings/answers.store';
import { findSitting, receiptsOf, studentCalled } from '../sittings/store';

/** What was answered in one sitting and said of it, in the order of the items. */
export async function answersOf(pool: Pool, sittingId: string): Promise<CellAnswers> {
  const sitting = await findSitting(pool, sittingId);
  const release = sitting && (await findRelease(pool, sitting.releaseId));
  if (!sitting || !release) throw notFound();
  const takes = await takesOfSittings(pool, [sittingId]);
  const notes = grouped(
    await notesOf(
      pool,
      takes.map(t => t.id),
    ),
    n => n.takeId,
  );
  const written = await writtenOf(pool, [sittingId]);
  const marks = await marksOf(pool, [sittingId]);
  const receipt = (await receiptsOf(pool, [sittingId])).get(sittingId);
  const { content } = release;
  // What a comment calls them says who it is.
  const isHidden = release.namesHidden && !isFeedbackGiven(sitting, Date.now());
  const called = isHidden ? '…' : await studentCalled(pool, sittingId);
  const own = (words: string) => filledIn(words, { name: called, time: null });
  return {
    sittingId,
    releaseId: release.id,
    answers: content.items.flatMap((item, i) => {
      if (item.answerBy === 'nothing') return [];
      const take = countingTake<TakeRow>(takes.filter(t => t.itemId === item.id));
      const mark = marks.find(m => m.itemId === item.id);
      return [
        {
          itemId: item.id,
          number: i + 1,
          prompt: item.promptText,
          takeId: take?.id ?? null,
          medium: take?.recording.medium ?? null,
          durationMs: take?.durationMs ?? null,
          placed: placedOf(take),
          written: written.find(w => w.itemId === item.id)?.text ?? null,
          passed: passedIn(receipt, item.id),
          finished: mark?.finishedAt != null,
          points: mark?.pointsHundredths == null ? null : fromHundredths(mark.pointsHundredths),
          carries: carriedBy(content, item),
          choices: choicesIn(mark),
          comment: own(mark?.comment ?? ''),
          notes: ((take && notes.get(take.id)) ?? []).map(n => ({ ...n, words: own(n.words) })),
        },
      ];
    }),
  };
}
