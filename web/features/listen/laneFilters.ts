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
export function waitsForReply({ replies, again, mark }: Pick<Lane, 'replies' | 'again' | 'mark'>): boolean {
  const last = replies.at(-1);
  // That something was heard, or what the teacher lets stand, asks for nothing.
  if (!last?.fromStudent || last.settled || (last.words === '' && last.voiceId === null)) return false;
  // What was recorded again is answered by a score of it.
  return !(again && mark?.finished && !again.isOfFirst && mark.updatedAt > last.madeAt);
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

/** What lanes are narrowed down to: all of these, and by a name. */
export interface Narrowed {
  filters: readonly LaneFilter[];
  /** A part of a name, as somebody types it; empty for whoever. */
  who: string;
}

/** Without accents and capitals, as names are typed in a hurry. */
const folded = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase().trim();

export function isNarrowed({ filters, who }: Narrowed): boolean {
  return filters.length > 0 || who.trim() !== '';
}

/** Whether a lane is among those that are looked for. */
export function isAmong(lane: Lane, { filters, who }: Narrowed): boolean {
  if (!filters.every(f => passes(lane, f))) return false;
  return who === '' || folded(lane.studentName).includes(folded(who));
}

/** Reads what is looked for from an address; what it does not know is left out. */
export function narrowedIn(address: URLSearchParams): Narrowed {
  const known = (address.get('show') ?? '').split(' ') as LaneFilter[];
  return { filters: FILTERS.filter(f => f !== 'all' && known.includes(f)), who: address.get('who') ?? '' };
}

/** The filters that find something, each with how many students (sittings) it finds. */
export function filtersOf(lanes: readonly Lane[]): { filter: LaneFilter; sittings: number }[] {
  const found = FILTERS.map(filter => ({ filter, sittings: new Set<string>() }));
  for (const lane of lanes)
    for (const { filter, sittings } of found) if (passes(lane, filter)) sittings.add(lane.sittingId);
  return found
    .map(({ filter, sittings }) => ({ filter, sittings: sittings.size }))
    .filter(({ filter, sittings }) => filter === 'all' || sittings > 0);
}
