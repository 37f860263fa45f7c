import { ownKey } from '../../base/own';
import type { Choice } from '@ecoute/core/scoring/scheme';

/** What a teacher has typed on a lane and the server does not have yet; kept on this device until it does. */
export interface MarkDraft {
  points: string;
  comment: string;
  /** Levels chosen on the rubric. */
  choices?: Choice[];
  /** Why the score is another than before, or than the rubric gives. */
  reason?: string;
}

const key = (lane: string) => ownKey(`ecoute-mark-${lane}`);

export function draftOf(lane: string): MarkDraft | null {
  try {
    return JSON.parse(localStorage.getItem(key(lane)) ?? 'null') as MarkDraft | null;
  } catch {
    return null;
  }
}

export function keepDraft(lane: string, draft: MarkDraft | null): void {
  try {
    if (draft) localStorage.setItem(key(lane), JSON.stringify(draft));
    else localStorage.removeItem(key(lane));
  } catch {
    // A full device keeps no copy; the field on the page still has it.
  }
}
