/**
 * A sitting made because its teacher asked to record some items again: those are open in it, the others stand as they were.
 * Until it is handed in, what stands lies in the earlier sitting, which counts until then, and is only shown in this one.
 */
import type { Queryable } from '../../platform/database';
import { Trouble } from '../../platform/trouble';
import * as store from './again.store';
import * as answers from './answers.store';
import * as events from './events.store';
import { refreshFacts } from './facts';
import type { SittingRow } from './store';

type Again = Pick<SittingRow, 'id' | 'openItems' | 'standsFrom' | 'handedInAt'>;

/** What stands goes along with a hand-in, and back when it is taken back or counts for nothing. */
export async function moveWhatStands(
  db: Queryable,
  { id, openItems, standsFrom }: Again,
  way: 'forth' | 'back',
): Promise<void> {
  if (!openItems || !standsFrom) return;
  const [from, to] = way === 'forth' ? [standsFrom, id] : [id, standsFrom];
  await store.moveStanding(db, { from, to, openItems });
  if (way === 'forth') await store.copyStandingEvents(db, { from, to, openItems });
  await refreshFacts(db, [from, to]);
}

/** What stands from the earlier sitting, to be seen in one that is not handed in yet. */
export async function whatStands(db: Queryable, { openItems, standsFrom, handedInAt }: Again) {
  if (!openItems || !standsFrom || handedInAt) return { takes: [], written: [], judgements: [], events: [] };
  const standing = <T extends { itemId: string | null }>(of: readonly T[]) =>
    of.filter(x => x.itemId !== null && x.itemId !== standsFrom && !openItems.includes(x.itemId));
  return {
    takes: standing(await answers.takesOfSittings(db, [standsFrom])),
    written: standing(await answers.writtenOf(db, [standsFrom])),
    judgements: standing(await answers.judgementsOf(db, [standsFrom])),
    events: standing(await events.eventsOf(db, standsFrom)).filter(e =>
      store.STANDING_EVENTS.includes(e.kind),
    ),
  };
}

/** @throws Trouble notForThisItem for an item that stands as it was */
export function refuseWhatStands({ openItems }: Pick<SittingRow, 'openItems'>, itemId: string): void {
  if (openItems && !openItems.includes(itemId))
    throw new Trouble(
      'notForThisItem',
      'This answer stands as it was. Your teacher asked for other items to be recorded again.',
    );
}
