import type { AssessmentContent, Item } from '@ecoute/contract/assessments';

/** An item as it begins: a usual homework answer. */
export function newItem(): Item {
  return {
    id: crypto.randomUUID(),
    promptText: '',
    promptRecordingId: null,
    promptDurationMs: null,
    prepareMs: 15_000,
    answerLimitMs: 45_000,
    takesAllowed: 2,
    points: 5,
  };
}

/** The content with one item changed. */
export function withItem(content: AssessmentContent, id: string, change: Partial<Item>): AssessmentContent {
  return { ...content, items: content.items.map(i => (i.id === id ? { ...i, ...change } : i)) };
}

/** A copy of an item, right after it. */
export function duplicated(content: AssessmentContent, id: string): AssessmentContent {
  return {
    ...content,
    items: content.items.flatMap(i => (i.id === id ? [i, { ...i, id: crypto.randomUUID() }] : [i])),
  };
}

export interface LocalDraft {
  revision: number;
  content: AssessmentContent;
}

const key = (id: string) => `ecoute-draft-${id}`;

/** Keeps what is not stored on the server yet on this device: a crash or an empty battery costs nothing. */
export function keepLocally(id: string, draft: LocalDraft): void {
  try {
    localStorage.setItem(key(id), JSON.stringify(draft));
  } catch {
    // A full device: the server's copy is the one that counts.
  }
}

export function forgetLocally(id: string): void {
  localStorage.removeItem(key(id));
}

export function keptLocally(id: string): LocalDraft | null {
  try {
    return JSON.parse(localStorage.getItem(key(id)) ?? 'null') as LocalDraft | null;
  } catch {
    return null;
  }
}
