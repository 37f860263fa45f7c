/** Rows of several capabilities as pages see them. */
import { isNumbered } from '@ecoute/core/scoring/scheme';
import { fromHundredths, toHundredths, totalOf } from '@ecoute/core/scoring/points';
import type { PlacedTake } from '@ecoute/core/timing/takeClock';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { FeedbackItem, Used } from '@ecoute/contract/marking';
import type { Receipt } from '@ecoute/contract/sittings';
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

export function placedOf(take: TakeRow | null): PlacedTake {
  return { clock: take?.clock ?? null, gateMs: take?.recording.gateMs ?? null };
}
