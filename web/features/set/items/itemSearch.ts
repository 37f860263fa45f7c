import type { RichNode } from '@ecoute/core/formats/richText';
import type { AssessmentSummary, Item } from '@ecoute/contract/assessments';
import { shortPrompt } from '../../../parts/shortPrompt';
import type { Tag } from '@ecoute/contract/tags';

export type ItemKind = 'spoken' | 'conversation' | 'filmed' | 'file' | 'written' | 'material';

export function kindOf(item: Pick<Item, 'answerBy' | 'isConversation'>): ItemKind {
  if (item.answerBy === 'video' || item.answerBy === 'screen') return 'filmed';
  if (item.answerBy === 'file') return 'file';
  if (item.answerBy === 'text') return 'written';
  if (item.answerBy === 'nothing') return 'material';
  return item.isConversation ? 'conversation' : 'spoken';
}

/** An item somewhere on a teacher's shelf, or on a department's. */
export interface BankEntry {
  item: Item;
  /** Place in its assessment, from 1. */
  number: number;
  assessmentId: string;
  title: string;
  releases: number;
  /** Whose it is, where it is a colleague's. */
  by: string | null;
}

/** What an item is looked for by; null and empty are any. */
export interface Search {
  words: string;
  kind: ItemKind | null;
  /** A tag, as code and words together. */
  tag: string;
  /** BCP 47, of a passage or a paragraph. */
  language: string;
}

export const ANYTHING: Search = { words: '', kind: null, tag: '', language: '' };

function languagesIn(node: RichNode | null): string[] {
  if (!node) return [];
  return [...(node.attrs?.lang ? [node.attrs.lang] : []), ...(node.content ?? []).flatMap(languagesIn)];
}

/** Languages that an item is marked with, in its prompt or its passages. */
export function languagesOf(item: Pick<Item, 'promptRich' | 'stimuli'>): string[] {
  return [
    ...new Set([...languagesIn(item.promptRich), ...item.stimuli.map(s => s.language).filter(Boolean)]),
  ];
}

/** Letters without their marks, small: "café" is found by "cafe". */
export function plain(text: string): string {
  return text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
}

/** All items of a shelf, but for those of the assessment that is being edited. */
export function entriesOf(
  shelf: readonly (AssessmentSummary & { departmentName?: string })[],
  except: string,
): BankEntry[] {
  return shelf
    .filter(a => a.id !== except)
    .flatMap(a =>
      a.content.items.map((item, i) => ({
        item,
        number: i + 1,
        assessmentId: a.id,
        title: a.content.title.trim() || 'Without a title',
        releases: a.releases,
        by: a.departmentName === undefined ? null : a.ownerName,
      })),
    );
}

/** Entries that hold every one of the words, in prompt, passage, hint, turns, tags or title, and fit the rest. */
export function searched(entries: readonly BankEntry[], { words, kind, tag, language }: Search): BankEntry[] {
  const wanted = plain(words).split(/\s+/).filter(Boolean);
  return entries.filter(({ item, title }) => {
    if (kind && kindOf(item) !== kind) return false;
    if (tag && !item.tags.some(t => tagKey(t) === tag)) return false;
    if (language && !languagesOf(item).includes(language)) return false;
    const text = plain(
      [
        title,
        item.promptText,
        item.hintText,
        ...item.turns.map(t => t.says),
        ...item.stimuli.flatMap(s => [s.words, s.text]),
        ...item.tags.map(tagKey),
      ].join(' '),
    );
    return wanted.every(word => text.includes(word));
  });
}

/** A tag as one text, also its identity. */
export function tagKey({ code, words }: Tag): string {
  return code ? `${code} ${words}` : words;
}

/** A copy of an item: it is its own from now on; from elsewhere it comes outside any section. */
export function taken(item: Item, sectionId: string | null = null): Item {
  return {
    ...item,
    id: crypto.randomUUID(),
    sectionId,
    // What was said on the way there belongs to the way.
    wordsBefore: null,
    turns: item.turns.map(t => ({ ...t, id: crypto.randomUUID() })),
    stimuli: item.stimuli.map(s => ({ ...s, id: crypto.randomUUID() })),
  };
}

/** An item in a line, as its teacher reads it: its prompt, or what the turns of its conversation are about. */
export function inLine(item: Item): string {
  const prompt = shortPrompt(item);
  if (prompt || !item.isConversation || item.turns.length === 0) return prompt;
  const about = item.turns.map(turn => turn.says.trim()).filter(Boolean);
  return about.join(' · ') || `a conversation of ${item.turns.length} turns`;
}

/** What of an item can be heard: its prompt, or the sound of its first turn. */
export function heardOf(item: Item): { id: string; durationMs: number | null } | null {
  if (item.promptRecordingId) return { id: item.promptRecordingId, durationMs: item.promptDurationMs };
  const first = item.isConversation ? item.turns[0] : undefined;
  return first ? { id: first.recordingId, durationMs: null } : null;
}
