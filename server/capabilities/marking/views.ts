/** Rows of marks and answers as pages see them. */
import { isNumbered } from '@ecoute/core/scoring/scheme';
import { fromHundredths, toHundredths, totalOf } from '@ecoute/core/scoring/points';
import type { PlacedTake } from '@ecoute/core/timing/takeClock';
import { carriedBy, type AssessmentContent } from '@ecoute/contract/assessments';
import type { Mark, ReturnedItem, RubricChoice, Used } from '@ecoute/contract/marking';
import type { Receipt } from '@ecoute/contract/sittings';
import type { JudgementRow, SittingRow, TakeRow } from '../sittings/store';
import type * as store from './store';

export function judgementIn(
  all: readonly JudgementRow[],
  sittingId: string,
  itemId: string,
): JudgementRow['judgement'] | null {
  return all.find(j => j.sittingId === sittingId && j.itemId === itemId)?.judgement ?? null;
}

export function choicesIn(mark: store.MarkRow | undefined): RubricChoice[] {
  return mark?.choices ? (JSON.parse(mark.choices) as RubricChoice[]) : [];
}

export function passedIn(receipt: Receipt | undefined, itemId: string): boolean {
  return receipt?.lines.some(l => l.itemId === itemId && l.passed) ?? false;
}

export function isReturned(sitting: SittingRow): boolean {
  return sitting.returnedAt !== null && sitting.returnedAt.getTime() <= Date.now();
}

/** Whether a student may hear notes: after the return, when it was given back, or when a teacher lets them before. */
export function showsNotes(sitting: SittingRow): boolean {
  return isReturned(sitting) || sitting.givenBackAt !== null || sitting.notesShownAt !== null;
}

/** The total of a returned sitting: an item without an answer counts as none of its points. */
export function totalFor(
  content: AssessmentContent,
  items: readonly Pick<ReturnedItem, 'points'>[],
): { given: number; maximum: number } | null {
  const total = totalOf(
    content.items.map((item, i) => ({
      maximum: isNumbered(content.scoring.kind) ? toHundredths(carriedBy(content, item)) : 0,
      given: items[i]!.points === null ? 0 : toHundredths(items[i]!.points!),
    })),
  );
  return total.scored ? { given: fromHundredths(total.given), maximum: fromHundredths(total.maximum) } : null;
}

export function markView(mark: store.MarkRow): Mark {
  return {
    revision: mark.revision,
    points: mark.pointsHundredths === null ? null : fromHundredths(mark.pointsHundredths),
    comment: mark.comment,
    choices: choicesIn(mark),
    finished: mark.finishedAt !== null,
    reason: mark.reason,
    authorName: mark.authorName,
    updatedAt: mark.updatedAt.toISOString(),
  };
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

export function placedOf(take: TakeRow | null): PlacedTake {
  return { clock: take?.clock ?? null, gateMs: take?.recording.gateMs ?? null };
}
