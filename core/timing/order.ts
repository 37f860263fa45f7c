/** The order in which one student meets the items: sections stay together, shuffling is the sitting's own and stable. */

export interface Section {
  id: string;
  title: string;
  shuffled: boolean;
}

export interface Placed {
  id: string;
  sectionId: string | null;
}

/** A run of items that belong together; `section` is null for items outside any. */
export interface Group<T> {
  section: Section | null;
  items: T[];
}

/**
 * Items gathered into their sections: each section at the place of its first item, its items in their order.
 * An id of a section that does not exist counts as none.
 */
export function groupsOf<T extends Placed>(items: readonly T[], sections: readonly Section[]): Group<T>[] {
  const groups: Group<T>[] = [];
  for (const item of items) {
    const section = sections.find(s => s.id === item.sectionId) ?? null;
    const known = section && groups.find(g => g.section?.id === section.id);
    const last = groups.at(-1);
    if (known) known.items.push(item);
    else if (!section && last && last.section === null) last.items.push(item);
    else groups.push({ section, items: [item] });
  }
  return groups;
}

/** FNV-1a, 32 bit (Fowler, Noll and Vo): a seed from any text. */
function seedOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash >>> 0;
}

/** Mulberry32, a small generator of numbers in 0…1 that is the same everywhere. */
function numbersFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** Fisher and Yates' shuffle with numbers that depend on the seed alone. */
export function shuffledBy<T>(list: readonly T[], seed: string): T[] {
  const out = [...list];
  const next = numbersFrom(seedOf(seed));
  for (let i = out.length - 1; i > 0; i--) {
    const j = Math.floor(next() * (i + 1));
    [out[i], out[j]] = [out[j]!, out[i]!];
  }
  return out;
}

/**
 * Items as a sitting meets them.
 * @param seed the sitting's id: the same sitting is always in the same order
 */
export function orderOf<T extends Placed>(
  items: readonly T[],
  sections: readonly Section[],
  seed: string,
): T[] {
  return groupsOf(items, sections).flatMap(({ section, items: own }) =>
    section?.shuffled ? shuffledBy(own, `${seed} ${section.id}`) : own,
  );
}
