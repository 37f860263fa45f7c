/** Rows of several capabilities as pages see them. */
import { isNumbered } from '@ecoute/core/scoring/scheme';
import { fromHundredths, toHundredths, totalOf } from '@ecoute/core/scoring/points';
import { countingTake } from '@ecoute/core/timing/itemRun';
import type { PlacedTake } from '@ecoute/core/timing/takeClock';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { FeedbackItem, RecordedAgain, Used } from '@ecoute/contract/marking';
import type { Note } from '@ecoute/contract/notes';
import type { Receipt } from '@ecoute/contract/sittings';
import type { HeardRow } from '../recordings/store';
import type { JudgementRow, TakeRow } from '../sittings/answers.store';

export function judgementIn(
  all: readonly JudgementRow[],
  sittingId: string,
  itemId: string,
): JudgementRow['judgement'] | null {
  return all.find(j => j.sittingId === sittingId && j.itemId === itemId)?.judgement ?? null;
}

export function passedIn(receipt: Receipt | undefined, itemId: string): boolean {
  return receipt?.lines.some(l => l.itemId === itemId && l.passed) ?? false;
}

/** The total of a sitting with feedback: an item without an answer counts as none of its points. */
export function totalFor(
  content: AssessmentContent,
  items: readonly Pick<FeedbackItem, 'points'>[],
): { given: number; maximum: number } | null {
  const total = totalOf(
    content.items.map((item, i) => ({
      maximum: isNumbered(content.scoring.kind) ? toHundredths(carriedBy(content, item)) : 0,
      given: items[i]!.points === null ? 0 : toHundredths(items[i]!.points!),
    })),
  );
  return total.scored ? { given: fromHundredths(total.given), maximum: fromHundredths(total.maximum) } : null;
}

/** What was used on the way to one answer. */
export function usedFor(
  all: readonly (Used & { sittingId: string; itemId: string })[],
  sittingId: string,
  itemId: string,
): Used {
  const own = all.find(u => u.sittingId === sittingId && u.itemId === itemId);
  return { hearings: own?.hearings ?? 0, hints: own?.hints ?? 0, readAlouds: own?.readAlouds ?? 0 };
}

export function placedOf(take: TakeRow<HeardRow> | null): PlacedTake {
  return { clock: take?.clock ?? null, gateMs: take?.recording.gateMs ?? null };
}

/** Things by a key of theirs. */
export function grouped<T>(all: readonly T[], keyOf: (one: T) => string): Map<string, T[]> {
  const found = new Map<string, T[]>();
  for (const one of all) {
    const key = keyOf(one);
    const of = found.get(key);
    if (of) of.push(one);
    else found.set(key, [one]);
  }
  return found;
}

/**
 * What a take is that was recorded again on request, and what it takes the place of.
 * @param own all takes of the answer
 * @param markedAt when its mark was kept last; null without one
 * @param notes by take
 */
export function againOf(
  take: TakeRow<HeardRow> | null,
  own: readonly TakeRow<HeardRow>[],
  markedAt: Date | null,
  notes: ReadonlyMap<string, Note[]>,
): RecordedAgain | null {
  if (!take?.askId) return null;
  const first = countingTake<TakeRow<HeardRow>>(own.filter(t => !t.askId));
  return {
    recordedAt: take.beganAt.toISOString(),
    first: first && { takeId: first.id, durationMs: first.durationMs, notes: notes.get(first.id) ?? [] },
    // Announced first, it may come much later: until it is here, whoever scores has heard the first.
    isOfFirst: markedAt !== null && markedAt < (take.recording.arrivedAt ?? take.beganAt),
  };
}
