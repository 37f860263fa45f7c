/** A note that is being written: kept on this device until the server has it. */
export interface NoteDraft {
  id: string;
  fromMs: number;
  toMs: number | null;
  words: string;
  /** The wording it follows; 0 for a new note. */
  revision: number;
}

/** The draft with its end put to a moment: a stretch, or a moment again where nothing is left between. */
export function untilHere(draft: NoteDraft, ms: number): NoteDraft {
  const at = Math.round(ms);
  if (at < draft.fromMs) return { ...draft, fromMs: at, toMs: draft.toMs ?? draft.fromMs };
  return { ...draft, toMs: at > draft.fromMs ? at : null };
}
