/** What is said to one student again and again. */

export interface Said {
  words: string;
  /** Which sitting it was said of. */
  sittingId: string;
  at: string;
}

export interface Recurring {
  /** As it was said last. */
  words: string;
  /** In how many sittings. */
  sittings: number;
  firstAt: string;
  lastAt: string;
  sittingIds: string[];
}

/** Shorter sentences (“Good.”) say nothing by coming back. In letters. */
const LEAST_LETTERS = 8;

const sentences = new Intl.Segmenter(undefined, { granularity: 'sentence' });

/** What is left of a sentence when names, times and signs are taken out: the same remark to another one is the same. */
function keyOf(sentence: string, names: readonly string[]): string {
  let plain = ` ${sentence.toLocaleLowerCase().normalize('NFKD')} `;
  for (const name of names)
    if (name) plain = plain.replaceAll(name.toLocaleLowerCase().normalize('NFKD'), ' ');
  return plain
    .replace(/\d+([:.,]\d+)*/g, ' ')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
}

/**
 * Sentences that were said of at least two sittings, those said most often first.
 * @param names what the student is called; a sentence is the same with and without
 */
export function recurringOf(all: readonly Said[], names: readonly string[]): Recurring[] {
  const found = new Map<string, Recurring>();
  for (const { words, sittingId, at } of all.toSorted((a, b) => (a.at < b.at ? -1 : 1)))
    for (const { segment } of sentences.segment(words)) {
      const key = keyOf(segment, names);
      if (key.replaceAll(' ', '').length < LEAST_LETTERS) continue;
      const known = found.get(key) ?? { words: '', sittings: 0, firstAt: at, lastAt: at, sittingIds: [] };
      known.words = segment.trim();
      known.lastAt = at;
      if (!known.sittingIds.includes(sittingId)) {
        known.sittingIds.push(sittingId);
        known.sittings += 1;
      }
      found.set(key, known);
    }
  return [...found.values()]
    .filter(r => r.sittings > 1)
    .sort((a, b) => b.sittings - a.sittings || (a.lastAt < b.lastAt ? 1 : -1));
}
