import { createHmac } from 'node:crypto';
import type { Queryable } from '../../platform/database';
import { namesSecretOf } from './store';
import { participantsOf } from './participants.store';

/**
 * What students are called while their names are hidden: a number that is worked out with a secret of the release, so
 * that it says nothing of the name, its place in the alphabet or the order of hand-in, and stays the same whoever joins.
 * @returns null where the release shows names
 */
export async function codeNames(
  db: Queryable,
  release: { id: string; namesHidden: boolean },
): Promise<((personId: string) => string) | null> {
  if (!release.namesHidden) return null;
  const secret = await namesSecretOf(db, release.id);
  const hashed = (await participantsOf(db, release.id))
    .map(id => ({ id, by: createHmac('sha256', secret).update(id).digest() }))
    .sort((a, b) => a.by.compare(b.by));
  const numbers = new Map<string, number>();
  const used = new Set<number>();
  for (const { id, by } of hashed) {
    // Two who fall on one number: the second takes another stretch of its own hash.
    let number = 0;
    for (let at = 0; at <= by.length - 4; at++) {
      number = 100 + (by.readUInt32BE(at) % 900);
      if (hashed.length > 300) number = 10_000 + (by.readUInt32BE(at) % 90_000);
      if (!used.has(number)) break;
    }
    while (used.has(number)) number += 1;
    used.add(number);
    numbers.set(id, number);
  }
  return personId => `Voice ${numbers.get(personId) ?? 0}`;
}
