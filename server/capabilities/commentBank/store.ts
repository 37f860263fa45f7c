import type { BankComment, Topic } from '@ecoute/contract/commentBank';
import { row, rows, execute, type Queryable } from '../../platform/database';

const READABLE = `t.removed_at IS NULL AND ((t.department_id IS NULL AND t.owner_id = :personId)
  OR t.department_id IN (SELECT department_id FROM department_members WHERE person_id = :personId))`;

/** Everything that a teacher may put in: their own topics and those of their departments, each in its order. */
export async function topicsOf(db: Queryable, personId: string): Promise<Topic[]> {
  const topics = await rows<Omit<Topic, 'comments' | 'praise'> & { praise: number }>(
    db,
    `SELECT t.id, t.name, t.praise, t.department_id AS departmentId, d.name AS departmentName
     FROM comment_topics t LEFT JOIN departments d ON d.id = t.department_id
     WHERE ${READABLE} ORDER BY t.department_id IS NOT NULL, t.position, t.created_at, t.id LIMIT 1000`,
    { personId },
  );
  if (topics.length === 0) return [];
  const comments = await rows<BankComment & { topicId: string }>(
    db,
    `SELECT c.id, c.topic_id AS topicId, c.words, c.link, c.voice_id AS voiceId, v.duration_ms AS voiceMs,
       v.state AS voiceState, c.used
     FROM bank_comments c LEFT JOIN recordings v ON v.id = c.voice_id
     WHERE c.removed_at IS NULL AND c.topic_id IN (:ids) ORDER BY c.topic_id, c.position, c.id`,
    { ids: topics.map(t => t.id) },
  );
  const byTopic = new Map<string, BankComment[]>();
  for (const { topicId, ...comment } of comments)
    byTopic.set(topicId, [...(byTopic.get(topicId) ?? []), comment]);
  return topics.map(t => ({ ...t, praise: Boolean(t.praise), comments: byTopic.get(t.id) ?? [] }));
}

/** A comment that a teacher may put in. */
export async function readableComment(
  db: Queryable,
  personId: string,
  id: string,
): Promise<{ id: string; topicId: string; voiceId: string | null } | null> {
  return row(
    db,
    `SELECT c.id, c.topic_id AS topicId, c.voice_id AS voiceId
     FROM bank_comments c JOIN comment_topics t ON t.id = c.topic_id
     WHERE c.id = :id AND c.removed_at IS NULL AND ${READABLE}`,
    { personId, id },
  );
}

export async function isMember(db: Queryable, departmentId: string, personId: string): Promise<boolean> {
  return (
    (await row(
      db,
      'SELECT 1 FROM department_members WHERE department_id = :departmentId AND person_id = :personId',
      { departmentId, personId },
    )) !== null
  );
}

export async function countComments(db: Queryable, topicId: string): Promise<number> {
  const found = await row<{ n: number }>(
    db,
    'SELECT COUNT(*) AS n FROM bank_comments WHERE topic_id = :topicId AND removed_at IS NULL',
    { topicId },
  );
  return Number(found?.n ?? 0);
}

export async function insertTopic(
  db: Queryable,
  topic: { id: string; ownerId: string; departmentId: string | null; name: string; praise: boolean },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO comment_topics (id, owner_id, department_id, name, praise, position, created_at)
     SELECT :id, :ownerId, :departmentId, :name, :praise, COALESCE(MAX(position), 0) + 1, UTC_TIMESTAMP(3)
     FROM comment_topics WHERE owner_id = :ownerId`,
    topic,
  );
}

export async function renameTopic(db: Queryable, id: string, name: string): Promise<void> {
  await execute(db, 'UPDATE comment_topics SET name = :name WHERE id = :id', { id, name });
}

/** Takes a topic away, or puts it back; its comments stay stored. */
export async function removeTopic(db: Queryable, id: string, removed: boolean): Promise<void> {
  await execute(
    db,
    `UPDATE comment_topics SET removed_at = ${removed ? 'UTC_TIMESTAMP(3)' : 'NULL'} WHERE id = :id`,
    { id },
  );
}

export async function placeTopic(db: Queryable, id: string, position: number): Promise<void> {
  await execute(db, 'UPDATE comment_topics SET position = :position WHERE id = :id', { id, position });
}

export async function insertComment(
  db: Queryable,
  comment: {
    id: string;
    topicId: string;
    words: string;
    link: string;
    voiceId: string | null;
    position: number;
    by: string;
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO bank_comments (id, topic_id, words, link, voice_id, position, made_by, updated_at)
     VALUES (:id, :topicId, :words, :link, :voiceId, :position, :by, UTC_TIMESTAMP(3))`,
    comment,
  );
}

export async function rewordComment(
  db: Queryable,
  comment: { id: string; words: string; link: string; voiceId: string | null },
): Promise<void> {
  await execute(
    db,
    `UPDATE bank_comments SET words = :words, link = :link, voice_id = :voiceId, removed_at = NULL,
       updated_at = UTC_TIMESTAMP(3) WHERE id = :id`,
    comment,
  );
}

export async function placeComment(
  db: Queryable,
  at: { id: string; topicId: string; position: number },
): Promise<void> {
  await execute(db, 'UPDATE bank_comments SET topic_id = :topicId, position = :position WHERE id = :id', at);
}

export async function removeComment(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE bank_comments SET removed_at = UTC_TIMESTAMP(3) WHERE id = :id', { id });
}

export async function countUse(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE bank_comments SET used = used + 1 WHERE id = :id', { id });
}

/** A comment whatever its state. */
export async function findComment(db: Queryable, id: string) {
  return row<{ id: string; topicId: string; voiceId: string | null }>(
    db,
    'SELECT id, topic_id AS topicId, voice_id AS voiceId FROM bank_comments WHERE id = :id FOR UPDATE',
    { id },
  );
}
