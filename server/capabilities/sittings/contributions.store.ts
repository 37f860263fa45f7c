/** What discussions count of a sitting: a talk is one answer, however often somebody spoke in it. */
import { contributionStands } from '../../platform/access/contributions.store';
import { row, rows, type Queryable } from '../../platform/database';

/** A sitting's part in a discussion. */
export interface TalkFacts {
  sittingId: string;
  /** The talk. */
  itemId: string;
  /** Contributions that stand; drafts and what was taken back, corrected or hidden do not. */
  count: number;
  /** How long they are together, in ms. */
  spokenMs: number;
}

/** Of those of some sittings that belong to discussions, what was said in them. */
export async function talkFacts(
  db: Queryable,
  sittingIds: readonly string[],
): Promise<Map<string, TalkFacts>> {
  if (sittingIds.length === 0) return new Map();
  const stands = contributionStands('c', 'x');
  const found = await rows<TalkFacts>(
    db,
    `SELECT c.sitting_id AS sittingId, c.item_id AS itemId, COALESCE(SUM(${stands}), 0) AS count,
       COALESCE(SUM(IF(${stands}, x.duration_ms, 0)), 0) AS spokenMs
     FROM contributions c LEFT JOIN recordings x ON x.id = c.voice_id
     WHERE c.sitting_id IN (:sittingIds) GROUP BY c.sitting_id, c.item_id`,
    { sittingIds },
  );
  return new Map(
    found.map(f => [f.sittingId, { ...f, count: Number(f.count), spokenMs: Number(f.spokenMs) }]),
  );
}

/** Since when a take is in a discussion, and heard there; also one that was taken back since. Null for any other take, and a draft. */
export async function putInWhen(
  db: Queryable,
  takeId: string,
): Promise<{ putInAt: Date; letInAt: Date | null } | null> {
  return row(
    db,
    `SELECT put_in_at AS putInAt, let_in_at AS letInAt FROM contributions
     WHERE id = :takeId AND put_in_at IS NOT NULL FOR UPDATE`,
    { takeId },
  );
}
