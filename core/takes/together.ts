/** Answers that some people give as one. Those who speak in turns do so in their order, round after round. */

/** How an item is answered by several. */
export const WAYS_TOGETHER = ['oneDevice', 'turns'] as const;
export type WayTogether = (typeof WAYS_TOGETHER)[number];

/** So many people answer as one, at most. */
export const MOST_TOGETHER = 8;

/** How many turns a run of some people has in all. */
export const turnsInAll = (people: number, turnsEach: number): number => people * turnsEach;

/**
 * Whose turn a turn is. @param number from 0
 * @throws RangeError without people
 */
export function whoseTurn<T>(people: readonly T[], number: number): T {
  if (people.length === 0) throw new RangeError('Nobody speaks here.');
  return people[number % people.length]!;
}

/** Where each turn lies in the run that they are joined to, in ms. */
export function stretchesOf<T extends { durationMs: number }>(
  turns: readonly T[],
): (T & { fromMs: number; toMs: number })[] {
  let at = 0;
  return turns.map(turn => {
    const fromMs = at;
    at += turn.durationMs;
    return { ...turn, fromMs, toMs: at };
  });
}
