import { ownKey } from '../../base/own';
/** A note that is being written: kept on this device until the server has it. */
export interface NoteDraft {
  id: string;
  fromMs: number;
  toMs: number | null;
  words: string;
  /** The wording it follows; 0 for a new note. */
  revision: number;
}

const key = (takeId: string) => ownKey(`ecoute-note-${takeId}`);

export function draftOf(takeId: string): NoteDraft | null {
  try {
    return JSON.parse(localStorage.getItem(key(takeId)) ?? 'null') as NoteDraft | null;
  } catch {
    return null;
  }
}

export function keepDraft(takeId: string, draft: NoteDraft | null): void {
  try {
    if (draft) localStorage.setItem(key(takeId), JSON.stringify(draft));
    else localStorage.removeItem(key(takeId));
  } catch {
    // A full device keeps no drafts; what is on the screen stays on the screen.
  }
}

/** The draft with its end put to a moment: a stretch, or a moment again where nothing is left between. */
export function untilHere(draft: NoteDraft, ms: number): NoteDraft {
  const at = Math.round(ms);
  if (at < draft.fromMs) return { ...draft, fromMs: at, toMs: draft.toMs ?? draft.fromMs };
  return { ...draft, toMs: at > draft.fromMs ? at : null };
}
