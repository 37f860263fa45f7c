import { isBack } from '@ecoute/core/timing/sittingState';
import type { Lane } from '@ecoute/contract/marking';
import { waits } from './order';

/** What lanes can be narrowed down to. */
export const FILTERS = [
  'all',
  'waiting',
  'late',
  'underWay',
  'askedAgain',
  'marked',
  'feedbackGiven',
  'answered',
  'replies',
] as const;
export type LaneFilter = (typeof FILTERS)[number];

export const FILTER_WORDS: Record<LaneFilter, string> = {
  all: 'all',
  waiting: 'to mark',
  late: 'late',
  underWay: 'under way',
  askedAgain: 'to record again',
  marked: 'marked',
  feedbackGiven: 'feedback given',
  answered: 'answered',
  replies: 'waiting for your reply',
};

/** Whether the last word in the exchange about an answer is the student's. */
export function waitsForReply({ replies }: Pick<Lane, 'replies'>): boolean {
  return replies.at(-1)?.fromStudent ?? false;
}

export function passes(lane: Lane, filter: LaneFilter): boolean {
  switch (filter) {
    case 'all':
      return true;
    case 'waiting':
      return waits(lane);
    case 'late':
      return lane.late;
    case 'underWay':
      return lane.state === 'underWay';
    case 'askedAgain':
      return lane.askedAgain;
    case 'marked':
      return lane.state === 'marked';
    case 'feedbackGiven':
      return isBack(lane.state);
    case 'answered':
      return lane.state === 'answered';
    case 'replies':
      return waitsForReply(lane);
  }
}

/** The filters that find something, each with how many students (sittings) it finds. */
export function filtersOf(lanes: readonly Lane[]): { filter: LaneFilter; sittings: number }[] {
  return FILTERS.map(filter => ({
    filter,
    sittings: new Set(lanes.filter(l => passes(l, filter)).map(l => l.sittingId)).size,
  })).filter(({ filter, sittings }) => filter === 'all' || sittings > 0);
}
