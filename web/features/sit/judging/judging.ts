import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import type { Judgement } from '@ecoute/contract/judgements';

/** Nothing said yet. */
export const NONE: Judgement = { choices: [], points: null, level: null, remark: '' };

/** True when something was said. */
export function isSaid(judgement: Judgement | undefined): boolean {
  return (
    judgement !== undefined &&
    (judgement.choices.length > 0 ||
      judgement.points !== null ||
      judgement.level !== null ||
      judgement.remark !== '')
  );
}

/** What is asked of an item; of the whole only where one level is given for everything. */
export function isAskedOf(content: AssessmentContent, item: Item | null): boolean {
  if (content.selfAssessment === 'none') return false;
  return item === null ? content.scoring.kind === 'level' : item.answerBy !== 'nothing';
}
