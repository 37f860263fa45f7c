import { countingTake } from '@ecoute/core/timing/itemRun';
import type { Queryable } from '../../platform/database';
import * as store from './store';
import * as answers from './answers.store';
import { talkFacts } from './contributions.store';
import { passedItems } from './events.store';

/**
 * Works out what lists count of some sittings, from what stands: items answered, answers finished by a teacher,
 * and the length of the takes that still wait to be heard. Called by whatever changes one of these, in the same
 * transaction.
 */
export async function refreshFacts(db: Queryable, sittingIds: readonly string[]): Promise<void> {
  const done = await answers.finishedItems(db, sittingIds);
  const takes = await answers.takesOfSittings(db, sittingIds);
  const written = await answers.writtenOf(db, sittingIds);
  const passes = await passedItems(db, sittingIds);
  const talks = await talkFacts(db, sittingIds);
  for (const id of sittingIds) {
    const talk = talks.get(id);
    if (talk) {
      const isFinished = talk.count > 0 && done.has(`${id} ${talk.itemId}`);
      await store.keepFacts(db, id, {
        answered: Math.min(1, talk.count),
        finished: Number(isFinished),
        waitingMs: isFinished ? 0 : talk.spokenMs,
      });
      continue;
    }
    const own = takes.filter(t => t.sittingId === id);
    const itemIds = new Set(own.filter(t => t.stands).map(t => t.itemId));
    for (const w of written) if (w.sittingId === id) itemIds.add(w.itemId);
    let finished = 0;
    let waitingMs = 0;
    for (const itemId of itemIds) {
      if (done.has(`${id} ${itemId}`)) finished += 1;
      else {
        const take = countingTake<answers.TakeRow>(own.filter(t => t.itemId === itemId));
        // What is heard with somebody else's is heard once.
        waitingMs += take && !take.isCopy ? (take.durationMs ?? 0) : 0;
      }
    }
    // A pass is an answer in which there is nothing to hear, and nothing to finish.
    const passed = passes.filter(p => p.sittingId === id && !itemIds.has(p.itemId)).length;
    await store.keepFacts(db, id, {
      answered: itemIds.size + passed,
      finished: finished + passed,
      waitingMs,
    });
  }
}

/** Works out the facts of sittings that have none yet (made by an earlier Ecoute). */
export async function fillFacts(db: Queryable): Promise<void> {
  for (;;) {
    const ids = await store.sittingsWithoutFacts(db, 200);
    if (ids.length === 0) return;
    await refreshFacts(db, ids);
  }
}
