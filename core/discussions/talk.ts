/** A discussion as people hear it: threads, what is new, who has said how much, who answers whom. */

/** Something that somebody said, or wrote, in a discussion. */
export interface Said {
  id: string;
  authorId: string;
  /** What it replies to; null for what begins a thread. */
  parentId: string | null;
  /** The starting point that its thread is about; null for the subject itself. */
  topicId: string | null;
  /** When it was put in, ms since 1970. */
  atMs: number;
  /** Length of what was spoken, in ms; null for what is only written. */
  durationMs: number | null;
}

/** Something said, with how deep it lies under what began its thread (0). */
export interface Placed<T extends Said> {
  said: T;
  depth: number;
}

/** What began with one contribution: first it, then each reply with what replies to it, oldest first. */
export interface Thread<T extends Said> {
  topicId: string | null;
  root: T;
  /** The root as well, first of all. */
  in: Placed<T>[];
}

const byTime = (a: Said, b: Said) => a.atMs - b.atMs || (a.id < b.id ? -1 : 1);

/**
 * The threads of a discussion in the order in which it is heard: by starting point in their order (the subject first),
 * then by when they began. A reply whose parent is not among what is given begins a thread of its own.
 * @param said in any order
 * @param topicIds starting points in order; what belongs to none of them comes with the subject
 */
export function threadsOf<T extends Said>(said: readonly T[], topicIds: readonly string[]): Thread<T>[] {
  const known = new Set(said.map(s => s.id));
  const replies = new Map<string, T[]>();
  const roots: T[] = [];
  for (const one of [...said].sort(byTime)) {
    if (one.parentId === null || !known.has(one.parentId)) roots.push(one);
    else replies.set(one.parentId, [...(replies.get(one.parentId) ?? []), one]);
  }
  const placeOf = (topicId: string | null) => (topicId === null ? -1 : topicIds.indexOf(topicId));
  return roots
    .sort((a, b) => placeOf(a.topicId) - placeOf(b.topicId) || byTime(a, b))
    .map(root => {
      const placed: Placed<T>[] = [];
      // Deep threads are walked without recursion: a dialogue of two may be hundreds of replies long.
      const waiting: Placed<T>[] = [{ said: root, depth: 0 }];
      for (let next = waiting.pop(); next; next = waiting.pop()) {
        placed.push(next);
        const { depth } = next;
        waiting.push(
          ...(replies.get(next.said.id) ?? []).map(reply => ({ said: reply, depth: depth + 1 })).reverse(),
        );
      }
      return { topicId: placeOf(root.topicId) < 0 ? null : root.topicId, root, in: placed };
    });
}

/** Everything in the order in which it is heard from top to bottom. */
export function inHearingOrder<T extends Said>(said: readonly T[], topicIds: readonly string[]): T[] {
  return threadsOf(said, topicIds).flatMap(thread => thread.in.map(p => p.said));
}

/** What one person gave to a discussion. */
export interface Given {
  /** Contributions that begin a thread. */
  contributions: number;
  /** Replies to somebody else. Whoever goes on with their own words replies to nobody. */
  replies: number;
  /** How long they spoke, in ms. */
  spokenMs: number;
}

/** What somebody gave, as far as it is in `said`. */
export function givenBy(said: readonly Said[], personId: string): Given {
  const authors = new Map(said.map(s => [s.id, s.authorId]));
  const own = said.filter(s => s.authorId === personId);
  return {
    contributions: own.filter(s => s.parentId === null).length,
    // A parent that is not here any more was somebody's; one cannot have meant to be alone.
    replies: own.filter(s => s.parentId !== null && authors.get(s.parentId) !== personId).length,
    spokenMs: own.reduce((sum, s) => sum + (s.durationMs ?? 0), 0),
  };
}

/** What is asked of everybody; 0 asks for none. */
export interface AskedOf {
  contributionsAsked: number;
  repliesAsked: number;
}

/** Whether somebody has given all that is asked; false where nothing is asked, for then nothing says that it is all. */
export function isEnough(given: Given, asked: AskedOf): boolean {
  if (asked.contributionsAsked + asked.repliesAsked === 0) return false;
  return given.contributions >= asked.contributionsAsked && given.replies >= asked.repliesAsked;
}

/** One person's replies to another. */
export interface Exchange<T extends Said> {
  from: string;
  to: string;
  /** Oldest first. */
  replies: T[];
}

/** Who answers whom: the most replies first. Whoever goes on with their own words answers nobody. */
export function exchangesOf<T extends Said>(said: readonly T[]): Exchange<T>[] {
  const authors = new Map(said.map(s => [s.id, s.authorId]));
  const found = new Map<string, Exchange<T>>();
  for (const one of [...said].sort(byTime)) {
    const to = one.parentId === null ? undefined : authors.get(one.parentId);
    if (to === undefined || to === one.authorId) continue;
    const key = `${one.authorId} ${to}`;
    const known = found.get(key) ?? { from: one.authorId, to, replies: [] };
    known.replies.push(one);
    found.set(key, known);
  }
  return [...found.values()].sort((a, b) => b.replies.length - a.replies.length);
}

/** A thread is quiet when nobody has said anything in it for this long. In ms. */
export const QUIET_AFTER_MS = 2 * 24 * 3_600_000;

/** Threads in which somebody is left without an answer: nothing but what began them, for longer than `afterMs`. */
export function unanswered<T extends Said>(
  threads: readonly Thread<T>[],
  nowMs: number,
  afterMs = QUIET_AFTER_MS,
): Thread<T>[] {
  return threads.filter(t => t.in.length === 1 && nowMs - t.root.atMs >= afterMs);
}

/** Contributions are due so long before the replies to them; ms since 1970. */
export function contributeByMs(dueAtMs: number, daysBefore: number): number {
  return dueAtMs - daysBefore * 24 * 3_600_000;
}
