import type { Tag, TagList } from '@ecoute/contract/tags';
import { rows, execute, type Queryable } from '../../platform/database';

/** A teacher's own lists and those of colleagues in their departments. */
export async function listsOf(db: Queryable, teacherId: string): Promise<TagList[]> {
  const found = await rows<Tag & { listId: string; name: string }>(
    db,
    `SELECT l.id AS listId, l.name, t.code, t.words FROM tag_lists l JOIN tags t ON t.list_id = l.id
     WHERE l.owner_id = :teacherId OR l.owner_id IN (
       SELECT m.person_id FROM department_members own JOIN department_members m ON m.department_id = own.department_id
       WHERE own.person_id = :teacherId)
     ORDER BY l.name, l.id, t.place`,
    { teacherId },
  );
  const lists = new Map<string, TagList>();
  for (const { listId, name, ...tag } of found) {
    const list = lists.get(listId) ?? { id: listId, name, tags: [] };
    list.tags.push(tag);
    lists.set(listId, list);
  }
  return [...lists.values()];
}

export async function insertList(
  db: Queryable,
  list: { id: string; ownerId: string; name: string },
): Promise<void> {
  await execute(
    db,
    'INSERT INTO tag_lists (id, owner_id, name, created_at) VALUES (:id, :ownerId, :name, UTC_TIMESTAMP(3))',
    list,
  );
}

export async function insertTags(
  db: Queryable,
  tags: readonly (Tag & { listId: string; place: number })[],
): Promise<void> {
  for (const tag of tags)
    await execute(
      db,
      'INSERT INTO tags (list_id, place, code, words) VALUES (:listId, :place, :code, :words)',
      tag,
    );
}

export async function deleteList(db: Queryable, id: string): Promise<void> {
  await execute(db, 'DELETE FROM tag_lists WHERE id = :id', { id });
}
