import type { AssessmentContent, DiscussionPlan, EvidenceOpens, Item } from '@ecoute/contract/assessments';
import { hasPrompt } from '@ecoute/contract/assessment/problems';
import type { Scheme } from '@ecoute/core/scoring/scheme';
import { taken } from './items/itemSearch';
import { planOf } from '@ecoute/contract/assessment/discussion';
import { blankDiscussion, blankItem, SCHEME_OF } from '@ecoute/contract/blank';
import {
  policiesOf,
  sittingPoliciesOf,
  type PolicyName,
  type StartingPoint,
} from '@ecoute/core/timing/startingPoints';

/** An item as the assessment's starting point begins it. */
export function newItem(point: StartingPoint): Item {
  return blankItem(crypto.randomUUID(), point);
}

/** The id of the only item where nothing was put into it yet; null otherwise. */
export function untouched({ items }: AssessmentContent): string | null {
  const only = items.length === 1 ? items[0]! : null;
  return only && !hasPrompt(only) && !only.isConversation && !only.hintText && !only.modelText
    ? only.id
    : null;
}

/** The content with one item changed. */
export function withItem(content: AssessmentContent, id: string, change: Partial<Item>): AssessmentContent {
  return { ...content, items: content.items.map(i => (i.id === id ? { ...i, ...change } : i)) };
}

/**
 * A new item of this assessment: answered and timed as the last one that is answered, in the section of the last one.
 * Material is never begun by accident, and a conversation has a length of its own.
 */
export function nextItem({ startingPoint, items }: AssessmentContent): Item {
  const item = newItem(startingPoint);
  // One item is the talk; whatever comes after it is something to begin a thread at.
  if (startingPoint === 'discussion' && items.some(i => i.answerBy !== 'nothing'))
    return { ...item, answerBy: 'nothing' };
  const like = items.findLast(i => i.answerBy !== 'nothing' && !i.isConversation);
  if (like) {
    const { answerBy, points } = like;
    for (const name of Object.keys(policiesOf(startingPoint)))
      Object.assign(item, { [name]: like[name as keyof Item] });
    Object.assign(item, { answerBy, points });
  }
  return { ...item, sectionId: items.at(-1)?.sectionId ?? null };
}

/** What can be set for several items at once; what is not there stays as each has it. */
export type Setting = Partial<Pick<Item, PolicyName | 'points' | 'answerBy'>>;

/** Items with the same settings. A conversation keeps its own length and way of answering. */
export function withSetting(
  content: AssessmentContent,
  ids: ReadonlySet<string>,
  setting: Setting,
): AssessmentContent {
  const { answerLimitMs: _limit, answerBy: _by, shortestAnswerMs: _shortest, ...rest } = setting;
  return {
    ...content,
    items: content.items.map(item =>
      ids.has(item.id) ? { ...item, ...(item.isConversation ? rest : setting) } : item,
    ),
  };
}

/** One more item at the end. */
export function withAnother(content: AssessmentContent): { content: AssessmentContent; id: string } {
  const item = nextItem(content);
  return { content: { ...content, items: [...content.items, item] }, id: item.id };
}

/** Another starting point: the sitting and every item take its policies; prompts, points and answers stay. */
export function withStartingPoint(content: AssessmentContent, point: StartingPoint): AssessmentContent {
  return {
    ...content,
    ...sittingPoliciesOf(point),
    startingPoint: point,
    evidenceOpens: evidenceFor(content, point),
    scoring: { ...content.scoring, kind: schemeFor(content, point), shown: point !== 'placement' },
    ...(point === 'discussion'
      ? {
          discussion: content.discussion ?? blankDiscussion(),
          sittingLimitMs: null,
          items: asTalk(content.items.map(i => ({ ...i, ...policiesOf(point) }))),
        }
      : { items: content.items.map(i => ({ ...i, ...policiesOf(point) })) }),
  };
}

/** Items of a discussion: the first that is answered is the talk, the others are starting points. */
function asTalk(items: readonly Item[]): Item[] {
  const talk = items.find(i => i.answerBy !== 'nothing') ?? items[0];
  return items.map(item =>
    item === talk
      ? {
          ...item,
          answerBy: item.answerBy === 'video' ? 'video' : 'audio',
          isConversation: false,
          turns: [],
          sheet: null,
          music: null,
        }
      : { ...item, answerBy: 'nothing', isConversation: false, turns: [] },
  );
}

/** The content with one thing changed of what is asked in a discussion. */
export function withPlan(content: AssessmentContent, change: Partial<DiscussionPlan>): AssessmentContent {
  const plan = planOf(content);
  return plan ? { ...content, discussion: { ...plan, ...change } } : content;
}

/** Practice shows at once what is measured; nothing else does, unless the teacher says so once more. */
function evidenceFor({ evidenceOpens }: AssessmentContent, point: StartingPoint): EvidenceOpens {
  if (point === 'practice') return 'atOnce';
  return evidenceOpens === 'atOnce' ? 'never' : evidenceOpens;
}

/** A rubric that was written stays in use where the new starting point gives points as well. */
function schemeFor(content: AssessmentContent, point: StartingPoint): Scheme {
  const standard = SCHEME_OF[point];
  return standard === 'points' && content.scoring.rubric !== null ? 'rubric' : standard;
}

/** Items of elsewhere at the end; in a discussion they are something to begin a thread at. */
export function withTaken(content: AssessmentContent, items: readonly Item[]): AssessmentContent {
  const taken = planOf(content)
    ? items.map(i => ({ ...i, answerBy: 'nothing' as const, isConversation: false, turns: [] }))
    : items;
  return { ...content, items: [...content.items, ...taken] };
}

/** A copy of an item, right after it. */
export function duplicated(content: AssessmentContent, id: string): AssessmentContent {
  return {
    ...content,
    items: content.items.flatMap(i => {
      if (i.id !== id) return [i];
      const copy = taken(i, i.sectionId);
      // There is one talk.
      return [i, planOf(content) ? { ...copy, answerBy: 'nothing' as const } : copy];
    }),
  };
}

/** An item in another place. It joins the section of the item it is put at. */
export function moved(content: AssessmentContent, id: string, overId: string): AssessmentContent {
  const from = content.items.findIndex(i => i.id === id);
  const to = content.items.findIndex(i => i.id === overId);
  if (from < 0 || to < 0 || from === to) return content;
  const items = [...content.items];
  const [item] = items.splice(from, 1);
  items.splice(to, 0, { ...item!, sectionId: content.items[to]!.sectionId });
  return withoutEmptySections({ ...content, items });
}

/** A section that begins with an item and takes those after it, up to the next section. */
export function withSectionAt(content: AssessmentContent, id: string): AssessmentContent {
  const at = content.items.findIndex(i => i.id === id);
  if (at < 0) return content;
  const section = { id: crypto.randomUUID(), title: '', shuffled: false };
  const until = content.items.findIndex(
    (item, i) => i > at && item.sectionId !== content.items[at]!.sectionId,
  );
  const end = until < 0 ? content.items.length : until;
  return withoutEmptySections({
    ...content,
    sections: [...content.sections, section],
    items: content.items.map((item, i) => (i >= at && i < end ? { ...item, sectionId: section.id } : item)),
  });
}

/** A section given up: its items join what stands before them. */
export function withoutSection(content: AssessmentContent, sectionId: string): AssessmentContent {
  const first = content.items.findIndex(i => i.sectionId === sectionId);
  const before = first > 0 ? content.items[first - 1]!.sectionId : null;
  return withoutEmptySections({
    ...content,
    items: content.items.map(i => (i.sectionId === sectionId ? { ...i, sectionId: before } : i)),
  });
}

/** Takes an item out. */
export function withoutItem(content: AssessmentContent, id: string): AssessmentContent {
  return withoutEmptySections({ ...content, items: content.items.filter(i => i.id !== id) });
}

function withoutEmptySections(content: AssessmentContent): AssessmentContent {
  return {
    ...content,
    sections: content.sections.filter(s => content.items.some(i => i.sectionId === s.id)),
  };
}

/** What differs between the content here and the one stored meanwhile, in words for its teacher. */
export function unlike(here: AssessmentContent, stored: AssessmentContent): string[] {
  const lines: string[] = [];
  if (here.title !== stored.title) lines.push(`The title: here “${here.title}”, there “${stored.title}”.`);
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  const directions = (c: AssessmentContent) => [c.directions, c.directionsRich, c.directionsVoice, c.stimuli];
  if (!same(directions(here), directions(stored))) lines.push('The directions.');
  if (here.startingPoint !== stored.startingPoint) lines.push('The starting point.');
  if (!same(here.scoring, stored.scoring)) lines.push('The scoring.');
  const named = (list: AssessmentContent['items'], item: Item) =>
    `item ${list.indexOf(item) + 1}${item.promptText ? ` (“${item.promptText.slice(0, 40)}”)` : ''}`;
  for (const item of here.items) {
    const other = stored.items.find(i => i.id === item.id);
    if (!other) lines.push(`Only here: ${named(here.items, item)}.`);
    else if (!same(item, other)) lines.push(`Changed: ${named(here.items, item)}.`);
  }
  for (const item of stored.items)
    if (!here.items.some(i => i.id === item.id)) lines.push(`Only there: ${named(stored.items, item)}.`);
  const common = (list: Item[], others: Item[]) =>
    list.map(i => i.id).filter(id => others.some(o => o.id === id));
  if (!same(common(here.items, stored.items), common(stored.items, here.items)))
    lines.push('The order of the items.');
  if (!same(planOf(here), planOf(stored))) lines.push('What is asked in the discussion.');
  if (!same(here.sections, stored.sections)) lines.push('The sections.');
  const rest = (c: AssessmentContent) => [
    c.sittingLimitMs,
    c.closingWords,
    c.layout,
    c.mayBring,
    c.mayWithdraw,
    c.endTone,
    c.byEar,
    c.spokenWords,
    c.otherDirections,
    c.modelOpens,
    c.evidenceOpens,
    c.selfAssessment,
    c.screenLanguage,
    c.recorderWords,
    c.tags,
  ];
  if (!same(rest(here), rest(stored))) lines.push('What holds for the whole sitting.');
  return lines;
}
