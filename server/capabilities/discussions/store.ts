import type { Medium, RecordingState } from '@ecoute/contract/recordings';
import { contributionStands } from '../../platform/access/contributions.store';
import { row, rows, execute, type Queryable } from '../../platform/database';

/** Something said, with what became of its recording. */
export interface ContributionRow {
  id: string;
  releaseId: string;
  circle: number;
  sittingId: string | null;
  authorId: string;
  authorName: string;
  topicId: string | null;
  parentId: string | null;
  fromMs: number | null;
  toMs: number | null;
  correctsId: string | null;
  title: string;
  words: string;
  madeAt: Date;
  putInAt: Date | null;
  letInAt: Date | null;
  takenBackAt: Date | null;
  replacedAt: Date | null;
  hiddenAt: Date | null;
  hiddenFor: string;
  voiceId: string | null;
  voiceState: RecordingState | null;
  voiceProblem: string | null;
  durationMs: number | null;
  medium: Medium | null;
  pictureId: string | null;
}

const COLUMNS = `c.id, c.release_id AS releaseId, c.circle, c.sitting_id AS sittingId, c.author_id AS authorId,
  p.display_name AS authorName, c.topic_id AS topicId, c.parent_id AS parentId, c.from_ms AS fromMs, c.to_ms AS toMs,
  c.corrects_id AS correctsId, c.title, c.words, c.made_at AS madeAt, c.put_in_at AS putInAt, c.let_in_at AS letInAt,
  c.taken_back_at AS takenBackAt, c.replaced_at AS replacedAt, c.hidden_at AS hiddenAt, c.hidden_for AS hiddenFor,
  c.voice_id AS voiceId, x.state AS voiceState, x.problem AS voiceProblem, x.duration_ms AS durationMs, x.medium,
  t.picture_id AS pictureId`;
const FROM = `contributions c JOIN people p ON p.id = c.author_id LEFT JOIN recordings x ON x.id = c.voice_id
  LEFT JOIN takes t ON t.id = c.id`;

/** Everything of a discussion that was put in, also what is heard no more, and somebody's own drafts; oldest first. */
export async function contributionsOf(
  db: Queryable,
  releaseId: string,
  personId: string,
): Promise<ContributionRow[]> {
  return rows(
    db,
    `SELECT ${COLUMNS} FROM ${FROM} WHERE c.release_id = :releaseId AND (c.put_in_at IS NOT NULL OR c.author_id = :personId)
     ORDER BY c.put_in_at, c.id`,
    { releaseId, personId },
  );
}

/** What was put in in some sittings, also what is heard no more; oldest first. */
export async function contributionsIn(
  db: Queryable,
  sittingIds: readonly string[],
): Promise<ContributionRow[]> {
  if (sittingIds.length === 0) return [];
  return rows(
    db,
    `SELECT ${COLUMNS} FROM ${FROM} WHERE c.sitting_id IN (:sittingIds) AND c.put_in_at IS NOT NULL
     ORDER BY c.put_in_at, c.id`,
    { sittingIds },
  );
}

export async function contributionsWith(db: Queryable, ids: readonly string[]): Promise<ContributionRow[]> {
  if (ids.length === 0) return [];
  return rows(db, `SELECT ${COLUMNS} FROM ${FROM} WHERE c.id IN (:ids)`, { ids });
}

/**
 * One of them; its row is held until the transaction ends, so that putting in, a reply, taking back and the arrival of its
 * sound come one after the other. The sitting that it is part of is held first, as by everything that counts it.
 */
export async function findContribution(
  db: Queryable,
  releaseId: string,
  id: string,
): Promise<ContributionRow | null> {
  const of = await row<{ sittingId: string | null }>(
    db,
    'SELECT sitting_id AS sittingId FROM contributions WHERE id = :id',
    { id },
  );
  if (of?.sittingId) await row(db, 'SELECT 1 FROM sittings WHERE id = :id FOR UPDATE', { id: of.sittingId });
  await row(db, 'SELECT 1 FROM contributions WHERE id = :id FOR UPDATE', { id });
  const [found] = await contributionsWith(db, [id]);
  return found?.releaseId === releaseId ? found : null;
}

/** What was spoken as this recording; held, for whoever puts it in at the same moment does not see it arrive. */
export async function contributionOfVoice(db: Queryable, voiceId: string): Promise<ContributionRow | null> {
  const of = await row<{ id: string; releaseId: string }>(
    db,
    'SELECT id, release_id AS releaseId FROM contributions WHERE voice_id = :voiceId',
    { voiceId },
  );
  return of && findContribution(db, of.releaseId, of.id);
}

export interface NewRow {
  id: string;
  releaseId: string;
  circle: number;
  sittingId: string | null;
  itemId: string | null;
  authorId: string;
  voiceId: string | null;
}

/** Makes room for a contribution. The same id twice is one. */
export async function insertContribution(db: Queryable, made: NewRow): Promise<void> {
  await execute(
    db,
    `INSERT IGNORE INTO contributions (id, release_id, circle, sitting_id, item_id, author_id, voice_id, words, made_at)
     VALUES (:id, :releaseId, :circle, :sittingId, :itemId, :authorId, :voiceId, '', UTC_TIMESTAMP(3))`,
    made,
  );
}

export interface Placed {
  topicId: string | null;
  parentId: string | null;
  fromMs: number | null;
  toMs: number | null;
  correctsId: string | null;
  circle: number;
}

/** Where a contribution belongs, as long as it is a draft. */
export async function placeDraft(db: Queryable, id: string, placed: Placed): Promise<void> {
  await execute(
    db,
    `UPDATE contributions SET topic_id = :topicId, parent_id = :parentId, from_ms = :fromMs, to_ms = :toMs,
       corrects_id = :correctsId, circle = :circle WHERE id = :id AND put_in_at IS NULL`,
    { id, ...placed },
  );
}

/** Puts a draft in; what is in already stays as it is. @param isLetIn nobody has to hear it before others do */
export async function putIn(
  db: Queryable,
  id: string,
  said: { title: string; words: string; isLetIn: boolean },
): Promise<void> {
  await execute(
    db,
    `UPDATE contributions SET title = :title, words = :words, put_in_at = UTC_TIMESTAMP(3), taken_back_at = NULL,
       let_in_at = IF(:isLetIn, UTC_TIMESTAMP(3), NULL) WHERE id = :id AND put_in_at IS NULL`,
    { id, ...said },
  );
}

export async function letIn(db: Queryable, id: string): Promise<void> {
  await execute(
    db,
    'UPDATE contributions SET let_in_at = UTC_TIMESTAMP(3) WHERE id = :id AND let_in_at IS NULL AND put_in_at IS NOT NULL',
    { id },
  );
}

export async function takeBack(db: Queryable, id: string): Promise<void> {
  await execute(
    db,
    'UPDATE contributions SET taken_back_at = UTC_TIMESTAMP(3) WHERE id = :id AND taken_back_at IS NULL',
    { id },
  );
}

/** What was taken back is in again, where it was. */
export async function bringBack(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE contributions SET taken_back_at = NULL WHERE id = :id', { id });
}

/** A correction stands: what it corrects makes way for it. */
export async function replace(db: Queryable, correctedId: string): Promise<void> {
  await execute(
    db,
    'UPDATE contributions SET replaced_at = UTC_TIMESTAMP(3) WHERE id = :correctedId AND replaced_at IS NULL',
    { correctedId },
  );
}

/** @param hidden by whom and why; null shows it again */
export async function hide(
  db: Queryable,
  id: string,
  hidden: { by: string; reason: string } | null,
): Promise<void> {
  await execute(
    db,
    `UPDATE contributions SET hidden_at = IF(:by IS NULL, NULL, UTC_TIMESTAMP(3)), hidden_by = :by, hidden_for = :reason
     WHERE id = :id`,
    { id, by: hidden?.by ?? null, reason: hidden?.reason ?? '' },
  );
}

/** Whether somebody else has replied to a contribution, and that can be heard. */
export async function hasReplies(db: Queryable, id: string): Promise<boolean> {
  return (
    (await row(
      db,
      `SELECT 1 FROM contributions y JOIN contributions c ON c.id = y.parent_id
       WHERE y.parent_id = :id AND y.author_id <> c.author_id AND y.put_in_at IS NOT NULL AND y.taken_back_at IS NULL
         AND y.hidden_at IS NULL LIMIT 1`,
      { id },
    )) !== null
  );
}

/** How many contributions somebody has begun in a discussion, drafts as well. */
export async function countOf(db: Queryable, releaseId: string, personId: string): Promise<number> {
  const found = await row<{ n: number }>(
    db,
    'SELECT COUNT(*) AS n FROM contributions WHERE release_id = :releaseId AND author_id = :personId',
    { releaseId, personId },
  );
  return Number(found?.n ?? 0);
}

/** Whether somebody has contributed to a discussion, and that stands. */
export async function hasSpoken(db: Queryable, releaseId: string, personId: string): Promise<boolean> {
  return (
    (await row(
      db,
      `SELECT 1 FROM contributions c LEFT JOIN recordings x ON x.id = c.voice_id
       WHERE c.release_id = :releaseId AND c.author_id = :personId AND ${contributionStands('c', 'x')} LIMIT 1`,
      { releaseId, personId },
    )) !== null
  );
}

/** What somebody has heard of a discussion. */
export async function heardBy(db: Queryable, releaseId: string, personId: string): Promise<Set<string>> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT h.contribution_id AS id FROM contributions c JOIN contributions_heard h ON h.contribution_id = c.id
     WHERE c.release_id = :releaseId AND h.person_id = :personId`,
    { releaseId, personId },
  );
  return new Set(found.map(f => f.id));
}

/** Remembers what somebody has heard, of what belongs to the discussion. */
export async function keepHeard(
  db: Queryable,
  heard: { releaseId: string; personId: string; ids: readonly string[] },
): Promise<void> {
  if (heard.ids.length === 0) return;
  await execute(
    db,
    `INSERT IGNORE INTO contributions_heard (person_id, contribution_id, heard_at)
     SELECT :personId, id, UTC_TIMESTAMP(3) FROM contributions
     WHERE release_id = :releaseId AND id IN (:ids) AND put_in_at IS NOT NULL`,
    heard,
  );
}

/** Who is in which circle. */
export async function circlesOf(db: Queryable, releaseId: string): Promise<Map<string, number>> {
  const found = await rows<{ personId: string; circle: number }>(
    db,
    'SELECT person_id AS personId, circle FROM circles WHERE release_id = :releaseId',
    { releaseId },
  );
  return new Map(found.map(f => [f.personId, f.circle]));
}

export async function putInCircle(
  db: Queryable,
  at: { releaseId: string; personId: string; circle: number },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO circles (release_id, person_id, circle) VALUES (:releaseId, :personId, :circle)
     ON DUPLICATE KEY UPDATE circle = VALUES(circle)`,
    at,
  );
}

export async function dissolveCircles(db: Queryable, releaseId: string): Promise<void> {
  await execute(db, 'DELETE FROM circles WHERE release_id = :releaseId', { releaseId });
}

/** Holds a release until the transaction ends, so that people are shared out once. */
export async function lockRelease(db: Queryable, releaseId: string): Promise<void> {
  await row(db, 'SELECT 1 FROM releases WHERE id = :releaseId FOR UPDATE', { releaseId });
}

/** Whether somebody a discussion is for is still in its class, or its guest: whoever left it hears the others no more. */
export async function isStillIn(db: Queryable, releaseId: string, personId: string): Promise<boolean> {
  return (
    (await row(
      db,
      `SELECT 1 FROM participants p JOIN people n ON n.id = p.person_id JOIN releases r ON r.id = p.release_id
         LEFT JOIN class_members m ON m.class_id = r.class_id AND m.person_id = p.person_id AND m.role = 'student'
       WHERE p.release_id = :releaseId AND p.person_id = :personId
         AND (m.person_id IS NOT NULL OR n.guest_link_id IS NOT NULL)`,
      { releaseId, personId },
    )) !== null
  );
}

/** Everybody a discussion is for, with whether they are still in its class; by name. */
export async function peopleOf(db: Queryable, releaseId: string) {
  return rows<{ id: string; name: string; excused: number; remindedAt: Date | null; inClass: number }>(
    db,
    `SELECT p.person_id AS id, n.display_name AS name, p.excused, p.reminded_at AS remindedAt,
       m.person_id IS NOT NULL OR n.guest_link_id IS NOT NULL AS inClass
     FROM participants p JOIN people n ON n.id = p.person_id JOIN releases r ON r.id = p.release_id
       LEFT JOIN class_members m ON m.class_id = r.class_id AND m.person_id = p.person_id AND m.role = 'student'
     WHERE p.release_id = :releaseId ORDER BY n.display_name, n.id`,
    { releaseId },
  );
}

/** Sittings of discussions that were due and in which something was put in, not handed in yet. Looked for from what was put in: most releases are no discussion. */
export async function dueSittings(db: Queryable): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT s.id FROM (SELECT release_id FROM contributions GROUP BY release_id) d JOIN releases r ON r.id = d.release_id
       JOIN sittings s ON s.release_id = r.id AND s.handed_in_at IS NULL
     WHERE r.due_at <= UTC_TIMESTAMP(3) AND r.due_at > UTC_TIMESTAMP(3) - INTERVAL 60 DAY
       AND EXISTS (SELECT 1 FROM contributions c WHERE c.sitting_id = s.id AND c.put_in_at IS NOT NULL AND c.taken_back_at IS NULL)
     LIMIT 500`,
  );
  return found.map(f => f.id);
}

/** How much of each of some discussions somebody has not heard yet, of what they may hear. */
export async function unheardOf(
  db: Queryable,
  releaseIds: readonly string[],
  personId: string,
): Promise<Map<string, number>> {
  if (releaseIds.length === 0) return new Map();
  const found = await rows<{ releaseId: string; n: number }>(
    db,
    `SELECT c.release_id AS releaseId, COUNT(*) AS n FROM contributions c LEFT JOIN recordings x ON x.id = c.voice_id
       LEFT JOIN circles k ON k.release_id = c.release_id AND k.person_id = :personId
       LEFT JOIN contributions_heard h ON h.contribution_id = c.id AND h.person_id = :personId
       JOIN releases r ON r.id = c.release_id JOIN people n ON n.id = :personId
       LEFT JOIN class_members m ON m.class_id = r.class_id AND m.person_id = n.id AND m.role = 'student'
     WHERE c.release_id IN (:releaseIds) AND c.author_id <> :personId AND h.person_id IS NULL
       AND (n.guest_link_id IS NOT NULL OR m.person_id IS NOT NULL)
       AND ${contributionStands('c', 'x')} AND c.let_in_at IS NOT NULL AND (c.circle = 0 OR c.circle = k.circle)
     GROUP BY c.release_id`,
    { releaseIds, personId },
  );
  return new Map(found.map(f => [f.releaseId, Number(f.n)]));
}
