import type { Me } from '@ecoute/contract/people';
import type { ResultsClass, SaveResultsRule } from '@ecoute/contract/results';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool } from '../../platform/database';
import * as store from './store';

/** Classes whose results somebody sees, or would see if their teachers let them. */
export async function resultsClasses(pool: Pool, teacher: Me): Promise<ResultsClass[]> {
  const found = await store.classesOf(pool, teacher.id);
  return found.map(c => ({
    ...c,
    teaches: Boolean(c.teaches),
    students: Number(c.students),
    releases: Number(c.releases),
  }));
}

/** By which rule a class's figures are added up, and who else may see them. */
export async function keepRule(pool: Pool, classId: string, wanted: SaveResultsRule): Promise<void> {
  await transaction(pool, async db => {
    await store.keepRule(db, { classId, ...wanted });
    await insertChange(db, { kind: 'class', subjectId: classId, classId, personId: null });
  });
}
