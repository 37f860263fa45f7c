/** Somebody of a class here. */
export interface PersonHere {
  id: string;
  name: string;
  email: string | null;
  /** The school's own id, where a class list from there gave it. */
  externalId: string | null;
}

/** Somebody of a class there. */
export interface PersonThere {
  sourcedId: string;
  name: string;
  email: string;
}

const plain = (words: string) => words.trim().toLocaleLowerCase();
const only = (found: readonly PersonThere[]) => (found.length === 1 ? found[0]! : null);

/**
 * Who of a class is who in another list of it: as it was kept, else by the school's id, the mail address or the name, where
 * exactly one is left; nobody is two people.
 * @param kept ids there by ids here; those that are no longer there count as not kept
 * @returns by ids here; those who are nobody there are left out
 */
export function whoIsWho(
  here: readonly PersonHere[],
  there: readonly PersonThere[],
  kept: ReadonlyMap<string, string>,
): Map<string, { sourcedId: string; isProposed: boolean }> {
  const known = new Set(there.map(x => x.sourcedId));
  const found = new Map(
    [...kept]
      .filter(([, sourcedId]) => known.has(sourcedId))
      .map(([id, sourcedId]) => [id, { sourcedId, isProposed: false }]),
  );
  const taken = new Set([...found.values()].map(f => f.sourcedId));
  for (const { id, name, email, externalId } of here) {
    if (found.has(id)) continue;
    const free = there.filter(x => !taken.has(x.sourcedId));
    const like =
      only(free.filter(x => x.sourcedId === externalId)) ??
      only(free.filter(x => email !== null && plain(x.email) === plain(email))) ??
      only(free.filter(x => plain(x.name) === plain(name)));
    if (!like) continue;
    taken.add(like.sourcedId);
    found.set(id, { sourcedId: like.sourcedId, isProposed: true });
  }
  return found;
}
