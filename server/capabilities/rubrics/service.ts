import { randomUUID } from 'node:crypto';
import type { Me } from '@ecoute/contract/people';
import type { KeptRubric, NewKeptRubric } from '@ecoute/contract/rubrics';
import { transaction, type Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import * as store from './store';

/** Rubrics that a teacher keeps under a name: nobody else's, and of no assessment's. */
export class Rubrics {
  constructor(private readonly pool: Pool) {}

  list(teacher: Me): Promise<KeptRubric[]> {
    return store.rubricsOf(this.pool, teacher.id);
  }

  async keep(teacher: Me, { name, rubric, shown }: NewKeptRubric): Promise<KeptRubric[]> {
    await transaction(this.pool, db =>
      store.insertRubric(db, { id: randomUUID(), ownerId: teacher.id, name: name.trim(), rubric, shown }),
    );
    return this.list(teacher);
  }

  /** Takes one off the shelf, or puts it back; assessments that began with it keep their own. */
  async take(teacher: Me, id: string, taken: boolean): Promise<KeptRubric[]> {
    if (!(await store.takeRubric(this.pool, { id, ownerId: teacher.id, taken }))) throw notFound();
    return this.list(teacher);
  }
}
