import { givesPoints, reachable } from '@ecoute/core/scoring/scheme';
import { fromHundredths } from '@ecoute/core/scoring/points';
import type { AssessmentContent, Item } from '../assessments';

/** Points an item carries under the assessment's scheme; 0 where its answer is given none. */
export function carriedBy(content: Pick<AssessmentContent, 'scoring'>, item: Item): number {
  if (item.answerBy === 'nothing' || !givesPoints(content.scoring.kind)) return 0;
  return content.scoring.kind === 'done' ? 1 : item.points;
}

/** Points of the items that are answered, as they stand on the items. */
export function carriedPoints(content: AssessmentContent): number[] {
  return content.items.filter(i => i.answerBy !== 'nothing').map(i => i.points);
}

/** The content with its pass mark as the share says, where it is given as one: rounded half up to the hundredth of a point. */
export function withPassMark(content: AssessmentContent): AssessmentContent {
  const { scoring } = content;
  const percent = scoring.passPercent ?? null;
  const most = percent === null ? null : reachable(scoring.kind, carriedPoints(content));
  if (percent === null || most === null) return content;
  const passMark = fromHundredths(Math.round((most * percent) / 100));
  return passMark === scoring.passMark ? content : { ...content, scoring: { ...scoring, passMark } };
}
