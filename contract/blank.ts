/** What assessments and items begin as. Apart from the classes, so that tools without decorators can use it. */
import { policiesOf, type StartingPoint } from '@ecoute/core/timing/startingPoints';
import type { AssessmentContent, Item } from './assessments';

/** Points of a new item: practice and placement number nothing. */
const POINTS: Record<StartingPoint, number> = { practice: 0, homework: 5, exam: 10, placement: 0 };

/** An item as a starting point begins it. */
export function blankItem(id: string, point: StartingPoint = 'homework', over: Partial<Item> = {}): Item {
  return {
    id,
    sectionId: null,
    answerBy: 'audio',
    promptText: '',
    promptRecordingId: null,
    promptDurationMs: null,
    ...policiesOf(point),
    hintText: '',
    hintVoice: null,
    modelText: '',
    modelVoice: null,
    points: POINTS[point],
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
    closingWords: '',
    modelOpens: 'afterReturn',
    ...over,
  };
}
