import type { MessageToMe, SpokenMessage } from '@ecoute/contract/spokenMessages';
import type { StudentLanguage } from '@ecoute/contract/languages';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface MessageRow {
  id: string;
  classId: string;
  className: string;
  authorId: string;
  authorName: string;
  groupName: string | null;
  isPicked: boolean;
  voiceId: string;
  voiceMs: number | null;
  voiceState: SpokenMessage['voiceState'];
  title: string;
  words: string;
  madeAt: Date;
  sentAt: Date | null;
  takenBackAt: Date | null;
}

const MESSAGE = `SELECT m.id, m.class_id AS classId, c.name AS className, m.author_id AS authorId, p.display_name AS authorName,
    g.name AS groupName, m.is_picked AS isPicked, m.voice_id AS voiceId, v.duration_ms AS voiceMs, v.state AS voiceState,
    m.title, m.words, m.made_at AS madeAt, m.sent_at AS sentAt, m.taken_back_at AS takenBackAt
  FROM spoken_messages m JOIN classes c ON c.id = m.class_id JOIN people p ON p.id = m.author_id
    JOIN recordings v ON v.id = m.voice_id LEFT JOIN class_groups g ON g.id = m.group_id`;

/** What was said to a class, newest first. */
export const messagesOfClass = (db: Queryable, classId: string) =>
  rows<MessageRow>(db, `${MESSAGE} WHERE m.class_id = :classId ORDER BY m.made_at DESC, m.id LIMIT 200`, {
    classId,
  });

export const findMessage = (db: Queryable, id: string) =>
  row<MessageRow>(db, `${MESSAGE} WHERE m.id = :id`, { id });

/** The same, held until the transaction ends. */
export async function holdMessage(db: Queryable, id: string): Promise<MessageRow | null> {
  await row(db, 'SELECT id FROM spoken_messages WHERE id = :id FOR UPDATE', { id });
  return findMessage(db, id);
}

export async function messageOfVoice(db: Queryable, voiceId: string): Promise<string | null> {
  const found = await row<{ id: string }>(db, 'SELECT id FROM spoken_messages WHERE voice_id = :voiceId', {
    voiceId,
  });
  return found?.id ?? null;
}

export async function insertMessage(
  db: Queryable,
  message: {
    id: string;
    classId: string;
    groupId: string | null;
    isPicked: boolean;
    authorId: string;
    voiceId: string;
    title: string;
    words: string;
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO spoken_messages (id, class_id, group_id, is_picked, author_id, voice_id, title, words, made_at)
     VALUES (:id, :classId, :groupId, :isPicked, :authorId, :voiceId, :title, :words, UTC_TIMESTAMP(3))`,
    message,
  );
}

/** Students of a class, or of one of its groups, now. */
export async function studentsOf(db: Queryable, classId: string, groupId: string | null): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT m.person_id AS id FROM class_members m JOIN people p ON p.id = m.person_id AND p.closed_at IS NULL
     WHERE m.class_id = :classId AND m.role = 'student' AND (:groupId IS NULL OR EXISTS (
       SELECT 1 FROM class_groups g JOIN class_group_members x ON x.group_id = g.id
       WHERE g.id = :groupId AND g.class_id = m.class_id AND x.person_id = m.person_id))`,
    { classId, groupId },
  );
  return found.map(f => f.id);
}

export async function insertRecipients(
  db: Queryable,
  messageId: string,
  recipients: readonly { id: string; studentId: string; familyId: string | null }[],
): Promise<void> {
  if (recipients.length === 0) return;
  await db.query('INSERT INTO spoken_message_recipients (id, message_id, student_id, family_id) VALUES ?', [
    recipients.map(r => [r.id, messageId, r.studentId, r.familyId]),
  ]);
}

export interface RecipientRow {
  id: string;
  messageId: string;
  studentId: string;
  studentName: string;
  studentEmail: string | null;
  signInName: string;
  familyId: string | null;
  email: string | null;
  name: string | null;
  language: StudentLanguage | null;
  familyEnded: 'teacher' | 'student' | 'family' | null;
  mailedAt: Date | null;
  heardAt: Date | null;
  endedAt: Date | null;
}

const RECIPIENT = `SELECT r.id, r.message_id AS messageId, r.student_id AS studentId, p.display_name AS studentName,
    p.email AS studentEmail, p.sign_in_name AS signInName, r.family_id AS familyId, f.email, f.name, f.language,
    f.ended_by AS familyEnded, r.mailed_at AS mailedAt, r.heard_at AS heardAt, r.ended_at AS endedAt
  FROM spoken_message_recipients r JOIN people p ON p.id = r.student_id LEFT JOIN family_addresses f ON f.id = r.family_id`;

/** Whom a message went to, by the name of the student. */
export async function recipientsOf(db: Queryable, messageId: string): Promise<RecipientRow[]> {
  return rows(
    db,
    `${RECIPIENT} WHERE r.message_id = :messageId ORDER BY p.display_name, p.id, r.family_id IS NOT NULL, f.email`,
    { messageId },
  );
}

export interface Heard {
  messageId: string;
  isFamily: boolean;
  all: number;
  heard: number;
}

/** How many some messages went to, and how many of them have played them: students and families apart. */
export async function heardCounts(db: Queryable, messageIds: readonly string[]): Promise<Heard[]> {
  if (messageIds.length === 0) return [];
  const found = await rows<{ messageId: string; isFamily: number; n: number; heard: number }>(
    db,
    `SELECT message_id AS messageId, family_id IS NOT NULL AS isFamily, COUNT(*) AS n, COUNT(heard_at) AS heard
     FROM spoken_message_recipients WHERE message_id IN (:messageIds) GROUP BY message_id, family_id IS NOT NULL`,
    { messageIds },
  );
  return found.map(f => ({
    messageId: f.messageId,
    isFamily: Boolean(f.isFamily),
    all: Number(f.n),
    heard: Number(f.heard),
  }));
}

/** The names of the students whom some messages went to, or whose families they did. */
export async function namesOf(
  db: Queryable,
  messageIds: readonly string[],
): Promise<{ messageId: string; name: string }[]> {
  if (messageIds.length === 0) return [];
  return rows(
    db,
    `SELECT DISTINCT r.message_id AS messageId, p.id, p.display_name AS name
     FROM spoken_message_recipients r JOIN people p ON p.id = r.student_id
     WHERE r.message_id IN (:messageIds) ORDER BY p.display_name, p.id`,
    { messageIds },
  );
}

export const findRecipient = (db: Queryable, id: string) =>
  row<RecipientRow>(db, `${RECIPIENT} WHERE r.id = :id`, { id });

/** Its sound stands. @returns false when that was known, or it was taken back */
export async function markSent(db: Queryable, id: string): Promise<boolean> {
  return (
    (await execute(
      db,
      'UPDATE spoken_messages SET sent_at = UTC_TIMESTAMP(3) WHERE id = :id AND sent_at IS NULL AND taken_back_at IS NULL',
      { id },
    )) > 0
  );
}

export async function setTakenBack(db: Queryable, id: string, back: boolean): Promise<void> {
  await execute(
    db,
    'UPDATE spoken_messages SET taken_back_at = IF(:back, COALESCE(taken_back_at, UTC_TIMESTAMP(3)), NULL) WHERE id = :id',
    { id, back },
  );
}

/** @returns false when somebody was mailed already */
export async function markMailed(db: Queryable, id: string): Promise<boolean> {
  return (
    (await execute(
      db,
      'UPDATE spoken_message_recipients SET mailed_at = UTC_TIMESTAMP(3) WHERE id = :id AND mailed_at IS NULL AND ended_at IS NULL',
      { id },
    )) > 0
  );
}

export async function setEnded(db: Queryable, id: string, ended: boolean): Promise<void> {
  await execute(
    db,
    'UPDATE spoken_message_recipients SET ended_at = IF(:ended, COALESCE(ended_at, UTC_TIMESTAMP(3)), NULL) WHERE id = :id',
    { id, ended },
  );
}

/** Another address in place of one: what was at the old one is nowhere any more. */
export async function renewRecipient(db: Queryable, id: string, next: string): Promise<void> {
  await execute(
    db,
    'UPDATE spoken_message_recipients SET id = :next, mailed_at = NULL, ended_at = NULL WHERE id = :id',
    { id, next },
  );
}

/** @returns whether it is played for the first time */
export async function markHeard(db: Queryable, id: string): Promise<boolean> {
  return (
    (await execute(
      db,
      'UPDATE spoken_message_recipients SET heard_at = UTC_TIMESTAMP(3) WHERE id = :id AND heard_at IS NULL',
      { id },
    )) > 0
  );
}

/** What a student was told, newest first: as long as it stands, and their address of it was not ended. */
export async function messagesTo(
  db: Queryable,
  studentId: string,
): Promise<(Omit<MessageToMe, 'sentAt' | 'heardAt'> & { sentAt: Date; heardAt: Date | null })[]> {
  return rows(
    db,
    `SELECT m.id, m.title, m.words, p.display_name AS authorName, c.name AS className, m.voice_id AS voiceId,
       v.duration_ms AS voiceMs, m.sent_at AS sentAt, r.heard_at AS heardAt
     FROM spoken_message_recipients r JOIN spoken_messages m ON m.id = r.message_id
       JOIN people p ON p.id = m.author_id JOIN classes c ON c.id = m.class_id JOIN recordings v ON v.id = m.voice_id
     WHERE r.student_id = :studentId AND r.family_id IS NULL AND r.ended_at IS NULL
       AND m.sent_at IS NOT NULL AND m.taken_back_at IS NULL
     ORDER BY m.sent_at DESC, m.id LIMIT 100`,
    { studentId },
  );
}

/** A student's own row of a message that stands. */
export async function ownRecipient(
  db: Queryable,
  messageId: string,
  studentId: string,
): Promise<string | null> {
  const found = await row<{ id: string }>(
    db,
    `SELECT r.id FROM spoken_message_recipients r JOIN spoken_messages m ON m.id = r.message_id
     WHERE r.message_id = :messageId AND r.student_id = :studentId AND r.family_id IS NULL AND r.ended_at IS NULL
       AND m.sent_at IS NOT NULL AND m.taken_back_at IS NULL`,
    { messageId, studentId },
  );
  return found?.id ?? null;
}

/** Messages of the last days that went out, and of which somebody with an address was not mailed. */
export async function unmailed(db: Queryable): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT DISTINCT m.id FROM spoken_messages m JOIN spoken_message_recipients r ON r.message_id = m.id
       JOIN people p ON p.id = r.student_id LEFT JOIN family_addresses f ON f.id = r.family_id
     WHERE m.sent_at > UTC_TIMESTAMP(3) - INTERVAL 3 DAY AND m.taken_back_at IS NULL AND r.mailed_at IS NULL
       AND r.ended_at IS NULL AND (f.id IS NULL OR f.ended_at IS NULL)
       AND (f.id IS NOT NULL OR LOCATE('@', COALESCE(p.email, p.sign_in_name)) > 0) LIMIT 100`,
  );
  return found.map(f => f.id);
}
