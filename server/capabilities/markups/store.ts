import type { MarkupKind } from '@ecoute/contract/markups';
import { row, rows, execute, type Queryable } from '../../platform/database';
import { among, type WhichSittings } from '../sittings/which.store';

export interface MarkupRow {
  id: string;
  sittingId: string;
  itemId: string;
  kind: MarkupKind;
  targetId: string;
  revision: number;
  /** JSON of a running record or a drawing; `null` in it for one that was taken away. */
  content: string;
  authorName: string;
}

const MARKUP = `SELECT m.id, m.sitting_id AS sittingId, m.item_id AS itemId, m.kind, m.target_id AS targetId, m.revision,
    m.content, p.display_name AS authorName
  FROM markups m JOIN people p ON p.id = m.author_id WHERE m.in_force = 1`;

/** What is marked in some sittings. */
export async function markupsOf(db: Queryable, sittingIds: readonly string[]): Promise<MarkupRow[]> {
  if (sittingIds.length === 0) return [];
  return rows<MarkupRow>(
    db,
    `${MARKUP} AND m.sitting_id IN (:sittingIds) AND m.content <> 'null' ORDER BY m.item_id, m.kind, m.target_id`,
    { sittingIds },
  );
}

/** What is marked in some sittings, without what it looks like. */
export async function markupsIn(
  db: Queryable,
  which: WhichSittings,
): Promise<Pick<MarkupRow, 'sittingId' | 'itemId' | 'kind'>[]> {
  const these = among('sitting_id', which);
  if (!these) return [];
  return rows(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, kind FROM markups
     WHERE in_force = 1 AND ${these.sql} AND content <> 'null'`,
    these.values,
  );
}

type Place = Pick<MarkupRow, 'sittingId' | 'itemId' | 'kind' | 'targetId'>;

/** The version that holds, also of one that was taken away. */
export async function findMarkup(db: Queryable, at: Place): Promise<MarkupRow | null> {
  return row<MarkupRow>(
    db,
    `${MARKUP} AND m.sitting_id = :sittingId AND m.item_id = :itemId AND m.kind = :kind AND m.target_id = :targetId`,
    { ...at },
  );
}

/** Puts a version in the place of the one that holds, which stays stored. */
export async function putMarkup(
  db: Queryable,
  made: Place & { id: string; revision: number; content: string; authorId: string },
): Promise<void> {
  await execute(
    db,
    `UPDATE markups SET superseded_at = UTC_TIMESTAMP(3)
     WHERE sitting_id = :sittingId AND item_id = :itemId AND kind = :kind AND target_id = :targetId AND in_force = 1`,
    made,
  );
  await execute(
    db,
    `INSERT INTO markups (id, sitting_id, item_id, kind, target_id, revision, content, author_id, created_at)
     VALUES (:id, :sittingId, :itemId, :kind, :targetId, :revision, :content, :authorId, UTC_TIMESTAMP(3))`,
    made,
  );
}
