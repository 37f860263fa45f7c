import type { Listener, ListenTo } from '@ecoute/contract/marking';
import type { Me } from '@ecoute/contract/people';
import { insertChange } from '../../platform/changes/store';
import type { Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import * as store from './store';

/** Who listens to what just now, so that two teachers at the same sitting know of each other. */
export class Listeners {
  constructor(private readonly pool: Pool) {}

  /** Says where a teacher is; said again every few seconds. @returns the others */
  async here(teacher: Me, releaseId: string, { sittingId, leaves }: ListenTo): Promise<Listener[]> {
    const at = { releaseId, personId: teacher.id };
    if (sittingId && !(await store.isOf(this.pool, releaseId, sittingId))) throw notFound();
    if (leaves) await store.removeListener(this.pool, at);
    const news = leaves || (await store.keepListener(this.pool, { ...at, sittingId: sittingId ?? null }));
    const others = await store.listenersOf(this.pool, at);
    // Only the others' pages have something to learn from it.
    if (news)
      for (const other of others)
        await insertChange(this.pool, {
          kind: 'listening',
          subjectId: releaseId,
          classId: null,
          personId: other.personId,
        });
    return others;
  }
}
