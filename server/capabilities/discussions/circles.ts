import { byLot, circleForNewcomer } from '@ecoute/core/discussions/circles';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { ShareOut } from '@ecoute/contract/discussions';
import type { Queryable } from '../../platform/database';
import { Trouble } from '../../platform/trouble';
import { groupMembers, groupsOf } from '../classes/store';
import { participantsOf } from '../releases/participants.store';
import type { ReleaseRow } from '../releases/store';
import * as store from './store';

/** People of the groups of a class, each in the first group that has them; those in none come together last. */
async function byGroups(db: Queryable, classId: string, people: readonly string[]): Promise<string[][]> {
  const rest = new Set(people);
  const circles: string[][] = [];
  for (const { id } of await groupsOf(db, [classId])) {
    const own = (await groupMembers(db, id)).filter(p => rest.delete(p));
    if (own.length > 0) circles.push(own);
  }
  if (rest.size === 1 && circles.length > 0) circles.at(-1)!.push(...rest);
  else if (rest.size > 0) circles.push([...rest]);
  return circles;
}

async function keep(db: Queryable, releaseId: string, circles: readonly string[][]): Promise<void> {
  for (const [i, people] of circles.entries())
    for (const personId of people) await store.putInCircle(db, { releaseId, personId, circle: i + 1 });
}

/**
 * Who talks with whom. The first time anybody asks, people are shared out as the discussion says; whoever comes later joins
 * the group that they are in, or the smallest circle. Called within a transaction.
 * @returns null where everybody talks together
 */
export async function sharedOut(db: Queryable, release: ReleaseRow): Promise<Map<string, number> | null> {
  const plan = planOf(release.content);
  const known = await store.circlesOf(db, release.id);
  if (plan?.circles === 'together' && known.size === 0) return null;
  const people = await participantsOf(db, release.id);
  if (known.size > 0 && people.every(id => known.has(id))) return known;
  await store.lockRelease(db, release.id);
  const now = await store.circlesOf(db, release.id);
  const missing = people.filter(id => !now.has(id));
  if (now.size === 0) {
    const circles =
      plan?.circles === 'groups'
        ? await byGroups(db, release.classId, people)
        : byLot(people, plan?.circleSize ?? 2, Math.random);
    await keep(db, release.id, circles);
  } else
    for (const personId of missing) {
      const sizes = new Map<number, number>();
      for (const circle of now.values()) sizes.set(circle, (sizes.get(circle) ?? 0) + 1);
      // In the circle of whoever is in a group with them, where circles are groups.
      let circle: number | undefined;
      if (plan?.circles === 'groups')
        for (const { id } of await groupsOf(db, [release.classId])) {
          const members = await groupMembers(db, id);
          if (!members.includes(personId)) continue;
          circle = members.map(m => now.get(m)).find(c => c !== undefined);
          break;
        }
      const joins = circle ?? circleForNewcomer(sizes);
      now.set(personId, joins);
      await store.putInCircle(db, { releaseId: release.id, personId, circle: joins });
    }
  return store.circlesOf(db, release.id);
}

/** The circle of one of them; null where everybody talks together. */
export async function circleOf(db: Queryable, release: ReleaseRow, personId: string): Promise<number | null> {
  return (await sharedOut(db, release))?.get(personId) ?? null;
}

/**
 * Shares people out anew. What was said stays where it was said: whoever moves hears the circle that they are in now.
 * @throws Trouble invalid where somebody would be left alone, or is not in the discussion
 */
export async function shareOut(db: Queryable, release: ReleaseRow, wanted: ShareOut): Promise<void> {
  await store.lockRelease(db, release.id);
  const people = await participantsOf(db, release.id);
  if (wanted.by === 'hand') {
    const chosen = wanted.people ?? [];
    if (chosen.some(c => !people.includes(c.personId)))
      throw new Trouble('invalid', 'Somebody here is not in this discussion. Reload the page and try again.');
    for (const { personId, circle } of chosen)
      await store.putInCircle(db, { releaseId: release.id, personId, circle });
    return;
  }
  await store.dissolveCircles(db, release.id);
  if (wanted.by === 'together') {
    // Everybody in one: what the assessment says must not share them out again.
    await keep(db, release.id, [people]);
    return;
  }
  await keep(
    db,
    release.id,
    wanted.by === 'groups'
      ? await byGroups(db, release.classId, people)
      : byLot(people, wanted.size ?? 2, Math.random),
  );
}
