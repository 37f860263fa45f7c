import type { BankComment, BankLately, Topic } from '@ecoute/contract/commentBank';
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
  topic: {
    id: string;
    ownerId: string;
    departmentId: string | null;
    name: string;
    praise: boolean;
    importId?: string;
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO comment_topics (id, owner_id, department_id, name, praise, import_id, position, created_at)
     SELECT :id, :ownerId, :departmentId, :name, :praise, :importId, COALESCE(MAX(position), 0) + 1, UTC_TIMESTAMP(3)
     FROM comment_topics WHERE owner_id = :ownerId`,
    { importId: null, ...topic },
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
    used?: number;
    importId?: string;
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO bank_comments (id, topic_id, words, link, voice_id, position, used, made_by, import_id, updated_at)
     VALUES (:id, :topicId, :words, :link, :voiceId, :position, :used, :by, :importId, UTC_TIMESTAMP(3))`,
    { used: 0, importId: null, ...comment },
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

/** Takes a comment away, or puts it back. */
export async function removeComment(db: Queryable, id: string, removed: boolean): Promise<void> {
  await execute(
    db,
    `UPDATE bank_comments SET removed_at = ${removed ? 'UTC_TIMESTAMP(3)' : 'NULL'} WHERE id = :id`,
    { id },
  );
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

/** The place behind all comments of a topic. */
export async function nextPosition(db: Queryable, topicId: string): Promise<number> {
  const found = await row<{ n: number | null }>(
    db,
    'SELECT MAX(position) AS n FROM bank_comments WHERE topic_id = :topicId AND removed_at IS NULL',
    { topicId },
  );
  return found?.n == null ? 0 : Number(found.n) + 1;
}

/** One who changes a whole bank at a time: a file read in twice at once comes in once. */
export async function lockBank(db: Queryable, personId: string): Promise<void> {
  await row(db, 'SELECT id FROM people WHERE id = :personId FOR UPDATE', { personId });
}

export function departmentsOf(db: Queryable, personId: string): Promise<{ id: string; name: string }[]> {
  return rows(
    db,
    `SELECT d.id, d.name FROM departments d JOIN department_members m ON m.department_id = d.id
     WHERE m.person_id = :personId ORDER BY d.name, d.id`,
    { personId },
  );
}

/** Of these, the clips that a teacher may put beside a comment: spoken by themselves, or in a bank they read. */
export async function usableClips(
  db: Queryable,
  personId: string,
  ids: readonly string[],
): Promise<Set<string>> {
  if (ids.length === 0) return new Set();
  const found = await rows<{ id: string }>(
    db,
    `SELECT r.id FROM recordings r WHERE r.id IN (:ids) AND r.purpose = 'clip' AND (r.owner_id = :personId
       OR EXISTS (SELECT 1 FROM bank_comments c JOIN comment_topics t ON t.id = c.topic_id
                  WHERE c.voice_id = r.id AND c.removed_at IS NULL AND ${READABLE}))`,
    { ids, personId },
  );
  return new Set(found.map(r => r.id));
}

export async function insertImport(
  db: Queryable,
  made: { id: string; ownerId: string; fileName: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO bank_imports (id, owner_id, file_name, made_at)
     VALUES (:id, :ownerId, :fileName, UTC_TIMESTAMP(3))`,
    made,
  );
}

/**
 * Takes out what a file brought: its comments, and those of its topics that hold nothing else by now.
 * @returns whether there was such an import of this person's
 */
export async function undoImport(db: Queryable, ownerId: string, id: string): Promise<boolean> {
  const own = await row(db, 'SELECT id FROM bank_imports WHERE id = :id AND owner_id = :ownerId FOR UPDATE', {
    id,
    ownerId,
  });
  if (!own) return false;
  // Of a department that one has left, nothing is taken away any more.
  await execute(
    db,
    `UPDATE bank_comments c JOIN comment_topics t ON t.id = c.topic_id SET c.removed_at = UTC_TIMESTAMP(3)
     WHERE c.import_id = :id AND c.removed_at IS NULL AND ${READABLE}`,
    { id, personId: ownerId },
  );
  await execute(
    db,
    `UPDATE comment_topics t SET t.removed_at = UTC_TIMESTAMP(3) WHERE t.import_id = :id AND ${READABLE}
       AND NOT EXISTS (SELECT 1 FROM bank_comments c WHERE c.topic_id = t.id AND c.removed_at IS NULL)`,
    { id, personId: ownerId },
  );
  await execute(db, 'UPDATE bank_imports SET undone_at = UTC_TIMESTAMP(3) WHERE id = :id', { id });
  return true;
}

/** What came in and what was taken away in the last thirty days, newest first; what is taken out again by an import's undo is not named. */
export async function latelyOf(db: Queryable, personId: string): Promise<BankLately> {
  const since = 'UTC_TIMESTAMP(3) - INTERVAL 30 DAY';
  const removable = READABLE.replace('t.removed_at IS NULL', 'TRUE');
  const imports = await rows<{
    id: string;
    fileName: string;
    madeAt: Date;
    comments: number;
    topics: number;
  }>(
    db,
    `SELECT i.id, i.file_name AS fileName, i.made_at AS madeAt,
       (SELECT COUNT(*) FROM bank_comments c WHERE c.import_id = i.id AND c.removed_at IS NULL) AS comments,
       (SELECT COUNT(*) FROM comment_topics t WHERE t.import_id = i.id AND t.removed_at IS NULL) AS topics
     FROM bank_imports i WHERE i.owner_id = :personId AND i.undone_at IS NULL AND i.made_at > ${since}
     ORDER BY i.made_at DESC LIMIT 5`,
    { personId },
  );
  const topics = await rows<{ id: string; name: string; comments: number; removedAt: Date }>(
    db,
    `SELECT t.id, t.name, t.removed_at AS removedAt,
       (SELECT COUNT(*) FROM bank_comments c WHERE c.topic_id = t.id AND c.removed_at IS NULL) AS comments
     FROM comment_topics t LEFT JOIN bank_imports i ON i.id = t.import_id
     WHERE t.removed_at > ${since} AND i.undone_at IS NULL AND ${removable} ORDER BY t.removed_at DESC LIMIT 20`,
    { personId },
  );
  const comments = await rows<{
    id: string;
    topicId: string;
    topicName: string;
    words: string;
    removedAt: Date;
  }>(
    db,
    `SELECT c.id, t.id AS topicId, t.name AS topicName, c.words, c.removed_at AS removedAt
     FROM bank_comments c JOIN comment_topics t ON t.id = c.topic_id LEFT JOIN bank_imports i ON i.id = c.import_id
     WHERE c.removed_at > ${since} AND i.undone_at IS NULL AND ${READABLE} ORDER BY c.removed_at DESC LIMIT 50`,
    { personId },
  );
  return {
    imports: imports
      .filter(i => Number(i.comments) > 0)
      .map(i => ({
        ...i,
        comments: Number(i.comments),
        topics: Number(i.topics),
        madeAt: i.madeAt.toISOString(),
      })),
    topics: topics.map(x => ({ ...x, comments: Number(x.comments), removedAt: x.removedAt.toISOString() })),
    comments: comments.map(c => ({ ...c, removedAt: c.removedAt.toISOString() })),
  };
}
