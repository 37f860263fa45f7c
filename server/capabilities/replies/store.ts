import type { Ask, AskKind } from '@ecoute/contract/replies';
import type { RecordingState } from '@ecoute/contract/recordings';
import { row, rows, execute, type Queryable } from '../../platform/database';
import { among, type WhichSittings } from '../sittings/which.store';

export interface AskRow extends Omit<Ask, 'answeredAt'> {
  sittingId: string;
  answeredAt: Date | null;
}

const ASK = `SELECT a.id, a.sitting_id AS sittingId, a.item_id AS itemId, a.kind, a.words, p.display_name AS askedBy,
    a.answered_at AS answeredAt
  FROM asks a JOIN people p ON p.id = a.asked_by WHERE a.withdrawn_at IS NULL`;

/** What is asked for in some sittings. */
export async function asksOf(db: Queryable, which: WhichSittings): Promise<AskRow[]> {
  const these = among('a.sitting_id', which);
  if (!these) return [];
  return rows<AskRow>(db, `${ASK} AND ${these.sql} ORDER BY a.asked_at, a.id`, these.values);
}

/** Asks for something on an item, or on the whole sitting; what was asked there before, unanswered, is withdrawn. */
export async function putAsk(
  db: Queryable,
  ask: {
    id: string;
    sittingId: string;
    itemId: string | null;
    kind: AskKind | null;
    words: string;
    by: string;
  },
): Promise<void> {
  await execute(
    db,
    `UPDATE asks SET withdrawn_at = UTC_TIMESTAMP(3)
     WHERE sitting_id = :sittingId AND item_id <=> :itemId AND withdrawn_at IS NULL AND answered_at IS NULL`,
    ask,
  );
  if (ask.kind === null) return;
  await execute(
    db,
    `INSERT INTO asks (id, sitting_id, item_id, kind, words, asked_by, asked_at)
     VALUES (:id, :sittingId, :itemId, :kind, :words, :by, UTC_TIMESTAMP(3))`,
    ask,
  );
}

export interface ReplyRow {
  id: string;
  sittingId: string;
  itemId: string | null;
  askId: string | null;
  authorId: string;
  authorName: string;
  fromStudent: number;
  words: string;
  voiceId: string | null;
  voiceMs: number | null;
  voiceState: RecordingState | null;
  madeAt: Date;
  /** The teacher lets it stand without an answer. */
  settledAt: Date | null;
}

const REPLY = `SELECT r.id, r.sitting_id AS sittingId, r.item_id AS itemId, r.ask_id AS askId, r.author_id AS authorId,
    p.display_name AS authorName, r.author_id = s.student_id AS fromStudent, r.words, r.voice_id AS voiceId,
    v.duration_ms AS voiceMs, v.state AS voiceState, r.made_at AS madeAt, r.settled_at AS settledAt
  FROM replies r JOIN sittings s ON s.id = r.sitting_id JOIN people p ON p.id = r.author_id
    LEFT JOIN recordings v ON v.id = r.voice_id`;

/** What was said in some sittings, in order. */
export async function repliesOf(db: Queryable, which: WhichSittings): Promise<ReplyRow[]> {
  const these = among('r.sitting_id', which);
  if (!these) return [];
  return rows<ReplyRow>(db, `${REPLY} WHERE ${these.sql} ORDER BY r.made_at, r.id`, these.values);
}

export async function findReply(db: Queryable, id: string): Promise<ReplyRow | null> {
  return row<ReplyRow>(db, `${REPLY} WHERE r.id = :id`, { id });
}

/** The reply that a recording belongs to. */
export async function sittingOfVoice(db: Queryable, voiceId: string): Promise<string | null> {
  const found = await row<{ sittingId: string }>(
    db,
    'SELECT sitting_id AS sittingId FROM replies WHERE voice_id = :voiceId',
    { voiceId },
  );
  return found?.sittingId ?? null;
}

export async function insertReply(
  db: Queryable,
  reply: {
    id: string;
    sittingId: string;
    itemId: string | null;
    askId: string | null;
    authorId: string;
    words: string;
    voiceId: string | null;
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO replies (id, sitting_id, item_id, ask_id, author_id, words, voice_id, made_at)
     VALUES (:id, :sittingId, :itemId, :askId, :authorId, :words, :voiceId, UTC_TIMESTAMP(3))`,
    reply,
  );
}

export async function answerAsk(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE asks SET answered_at = COALESCE(answered_at, UTC_TIMESTAMP(3)) WHERE id = :id', {
    id,
  });
}

/** Works out what lists count of a sitting's asks. */
export async function countAsks(db: Queryable, sittingId: string): Promise<void> {
  await execute(
    db,
    `UPDATE sittings s SET
       asked = (SELECT COUNT(*) FROM asks a WHERE a.sitting_id = s.id AND a.withdrawn_at IS NULL),
       replied = (SELECT COUNT(*) FROM asks a WHERE a.sitting_id = s.id AND a.withdrawn_at IS NULL AND a.answered_at IS NOT NULL),
       reply_waits = EXISTS (SELECT 1 FROM replies r WHERE r.sitting_id = s.id AND r.author_id = s.student_id
         AND r.settled_at IS NULL AND (r.words <> '' OR r.voice_id IS NOT NULL)
         AND NOT EXISTS (SELECT 1 FROM replies l WHERE l.sitting_id = r.sitting_id AND l.item_id <=> r.item_id
           AND (l.made_at > r.made_at OR (l.made_at = r.made_at AND l.id > r.id)))
         AND NOT EXISTS (SELECT 1 FROM takes t JOIN recordings v ON v.id = t.id
             JOIN marks m ON m.sitting_id = r.sitting_id AND m.item_id = r.item_id
           WHERE t.id = r.voice_id AND m.in_force = 1 AND m.finished_at > GREATEST(r.made_at, v.arrived_at)))
     WHERE s.id = :sittingId`,
    { sittingId },
  );
}

/** What a student said of an answer needs no word more. */
export async function settleReplies(
  db: Queryable,
  { sittingId, itemId }: { sittingId: string; itemId: string | null },
): Promise<void> {
  await execute(
    db,
    `UPDATE replies r JOIN sittings s ON s.id = r.sitting_id SET r.settled_at = UTC_TIMESTAMP(3)
     WHERE r.sitting_id = :sittingId AND (r.item_id <=> :itemId OR r.item_id IS NULL)
       AND r.author_id = s.student_id AND r.settled_at IS NULL`,
    { sittingId, itemId },
  );
}

/** Keeps that feedback on an item was heard. @returns whether that is news */
export async function keepHeard(db: Queryable, at: { sittingId: string; itemId: string }): Promise<boolean> {
  return (
    (await execute(
      db,
      `INSERT IGNORE INTO hearings_of_feedback (sitting_id, item_id, heard_at) VALUES (:sittingId, :itemId, UTC_TIMESTAMP(3))`,
      at,
    )) > 0
  );
}

/** When the feedback on each item was first heard. */
export async function heardOf(db: Queryable, which: WhichSittings) {
  const these = among('sitting_id', which);
  if (!these) return [];
  return rows<{ sittingId: string; itemId: string; heardAt: Date }>(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, heard_at AS heardAt FROM hearings_of_feedback
     WHERE ${these.sql}`,
    these.values,
  );
}
