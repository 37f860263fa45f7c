import { countingTake } from '@ecoute/core/timing/itemRun';
import { fromHundredths } from '@ecoute/core/scoring/points';
import { isFeedbackGiven } from '@ecoute/core/timing/sittingState';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { Item } from '@ecoute/contract/assessments';
import type { Beside } from '@ecoute/contract/marking';
import type { Queryable } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { findRelease, releasesWith } from '../releases/store';
import { findSitting } from '../sittings/store';
import { takesOfSittings, type TakeRow } from '../sittings/answers.store';
import * as store from '../marks/store';
import { earlierSittings } from './store';

/** At most so many answers from before: more would be a list to read, not something to listen to. */
const MOST = 12;

/** Whether two items ask for the same kind of answer: alike in how it is answered and in what is read or played. */
function alike(a: Item, b: Item): boolean {
  return (
    a.answerBy === b.answerBy && a.isConversation === b.isConversation && kinds(a).join() === kinds(b).join()
  );
}
const kinds = (item: Item) => [...new Set(item.stimuli.map(s => s.kind))].sort();

/**
 * What an answer may be held against: the other takes of it, then what the same student answered before, to the same
 * item first, then to items of the same kind. While names are hidden only the other takes, for a title or a date may
 * tell who it is.
 */
export async function besideOf(db: Queryable, sittingId: string, itemId: string): Promise<Beside[]> {
  const sitting = await findSitting(db, sittingId);
  const release = sitting && (await findRelease(db, sitting.releaseId));
  const item = release?.content.items.find(i => i.id === itemId);
  if (!sitting || !release || !item) throw notFound();
  const own = (await takesOfSittings(db, [sittingId])).filter(t => t.itemId === itemId && t.stands);
  const counting = countingTake<TakeRow>(own);
  const isHidden = release.namesHidden && !isFeedbackGiven(sitting, Date.now());
  // What else somebody said in a discussion is no other try.
  const others = (planOf(release.content) ? [] : own)
    .filter(t => t.id !== counting?.id)
    .map(t => view(t, { title: null, same: true, points: null, comment: '' }))
    .map(b => (isHidden ? { ...b, recordedAt: null } : b));
  if (isHidden) return others;
  const before = await earlierSittings(db, sittingId);
  const ids = before.map(b => b.id);
  const takes = await takesOfSittings(db, ids);
  const marks = await store.marksOf(db, ids);
  const earlier: Beside[] = [];
  const releases = await releasesWith(db, [...new Set(before.map(b => b.releaseId))]);
  for (const { id, releaseId } of before) {
    const of = releases.get(releaseId);
    if (!of) continue;
    for (const other of of.content.items) {
      const same = other.id === item.id;
      if (!same && !alike(other, item)) continue;
      const take = countingTake<TakeRow>(takes.filter(t => t.sittingId === id && t.itemId === other.id));
      if (!take) continue;
      const mark = marks.find(m => m.sittingId === id && m.itemId === other.id && m.finishedAt);
      earlier.push(
        view(take, {
          title: of.content.title,
          same,
          points: mark?.pointsHundredths == null ? null : fromHundredths(mark.pointsHundredths),
          comment: mark?.comment ?? '',
        }),
      );
    }
  }
  earlier.sort(
    (a, b) => Number(b.same) - Number(a.same) || (b.recordedAt ?? '').localeCompare(a.recordedAt ?? ''),
  );
  return [...others, ...earlier.slice(0, MOST)];
}

function view(take: TakeRow, about: Pick<Beside, 'title' | 'same' | 'points' | 'comment'>): Beside {
  return {
    takeId: take.id,
    medium: take.recording.medium,
    durationMs: take.durationMs,
    number: take.number,
    recordedAt: take.beganAt.toISOString(),
    ...about,
  };
}
