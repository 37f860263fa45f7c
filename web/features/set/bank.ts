import type { AssessmentSummary, Item } from '@ecoute/contract/assessments';

export type ItemKind = 'spoken' | 'conversation' | 'written' | 'material';

export function kindOf(item: Pick<Item, 'answerBy' | 'isConversation'>): ItemKind {
  if (item.answerBy === 'text') return 'written';
  if (item.answerBy === 'nothing') return 'material';
  return item.isConversation ? 'conversation' : 'spoken';
}

/** An item somewhere on a teacher's shelf. */
export interface BankEntry {
  item: Item;
  /** Place in its assessment, from 1. */
  number: number;
  assessmentId: string;
  title: string;
  releases: number;
}

/** Letters without their marks, small: "café" is found by "cafe". */
function plain(text: string): string {
  return text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
}

/**
 * Items of earlier assessments that hold every one of the words, in prompt, hint, turns or the assessment's title.
 * @param except the assessment that is being edited
 */
export function searched(
  shelf: readonly AssessmentSummary[],
  words: string,
  kind: ItemKind | null,
  except: string,
): BankEntry[] {
  const wanted = plain(words).split(/\s+/).filter(Boolean);
  return shelf
    .filter(a => a.id !== except)
    .flatMap(a =>
      a.content.items.map((item, i) => ({
        item,
        number: i + 1,
        assessmentId: a.id,
        title: a.content.title.trim() || 'Without a title',
        releases: a.releases,
      })),
    )
    .filter(({ item, title }) => {
      if (kind && kindOf(item) !== kind) return false;
      const text = plain([title, item.promptText, item.hintText, ...item.turns.map(t => t.says)].join(' '));
      return wanted.every(word => text.includes(word));
    });
}

/** A copy of an item from elsewhere: it is its own from now on, outside any section. */
export function taken(item: Item): Item {
  return {
    ...item,
    id: crypto.randomUUID(),
    sectionId: null,
    turns: item.turns.map(t => ({ ...t, id: crypto.randomUUID() })),
  };
}
