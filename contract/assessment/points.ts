import { givesPoints } from '@ecoute/core/scoring/scheme';
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
