import type { ReleaseSummary } from '@ecoute/contract/releases';

export interface QueueCount {
  key:
    | 'waiting'
    | 'replies'
    | 'late'
    | 'missing'
    | 'underWay'
    | 'askedAgain'
    | 'marked'
    | 'feedbackGiven'
    | 'answered';
  words: string;
  /** Students of a release that it counts. */
  of: (release: ReleaseSummary) => number;
}

/** What a release's students are counted by, the teacher's own work first. */
export const QUEUE_COUNTS: readonly QueueCount[] = [
  { key: 'waiting', words: 'to mark', of: r => r.waitingSittings },
  { key: 'replies', words: 'waiting for your reply', of: r => r.counts.repliesWait },
  { key: 'marked', words: 'feedback to give', of: r => r.counts.marked },
  { key: 'late', words: 'late', of: r => r.counts.late },
  { key: 'missing', words: 'missing', of: r => r.counts.missing },
  { key: 'underWay', words: 'under way', of: r => r.counts.underWay },
  { key: 'askedAgain', words: 'to record again', of: r => r.counts.askedAgain },
  { key: 'feedbackGiven', words: 'feedback given', of: r => r.counts.feedbackGiven },
  { key: 'answered', words: 'answered', of: r => r.counts.answered },
];

/** What waits comes first, what was due longest ago before the rest. */
export function byUrgency(
  a: Pick<ReleaseSummary, 'waitingSittings' | 'dueAt'>,
  b: Pick<ReleaseSummary, 'waitingSittings' | 'dueAt'>,
): number {
  return Number(b.waitingSittings > 0) - Number(a.waitingSittings > 0) || a.dueAt.localeCompare(b.dueAt);
}
