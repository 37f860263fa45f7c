import type { StudentLanguage } from '@ecoute/contract/languages';
import type { PortfolioContent } from '@ecoute/contract/portfolios';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface PortfolioRow {
  id: string;
  ownerId: string;
  ownerName: string;
  revision: number;
  content: PortfolioContent;
  changedAt: Date;
  removedAt: Date | null;
}

const COLUMNS = `p.id, p.owner_id AS ownerId, o.display_name AS ownerName, p.revision, p.content,
  p.changed_at AS changedAt, p.removed_at AS removedAt`;

const read = (found: Omit<PortfolioRow, 'content'> & { content: string }): PortfolioRow => ({
  ...found,
  content: JSON.parse(found.content) as PortfolioContent,
});

/** @param lock holds the row until the transaction ends */
export async function findPortfolio(db: Queryable, id: string, lock = false): Promise<PortfolioRow | null> {
  const found = await row<Omit<PortfolioRow, 'content'> & { content: string }>(
    db,
    `SELECT ${COLUMNS} FROM portfolios p JOIN people o ON o.id = p.owner_id WHERE p.id = :id ${lock ? 'FOR UPDATE' : ''}`,
    { id },
  );
  return found && read(found);
}

/** Newest first. */
export async function portfoliosOf(db: Queryable, ownerId: string): Promise<PortfolioRow[]> {
  const found = await rows<Omit<PortfolioRow, 'content'> & { content: string }>(
    db,
    `SELECT ${COLUMNS} FROM portfolios p JOIN people o ON o.id = p.owner_id WHERE p.owner_id = :ownerId
     ORDER BY p.made_at DESC, p.id LIMIT 200`,
    { ownerId },
  );
  return found.map(read);
}

/** Those of a student that are shown to a teacher. */
export async function shownTo(db: Queryable, teacherId: string, studentId: string): Promise<PortfolioRow[]> {
  const found = await rows<Omit<PortfolioRow, 'content'> & { content: string }>(
    db,
    `SELECT ${COLUMNS} FROM portfolio_readers r JOIN portfolios p ON p.id = r.portfolio_id JOIN people o ON o.id = p.owner_id
     WHERE r.teacher_id = :teacherId AND p.owner_id = :studentId AND p.removed_at IS NULL
     ORDER BY p.changed_at DESC, p.id LIMIT 200`,
    { teacherId, studentId },
  );
  return found.map(read);
}

export async function insertPortfolio(
  db: Queryable,
  { content, ...made }: { id: string; ownerId: string; content: PortfolioContent },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO portfolios (id, owner_id, revision, content, made_at, changed_at)
     VALUES (:id, :ownerId, 1, :content, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
    { ...made, content: JSON.stringify(content) },
  );
}

export async function keepContent(db: Queryable, id: string, content: PortfolioContent): Promise<void> {
  await execute(
    db,
    `UPDATE portfolios SET content = :content, revision = revision + 1, changed_at = UTC_TIMESTAMP(3) WHERE id = :id`,
    { id, content: JSON.stringify(content) },
  );
}

export async function setRemoved(db: Queryable, id: string, removed: boolean): Promise<void> {
  await execute(
    db,
    `UPDATE portfolios SET removed_at = ${removed ? 'COALESCE(removed_at, UTC_TIMESTAMP(3))' : 'NULL'} WHERE id = :id`,
    { id },
  );
}

/** Portfolios that were thrown away so many days ago. */
export async function removedLongAgo(db: Queryable, days: number): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    'SELECT id FROM portfolios WHERE removed_at < UTC_TIMESTAMP(3) - INTERVAL :days DAY LIMIT 100',
    { days },
  );
  return found.map(f => f.id);
}

export async function forget(db: Queryable, id: string): Promise<void> {
  await execute(db, 'DELETE FROM portfolios WHERE id = :id', { id });
}

export interface TakeOfOwn {
  takeId: string;
  sittingId: string;
  itemId: string;
  at: Date;
  durationMs: number | null;
  medium: 'sound' | 'video';
  pictureId: string | null;
  className: string;
  /** JSON of the version that was sat. */
  content: string;
  /** Handed in, not set aside, and with its feedback. */
  isHeard: number;
}

/** Those of some takes that are a student's own recordings and stand. */
export async function takesOfOwn(
  db: Queryable,
  ownerId: string,
  takeIds: readonly string[],
): Promise<TakeOfOwn[]> {
  if (takeIds.length === 0) return [];
  return rows(
    db,
    `SELECT t.id AS takeId, t.sitting_id AS sittingId, t.item_id AS itemId, t.began_at AS at, x.duration_ms AS durationMs,
       x.medium, t.picture_id AS pictureId, c.name AS className, v.content,
       s.handed_in_at IS NOT NULL AND s.set_aside_at IS NULL AND s.feedback_at IS NOT NULL AND s.feedback_at <= UTC_TIMESTAMP(3)
         AS isHeard
     FROM takes t JOIN recordings x ON x.id = t.id JOIN sittings s ON s.id = t.sitting_id
       JOIN releases r ON r.id = s.release_id JOIN assessment_versions v ON v.id = r.version_id
       JOIN classes c ON c.id = r.class_id
     WHERE t.id IN (:takeIds) AND x.owner_id = :ownerId AND x.state = 'stored' AND x.medium IN ('sound', 'video')`,
    { ownerId, takeIds },
  );
}

export interface FileRow {
  id: string;
  wanted: 'picture' | 'sound';
  state: string;
  durationMs: number | null;
}

/** What was brought for a portfolio. */
export async function filesOf(db: Queryable, portfolioId: string): Promise<FileRow[]> {
  return rows(
    db,
    `SELECT x.id, x.wanted, x.state, x.duration_ms AS durationMs FROM portfolio_files f
       JOIN recordings x ON x.id = f.recording_id WHERE f.portfolio_id = :portfolioId`,
    { portfolioId },
  );
}

export async function insertFile(db: Queryable, portfolioId: string, recordingId: string): Promise<void> {
  await execute(
    db,
    `INSERT IGNORE INTO portfolio_files (recording_id, portfolio_id, brought_at) VALUES (:recordingId, :portfolioId, UTC_TIMESTAMP(3))`,
    { portfolioId, recordingId },
  );
}

/** So many files are looked at in one step. */
const STEP = 1_000;
const FIRST = '00000000-0000-0000-0000-000000000000';

/**
 * What was brought so many days ago and stands nowhere in its portfolio: of the next step of all that was ever brought.
 * @param after where the step before ended; from the beginning where nothing is given
 * @returns where this one ended; null at the end of all
 */
export async function leftOver(
  db: Queryable,
  days: number,
  after: string | null,
  step = STEP,
): Promise<{ left: string[]; next: string | null }> {
  const found = await rows<{ id: string; isLeft: 0 | 1 }>(
    db,
    `SELECT f.recording_id AS id, f.brought_at < UTC_TIMESTAMP(3) - INTERVAL :days DAY
       AND LOCATE(CAST(f.recording_id AS CHAR(36)), p.content) = 0 AS isLeft
     FROM (
       SELECT recording_id, portfolio_id, brought_at FROM portfolio_files
       WHERE recording_id > :after ORDER BY recording_id LIMIT ${step}
     ) f JOIN portfolios p ON p.id = f.portfolio_id ORDER BY f.recording_id`,
    { days, after: after ?? FIRST },
  );
  return {
    left: found.flatMap(f => (f.isLeft ? [f.id] : [])),
    next: found.length === step ? found.at(-1)!.id : null,
  };
}

/** Teachers of a student's classes, and which of them see a portfolio. */
export async function teachersOf(
  db: Queryable,
  studentId: string,
  portfolioId: string,
): Promise<{ id: string; displayName: string; sees: number }[]> {
  return rows(
    db,
    `SELECT DISTINCT p.id, p.display_name AS displayName, r.portfolio_id IS NOT NULL AS sees
     FROM class_members m JOIN class_members t ON t.class_id = m.class_id AND t.role = 'teacher'
       JOIN people p ON p.id = t.person_id AND p.closed_at IS NULL
       LEFT JOIN portfolio_readers r ON r.portfolio_id = :portfolioId AND r.teacher_id = p.id
     WHERE m.person_id = :studentId AND m.role = 'student' ORDER BY p.display_name, p.id LIMIT 200`,
    { studentId, portfolioId },
  );
}

export async function replaceReaders(
  db: Queryable,
  portfolioId: string,
  teacherIds: readonly string[],
): Promise<void> {
  await execute(db, 'DELETE FROM portfolio_readers WHERE portfolio_id = :portfolioId', { portfolioId });
  for (const teacherId of teacherIds)
    await execute(
      db,
      'INSERT INTO portfolio_readers (portfolio_id, teacher_id) VALUES (:portfolioId, :teacherId)',
      { portfolioId, teacherId },
    );
}

export interface AddressRow {
  id: string;
  portfolioId: string;
  name: string;
  language: StudentLanguage;
  endsAt: Date;
  revokedAt: Date | null;
}

const ADDRESS =
  'a.id, a.portfolio_id AS portfolioId, a.name, a.language, a.ends_at AS endsAt, a.revoked_at AS revokedAt';

/** Newest first. */
export async function addressesOf(db: Queryable, portfolioIds: readonly string[]): Promise<AddressRow[]> {
  if (portfolioIds.length === 0) return [];
  return rows(
    db,
    `SELECT ${ADDRESS} FROM portfolio_addresses a WHERE a.portfolio_id IN (:portfolioIds) ORDER BY a.made_at DESC, a.id`,
    { portfolioIds },
  );
}

/** An address that leads somewhere: neither over nor revoked, of a portfolio that is there and an account that is open. */
export async function liveAddress(db: Queryable, id: string): Promise<AddressRow | null> {
  return row(
    db,
    `SELECT ${ADDRESS} FROM portfolio_addresses a JOIN portfolios p ON p.id = a.portfolio_id JOIN people o ON o.id = p.owner_id
     WHERE a.id = :id AND a.revoked_at IS NULL AND a.ends_at > UTC_TIMESTAMP(3) AND p.removed_at IS NULL
       AND o.closed_at IS NULL`,
    { id },
  );
}

export async function insertAddress(
  db: Queryable,
  made: { id: string; portfolioId: string; name: string; language: string; days: number },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO portfolio_addresses (id, portfolio_id, name, language, made_at, ends_at)
     VALUES (:id, :portfolioId, :name, :language, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3) + INTERVAL :days DAY)`,
    made,
  );
}

export async function revokeAddress(db: Queryable, portfolioId: string, id: string): Promise<void> {
  await execute(
    db,
    `UPDATE portfolio_addresses SET revoked_at = COALESCE(revoked_at, UTC_TIMESTAMP(3))
     WHERE id = :id AND portfolio_id = :portfolioId`,
    { id, portfolioId },
  );
}

export interface SuggestionRow {
  id: string;
  takeId: string;
  teacherName: string;
  words: string;
  at: Date;
}

/** What nobody has answered yet, newest first; of accounts that are open. */
export async function openSuggestions(db: Queryable, studentId: string): Promise<SuggestionRow[]> {
  return rows(
    db,
    `SELECT s.id, s.take_id AS takeId, p.display_name AS teacherName, s.words, s.made_at AS at
     FROM portfolio_suggestions s JOIN people p ON p.id = s.teacher_id
     WHERE s.student_id = :studentId AND s.answer IS NULL AND p.closed_at IS NULL ORDER BY s.made_at DESC, s.id LIMIT 100`,
    { studentId },
  );
}

/** Suggested once more it is the same suggestion, in the newer words, and open again. */
export async function putSuggestion(
  db: Queryable,
  made: { id: string; takeId: string; studentId: string; teacherId: string; words: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO portfolio_suggestions (id, take_id, student_id, teacher_id, words, made_at)
     VALUES (:id, :takeId, :studentId, :teacherId, :words, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE words = VALUES(words), made_at = VALUES(made_at), answer = NULL`,
    made,
  );
}

export async function takeBackSuggestion(db: Queryable, takeId: string, teacherId: string): Promise<void> {
  await execute(
    db,
    'DELETE FROM portfolio_suggestions WHERE take_id = :takeId AND teacher_id = :teacherId AND answer IS NULL',
    { takeId, teacherId },
  );
}

export async function suggestedBy(
  db: Queryable,
  teacherId: string,
  studentId: string,
): Promise<{ takeId: string; answer: 'taken' | 'declined' | null }[]> {
  return rows(
    db,
    `SELECT take_id AS takeId, answer FROM portfolio_suggestions WHERE student_id = :studentId AND teacher_id = :teacherId`,
    { teacherId, studentId },
  );
}

/** @param takeIds whichever of them were suggested */
export async function answerSuggestions(
  db: Queryable,
  studentId: string,
  takeIds: readonly string[],
  answer: 'taken' | 'declined',
): Promise<void> {
  if (takeIds.length === 0) return;
  await execute(
    db,
    `UPDATE portfolio_suggestions SET answer = :answer WHERE student_id = :studentId AND take_id IN (:takeIds) AND answer IS NULL`,
    { studentId, takeIds, answer },
  );
}

/** Whose a take is, of which sitting, and whether its feedback is given. */
export async function takeOf(
  db: Queryable,
  sittingId: string,
  takeId: string,
): Promise<{ studentId: string; isGuest: number; feedbackGiven: number } | null> {
  return row(
    db,
    `SELECT s.student_id AS studentId, p.guest_link_id IS NOT NULL AS isGuest,
       s.feedback_at IS NOT NULL AND s.feedback_at <= UTC_TIMESTAMP(3) AND s.set_aside_at IS NULL AS feedbackGiven
     FROM takes t JOIN sittings s ON s.id = t.sitting_id JOIN people p ON p.id = s.student_id
       JOIN recordings x ON x.id = t.id AND x.owner_id = s.student_id AND x.state = 'stored' AND x.medium IN ('sound', 'video')
     WHERE t.id = :takeId AND t.sitting_id = :sittingId`,
    { sittingId, takeId },
  );
}
