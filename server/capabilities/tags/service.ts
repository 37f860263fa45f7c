import { randomUUID } from 'node:crypto';
import type { Me } from '@ecoute/contract/people';
import type { NewTagList, TagList } from '@ecoute/contract/tags';
import { transaction, type Pool } from '../../platform/database';
import * as store from './store';

/** Lists of can-do statements and standards: a teacher's own, and those of the departments they belong to. */
export class Tags {
  constructor(private readonly pool: Pool) {}

  lists(teacher: Me): Promise<TagList[]> {
    return store.listsOf(this.pool, teacher.id);
  }

  /** Stores a list whole; statements keep the order in which they came. */
  async make(teacher: Me, { name, statements }: NewTagList): Promise<TagList[]> {
    await transaction(this.pool, async db => {
      const id = randomUUID();
      await store.insertList(db, { id, ownerId: teacher.id, name: name.trim() });
      await store.insertTags(
        db,
        statements.map(({ code, words }, place) => ({
          listId: id,
          place,
          code: code.trim(),
          words: words.trim(),
        })),
      );
    });
    return this.lists(teacher);
  }

  /** Tags that were put on items stay there: they were copied. */
  async remove(teacher: Me, id: string): Promise<TagList[]> {
    await store.deleteList(this.pool, id);
    return this.lists(teacher);
  }
}
