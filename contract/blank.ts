/** What assessments and items begin as. Apart from the classes, so that tools without decorators can use it. */
import { CEFR } from '@ecoute/core/scoring/scales';
import type { Scheme } from '@ecoute/core/scoring/scheme';
import { policiesOf, type StartingPoint } from '@ecoute/core/timing/startingPoints';
import type { AssessmentContent, Item, Scoring } from './assessments';

/** How a starting point scores. */
export const SCHEME_OF: Record<StartingPoint, Scheme> = {
  practice: 'none',
  homework: 'points',
  exam: 'points',
  placement: 'level',
};

/** A scheme as it begins; the scale is there in case an overall level is chosen. */
export function blankScoring(point: StartingPoint): Scoring {
  return {
    kind: SCHEME_OF[point],
    rubric: null,
    scale: CEFR.map(l => ({ ...l })),
    shown: point !== 'placement',
    passMark: null,
  };
}

/** An item as a starting point begins it. */
export function blankItem(id: string, point: StartingPoint = 'homework', over: Partial<Item> = {}): Item {
  return {
    id,
    sectionId: null,
    answerBy: 'audio',
    promptText: '',
    promptRecordingId: null,
    promptDurationMs: null,
    turns: [],
    isConversation: false,
    ...policiesOf(point),
    hintText: '',
    hintVoice: null,
    modelText: '',
    modelVoice: null,
    points: point === 'exam' ? 10 : 5,
    ...over,
  };
}

/** An assessment as a starting point begins it, without items. */
export function blankContent(
  point: StartingPoint = 'homework',
  over: Partial<AssessmentContent> = {},
): AssessmentContent {
  return {
    title: '',
    directions: '',
    directionsVoice: null,
    startingPoint: point,
    sittingLimitMs: null,
    sections: [],
    items: [],
    scoring: blankScoring(point),
    closingWords: '',
    modelOpens: 'afterReturn',
    ...over,
  };
}
