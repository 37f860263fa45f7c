/** Marks as pages see them. */
import { fromHundredths } from '@ecoute/core/scoring/points';
import type { Mark } from '@ecoute/contract/marking';
import type { RubricChoice } from '@ecoute/contract/judgements';
import type { MarkRow } from './store';

export function choicesIn(mark: MarkRow | undefined): RubricChoice[] {
  return mark?.choices ? (JSON.parse(mark.choices) as RubricChoice[]) : [];
}

export function markView(mark: MarkRow): Mark {
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
