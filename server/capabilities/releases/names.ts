import { createHmac } from 'node:crypto';
import type { Queryable } from '../../platform/database';
import { namesSecretOf } from './store';
import { participantsOf } from './participants.store';

/**
 * Numbers that stand for students where names do not show: worked out with a secret of the release, so that they say
 * nothing of the name, its place in the alphabet or the order of hand-in, and stay the same whoever joins.
 */
export async function codeNumbers(db: Queryable, releaseId: string): Promise<Map<string, number>> {
  const secret = await namesSecretOf(db, releaseId);
  const hashed = (await participantsOf(db, releaseId))
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
  return numbers;
}

/**
 * What students are called while their names are hidden from whoever marks.
 * @returns null where the release shows names
 */
export async function codeNames(
  db: Queryable,
  release: { id: string; namesHidden: boolean },
): Promise<((personId: string) => string) | null> {
  if (!release.namesHidden) return null;
  const numbers = await codeNumbers(db, release.id);
  return personId => `Voice ${numbers.get(personId) ?? 0}`;
}
