import type { FeedbackItem, SaidInTalk } from '@ecoute/contract/marking';

/** The contribution of a talk that is shown: the chosen one, or else the first that can be heard, or read. */
export function ownPart({ talk }: Pick<FeedbackItem, 'talk'>, chosen: string | null): SaidInTalk | null {
  const all = talk?.contributions ?? [];
  return all.find(c => c.id === chosen) ?? all.find(c => c.takeId !== null) ?? all[0] ?? null;
}

/** What came back on a talk, as one of its contributions: its sound, its words, and the notes on it. */
export function withOwnPart(feedback: FeedbackItem, chosen: string | null): FeedbackItem {
  const part = ownPart(feedback, chosen);
  if (!part) return feedback;
  const { takeId, durationMs, medium, placed, pictureId, notes, words } = part;
  return {
    ...feedback,
    takeId,
    durationMs,
    medium,
    placed,
    pictureId,
    notes,
    written: takeId ? null : words,
  };
}
