/** Rows that go from one sitting to another when only some of its items are recorded again. */
import type { SittingEventKind } from '@ecoute/contract/sittings';
import { execute, type Queryable } from '../../platform/database';
import type { SittingRow } from './store';

/** Where what belongs to one item of a sitting is kept. Notes belong to takes, and go where these go. */
const OF_ITEMS = ['takes', 'written_answers', 'self_assessments', 'marks', 'praise', 'markups'] as const;

/** Passes and ticks are in the account; it stays whole, and the later sitting gets what it needs of it. */
export const STANDING_EVENTS: readonly SittingEventKind[] = ['passed', 'passTakenBack', 'studied'];

/** Moves answers, and what was said of them, of all items but the open ones. */
export async function moveStanding(
  db: Queryable,
  { from, to, openItems }: { from: string; to: string; openItems: readonly string[] },
): Promise<void> {
  for (const table of OF_ITEMS)
    await execute(
      db,
      // What a student says of the whole is kept under the sitting's own id: that is said anew.
      `UPDATE ${table} SET sitting_id = :to
       WHERE sitting_id = :from AND item_id NOT IN (:openItems) AND item_id <> :from`,
      { from, to, openItems },
    );
}

/** Notes in a later sitting what stands without an answer: passes, ticks. */
export async function copyStandingEvents(
  db: Queryable,
  { from, to, openItems }: { from: string; to: string; openItems: readonly string[] },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO sitting_events (id, sitting_id, item_id, kind, at, received_at)
     SELECT UUID(), :to, item_id, kind, at, received_at FROM sitting_events
     WHERE sitting_id = :from AND item_id IS NOT NULL AND item_id NOT IN (:openItems) AND kind IN (:kinds)`,
    { from, to, openItems, kinds: STANDING_EVENTS },
  );
}

/** Why a sitting is made once more, what is open in it, and from which the rest stands. */
export async function keepAgain(db: Queryable, before: SittingRow, id: string): Promise<void> {
  await execute(
    db,
    'UPDATE sittings SET again_for = :reason, open_items = :open, stands_from = :from WHERE id = :id',
    {
      id,
      reason: before.askedFor,
      open: before.askedItems && JSON.stringify(before.askedItems),
      from: before.askedItems && before.id,
    },
  );
}
