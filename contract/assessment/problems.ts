import { schemeProblems } from '@ecoute/core/scoring/scheme';
import { conversationProblems, takeLengthMs } from '@ecoute/core/timing/conversation';
import { timeProblems } from '@ecoute/core/timing/startingPoints';
import { isRecorded } from '@ecoute/core/timing/strip';
import type { AssessmentContent, Item } from '../assessments';
import { LIMITS } from '../limits';
import type { Stimulus } from '../stimuli';
import { planOf, topicsOf } from './discussion';
import { carriedPoints } from './points';

/** True when a student is given something to answer or study: words, a voice, turns of a conversation, or something to look at. */
export function hasPrompt(
  item: Pick<Item, 'promptText' | 'promptRecordingId' | 'stimuli' | 'isConversation' | 'answerBy' | 'turns'>,
): boolean {
  return (
    item.promptText.trim() !== '' ||
    item.promptRecordingId !== null ||
    item.stimuli.length > 0 ||
    (item.isConversation && item.answerBy === 'audio' && item.turns.length > 0)
  );
}

/** What is missing of a thing to look at; null when it is whole. */
export function stimulusProblem(stimulus: Stimulus): string | null {
  switch (stimulus.kind) {
    case 'link':
      return stimulus.url.trim() ? null : 'A link has no address yet.';
    case 'passage':
      return stimulus.text.trim() ? null : 'A passage has no words yet.';
    default:
      return stimulus.recordingId ? null : 'A file is not here yet.';
  }
}

/** What keeps an assessment from being released, in the order a teacher would mend it; empty when ready. */
export function releaseProblems(content: AssessmentContent): string[] {
  const problems: string[] = [];
  if (!content.title.trim()) problems.push('Give the assessment a title.');
  if (content.items.length === 0) problems.push('Add an item to answer.');
  for (const stimulus of content.stimuli) {
    const problem = stimulusProblem(stimulus);
    if (problem) problems.push(`Directions: ${problem}`);
  }
  content.items.forEach((item, i) => {
    if (!hasPrompt(item)) problems.push(emptyWords(content, item, i));
    for (const stimulus of item.stimuli) {
      const problem = stimulusProblem(stimulus);
      if (problem) problems.push(`Item ${i + 1}: ${problem}`);
    }
    if (item.isConversation && item.answerBy === 'audio') {
      for (const problem of conversationProblems(item.turns)) problems.push(`Item ${i + 1}: ${problem}`);
      if (takeLengthMs(item.turns) > LIMITS.answerMs)
        problems.push(`Item ${i + 1}: the conversation runs longer than an hour. Shorten some gaps.`);
    }
    const contradiction = Object.values(timeProblems(item))[0];
    if (contradiction && isRecorded(item.answerBy)) problems.push(`Item ${i + 1}: ${contradiction}`);
  });
  problems.push(...togetherProblems(content));
  problems.push(...discussionProblems(content));
  problems.push(...schemeProblems(content.scoring, carriedPoints(content)));
  if (content.items.length > 0 && content.items.every(i => i.answerBy === 'nothing'))
    problems.push('Nothing here is answered: let at least one item be spoken or written.');
  return problems;
}

/** What is said of an item in which nothing is asked or shown. */
function emptyWords(content: AssessmentContent, item: Item, index: number): string {
  if (!planOf(content)) return `Item ${index + 1} has no prompt yet.`;
  return item.answerBy === 'nothing'
    ? `Starting point ${topicsOf(content).indexOf(item) + 1} has nothing on it yet.`
    : 'Say what people talk about: write the question, or speak it.';
}

/** What keeps items from being answered together. */
function togetherProblems(content: AssessmentContent): string[] {
  return content.items.flatMap((item, i) => {
    if (!item.together) return [];
    if (item.answerBy !== 'audio' || (item.together.way === 'turns' && item.isConversation))
      return [`Item ${i + 1}: only spoken or played answers are given together.`];
    if (item.together.way === 'turns' && content.sittingLimitMs !== null)
      return [
        `Item ${i + 1}: turns are spoken over days, and this sitting has a time limit. Take the limit away, or let them record on one device.`,
      ];
    return [];
  });
}

/** What keeps a discussion from being held. */
function discussionProblems(content: AssessmentContent): string[] {
  const plan = planOf(content);
  if (!plan) return [];
  const answered = content.items.filter(i => i.answerBy !== 'nothing');
  if (answered.length > 1)
    return ['A discussion has one talk. Make the other items starting points, or take them out.'];
  const [talk] = answered;
  if (!talk) return [];
  const problems: string[] = [];
  if ((talk.answerBy !== 'audio' && talk.answerBy !== 'video') || talk.isConversation)
    problems.push('People speak in a discussion: let the talk be spoken, or filmed.');
  if (talk.answerLimitMs > LIMITS.contributionMs)
    problems.push('A contribution is at most 20 minutes long. Lower the limit of the talk.');
  if (!plan.ownSubjects && topicsOf(content).length === 0)
    problems.push('Nobody could begin: add a starting point, or let students begin threads of their own.');
  return problems;
}
