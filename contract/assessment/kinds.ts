/** Kinds of answers: what of one date can be held against what of another. */
import { isRun } from '@ecoute/core/timing/strip';
import type { Item } from '../assessments';
import type { Subject } from '../classes';
import { heardAs, passageOf, targetOf } from '../evidence';

export const ANSWER_KINDS = ['reading', 'conversation', 'score', 'music', 'speaking', 'other'] as const;
export type AnswerKind = (typeof ANSWER_KINDS)[number];

/** What kind of answer an item asks for, in a class of a subject. */
export function answerKindOf(item: Item, subject: Subject): AnswerKind {
  if (item.answerBy !== 'audio' && item.answerBy !== 'video') return 'other';
  if (isRun(item)) return 'conversation';
  if (targetOf(item)) return 'score';
  if (passageOf(item)) return 'reading';
  return heardAs(item, subject) === 'music' ? 'music' : 'speaking';
}
