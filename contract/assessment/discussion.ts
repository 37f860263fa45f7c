/** A discussion's assessment: one item is the talk (what is answered, scored and limited), the others are starting points. */
import type { AssessmentContent, DiscussionPlan, Item } from '../assessments';

/** What is asked in a discussion; null for everything else. */
export function planOf(
  content: Pick<AssessmentContent, 'startingPoint' | 'discussion'>,
): DiscussionPlan | null {
  return content.startingPoint === 'discussion' ? (content.discussion ?? null) : null;
}

/** The item that people answer with what they say; null while there is none. */
export function talkOf({ items }: Pick<AssessmentContent, 'items'>): Item | null {
  return items.find(i => i.answerBy !== 'nothing') ?? null;
}

/** Pages, pictures, films, sounds or questions at which a thread can begin, in order. */
export function topicsOf({ items }: Pick<AssessmentContent, 'items'>): Item[] {
  return items.filter(i => i.answerBy === 'nothing');
}
