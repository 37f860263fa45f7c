import type { KeptRubric } from '@ecoute/contract/rubrics';
import type { Rubric } from '@ecoute/contract/assessments';
import { execute, rows, type Queryable } from '../../platform/database';

/** More than anybody keeps. */
const MOST = 300;

/** By name; those that were taken off the shelf last. */
export async function rubricsOf(db: Queryable, ownerId: string): Promise<KeptRubric[]> {
  const found = await rows<{
    id: string;
    name: string;
    rubric: string;
    shown: number;
    keptAt: Date;
    takenAt: Date | null;
  }>(
    db,
    `SELECT id, name, rubric, shown, kept_at AS keptAt, taken_at AS takenAt FROM rubrics
     WHERE owner_id = :ownerId ORDER BY taken_at IS NOT NULL, taken_at DESC, name, kept_at LIMIT ${MOST}`,
    { ownerId },
  );
  return found.map(r => ({
    ...r,
    rubric: JSON.parse(r.rubric) as Rubric,
    shown: Boolean(r.shown),
    keptAt: r.keptAt.toISOString(),
    takenAt: r.takenAt?.toISOString() ?? null,
  }));
}

/** Another version under the same name takes the place of the one that is on the shelf, which is taken off and can be put back. */
export async function insertRubric(
  db: Queryable,
  kept: { id: string; ownerId: string; name: string; rubric: Rubric; shown: boolean },
): Promise<void> {
  await execute(
    db,
    'UPDATE rubrics SET taken_at = UTC_TIMESTAMP(3) WHERE owner_id = :ownerId AND name = :name AND taken_at IS NULL',
    { ownerId: kept.ownerId, name: kept.name },
  );
  await execute(
    db,
    `INSERT INTO rubrics (id, owner_id, name, rubric, shown, kept_at)
     VALUES (:id, :ownerId, :name, :rubric, :shown, UTC_TIMESTAMP(3))`,
    { ...kept, rubric: JSON.stringify(kept.rubric) },
  );
}

/** @returns whether it is the owner's */
export async function takeRubric(
  db: Queryable,
  which: { id: string; ownerId: string; taken: boolean },
): Promise<boolean> {
  const touched = await execute(
    db,
    `UPDATE rubrics SET taken_at = IF(:taken, COALESCE(taken_at, UTC_TIMESTAMP(3)), NULL)
     WHERE id = :id AND owner_id = :ownerId`,
    which,
  );
  return touched > 0;
}
