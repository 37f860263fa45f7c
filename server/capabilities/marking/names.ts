import { createHash } from 'node:crypto';
import type { Queryable } from '../../platform/database';
import { participantsOf } from './store';

/**
 * What students are called while their names are hidden: a number that says nothing of the name, its place in the
 * alphabet or the order of hand-in, and stays the same as long as nobody joins.
 * @returns null where the release shows names
 */
export async function codeNames(
  db: Queryable,
  release: { id: string; namesHidden: boolean },
): Promise<((personId: string) => string) | null> {
  if (!release.namesHidden) return null;
  const shuffled = (await participantsOf(db, release.id))
    .map(id => ({ id, by: createHash('sha256').update(`${release.id} ${id}`).digest('hex') }))
    .sort((a, b) => (a.by < b.by ? -1 : 1));
  const numbers = new Map(shuffled.map(({ id }, i) => [id, i + 1]));
  const width = String(shuffled.length).length;
  return personId => `Voice ${String(numbers.get(personId) ?? 0).padStart(width, '0')}`;
}
