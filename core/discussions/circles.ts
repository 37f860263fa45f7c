/** Circles: people who talk among themselves, and hear nobody of another circle. Numbered from 1. */

/** How a discussion is shared out: everybody together, by the groups of the class, or by lot. */
export const CIRCLES = ['together', 'groups', 'lot'] as const;
export type CirclesBy = (typeof CIRCLES)[number];

/**
 * People in circles of a size, by lot. Nobody is alone: where they do not come out even, some circles are one larger.
 * @param size two or more
 * @param random from 0 to below 1, as Math.random
 * @returns circles of ids; one circle where there are fewer than two times the size
 */
export function byLot(personIds: readonly string[], size: number, random: () => number): string[][] {
  if (size < 2) throw new RangeError('A circle has two people at least.');
  const mixed = [...personIds];
  // Fisher and Yates, as Durstenfeld has it: each order is as likely as any other.
  for (let i = mixed.length - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [mixed[i], mixed[j]] = [mixed[j]!, mixed[i]!];
  }
  const count = Math.max(1, Math.floor(mixed.length / size));
  const circles = Array.from({ length: count }, (): string[] => []);
  mixed.forEach((id, i) => circles[i % count]!.push(id));
  return circles.filter(c => c.length > 0);
}

/**
 * The circle for somebody who comes later: the smallest one.
 * @param sizes how many are in each circle, by its number
 * @returns 1 where there is none yet
 */
export function circleForNewcomer(sizes: ReadonlyMap<number, number>): number {
  const [smallest] = [...sizes].sort((a, b) => a[1] - b[1] || a[0] - b[0]);
  return smallest?.[0] ?? 1;
}
