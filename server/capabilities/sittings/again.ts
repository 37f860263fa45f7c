/** A sitting made because its teacher asked to record some items again: those are open in it, the others stand as they were. */
import type { Queryable } from '../../platform/database';
import { Trouble } from '../../platform/trouble';
import { keepAgain, moveStanding } from './again.store';
import { refreshFacts } from './facts';
import type { SittingRow } from './store';

/**
 * Hands what stands from one sitting over to another: answers, and what was said of them.
 * @param openItems items that do not go: they are recorded again
 */
export async function handOverStanding(
  db: Queryable,
  { from, to, openItems }: { from: string; to: string; openItems: readonly string[] },
): Promise<void> {
  await moveStanding(db, { from, to, openItems });
  await refreshFacts(db, [from, to]);
}

/** Begins a sitting that was asked for: what was not asked for stands in it. @param before the one that is recorded again */
export async function beginAgain(db: Queryable, before: SittingRow, id: string): Promise<void> {
  await keepAgain(db, before, id);
  if (before.askedItems)
    await handOverStanding(db, { from: before.id, to: id, openItems: before.askedItems });
}

/** @throws Trouble notForThisItem for an item that stands as it was */
export function refuseWhatStands({ openItems }: Pick<SittingRow, 'openItems'>, itemId: string): void {
  if (openItems && !openItems.includes(itemId))
    throw new Trouble(
      'notForThisItem',
      'This answer stands as it was. Your teacher asked for other items to be recorded again.',
    );
}
