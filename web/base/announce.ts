/**
 * What a screen reader is told when something changes that nobody pressed: a phase that begins, time that runs out. One place
 * for the whole page, there before anything is said in it, for a region that comes with its words is often not read.
 */
let words = '';
const listeners = new Set<() => void>();

/** Says something once, politely. The same words again are said again. */
export function announce(says: string): void {
  // A space more tells two alike apart; nobody hears it.
  words = says === words ? `${says}\u00a0` : says;
  for (const tell of listeners) tell();
}

export function onAnnounced(tell: () => void): () => void {
  listeners.add(tell);
  return () => void listeners.delete(tell);
}

export const announced = (): string => words;
