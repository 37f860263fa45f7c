import type { Receipt } from '@ecoute/contract/sittings';
import { calledName } from '@ecoute/core/feedback/comments';
import { ORDINARY, type Arrangement } from '@ecoute/core/timing/arrangements';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface SittingRow {
  id: string;
  releaseId: string;
  studentId: string;
  /** From 1. */
  number: number;
  /** As it was when the sitting began. */
  arrangement: Arrangement;
  beganAt: Date;
  clockBeganAt: Date | null;
  handedInAt: Date | null;
  feedbackAt: Date | null;
  askedAgainAt: Date | null;
  setAsideAt: Date | null;
  /** When it was due before a later one was allowed. */
  dueWas: Date | null;
  lateAcceptedAt: Date | null;
  notesShownAt: Date | null;
  /** When its student opened the model answers, and what the others recorded; null before. */
  modelsOpenedAt: Date | null;
  othersOpenedAt: Date | null;
  receipt: Receipt | null;
  /** What of it is to be recorded again; null for all of it. And why. */
  askedItems: string[] | null;
  askedFor: string | null;
  /** Made because items of another were to be recorded again: those alone are open; null where all are. */
  openItems: string[] | null;
  standsFrom: string | null;
  againFor: string | null;
}

const SITTING = `SELECT id, release_id AS releaseId, student_id AS studentId, number, arrangement, began_at AS beganAt,
    clock_began_at AS clockBeganAt, handed_in_at AS handedInAt, feedback_at AS feedbackAt, asked_again_at AS askedAgainAt, due_was AS dueWas,
    set_aside_at AS setAsideAt, late_accepted_at AS lateAcceptedAt, notes_shown_at AS notesShownAt,
    models_opened_at AS modelsOpenedAt, others_opened_at AS othersOpenedAt, receipt, asked_items AS askedItems,
    asked_for AS askedFor, open_items AS openItems, stands_from AS standsFrom, again_for AS againFor FROM sittings`;

type RawSitting = Omit<SittingRow, 'receipt' | 'arrangement' | 'askedItems' | 'openItems'> & {
  receipt: string | null;
  askedItems: string | null;
  openItems: string | null;
  arrangement: string | null;
};

const read = (raw: RawSitting | null): SittingRow | null =>
  raw && {
    ...raw,
    receipt: raw.receipt ? (JSON.parse(raw.receipt) as Receipt) : null,
    askedItems: raw.askedItems ? (JSON.parse(raw.askedItems) as string[]) : null,
    openItems: raw.openItems ? (JSON.parse(raw.openItems) as string[]) : null,
    arrangement: { ...ORDINARY, ...(raw.arrangement ? (JSON.parse(raw.arrangement) as Arrangement) : {}) },
  };

/** One sitting; `lock` holds its row until the transaction ends, so that takes and hand-in agree. */
export async function findSitting(db: Queryable, id: string, lock = false): Promise<SittingRow | null> {
  return read(await row(db, `${SITTING} WHERE id = :id ${lock ? 'FOR UPDATE' : ''}`, { id }));
}

export async function sittingsOf(db: Queryable, studentId: string): Promise<SittingRow[]> {
  const found = await rows<RawSitting>(
    db,
    `${SITTING} WHERE student_id = :studentId ORDER BY feedback_at DESC LIMIT 500`,
    { studentId },
  );
  return found.map(read).filter(s => s !== null);
}

/** A student's sittings with one release, in order. */
export async function sittingsWith(
  db: Queryable,
  of: { releaseId: string; studentId: string },
): Promise<SittingRow[]> {
  const found = await rows<RawSitting>(
    db,
    `${SITTING} WHERE release_id = :releaseId AND student_id = :studentId ORDER BY number`,
    of,
  );
  return found.map(read).filter(s => s !== null);
}

/** Begins a sitting; the same number twice is the same sitting. @returns its id */
export async function ensureSitting(
  db: Queryable,
  sitting: {
    id: string;
    releaseId: string;
    studentId: string;
    number?: number;
    arrangement?: Arrangement | null;
  },
): Promise<string> {
  const { number = 1, arrangement = null } = sitting;
  await execute(
    db,
    `INSERT IGNORE INTO sittings (id, release_id, student_id, number, arrangement, began_at, answered, finished, waiting_ms)
     VALUES (:id, :releaseId, :studentId, :number, :arrangement, UTC_TIMESTAMP(3), 0, 0, 0)`,
    { ...sitting, number, arrangement: arrangement && JSON.stringify(arrangement) },
  );
  const found = await row<{ id: string }>(
    db,
    'SELECT id FROM sittings WHERE release_id = :releaseId AND student_id = :studentId AND number = :number',
    { ...sitting, number },
  );
  return found!.id;
}

/** What lists count of a sitting, and what its finished marks add up to. */
export async function keepFacts(
  db: Queryable,
  id: string,
  facts: { answered: number; finished: number; waitingMs: number },
): Promise<void> {
  await execute(
    db,
    'UPDATE sittings SET answered = :answered, finished = :finished, waiting_ms = :waitingMs WHERE id = :id',
    { id, ...facts },
  );
  await execute(
    db,
    `UPDATE sittings s JOIN releases r ON r.id = s.release_id JOIN assessment_versions v ON v.id = r.version_id
     SET s.level = (SELECT l.level FROM overall_levels l WHERE l.sitting_id = s.id AND l.in_force = 1),
       s.lacks_level = JSON_VALUE(v.content, '$.scoring.kind') = 'level' AND NOT EXISTS
         (SELECT 1 FROM overall_levels l WHERE l.sitting_id = s.id AND l.in_force = 1 AND l.level IS NOT NULL),
       s.points_hundredths = (SELECT SUM(k.points_hundredths) FROM marks k
         WHERE k.sitting_id = s.id AND k.in_force = 1 AND k.finished_at IS NOT NULL),
       s.done_items = (SELECT COUNT(*) FROM marks k
         WHERE k.sitting_id = s.id AND k.in_force = 1 AND k.finished_at IS NOT NULL AND k.points_hundredths > 0)
     WHERE s.id = :id`,
    { id },
  );
}

/** A student looks at their feedback: from here on it stays given. Before its time, or twice, it is nothing. */
export async function openFeedback(db: Queryable, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  await execute(
    db,
    `UPDATE sittings SET feedback_opened_at = UTC_TIMESTAMP(3)
     WHERE id IN (:ids) AND feedback_opened_at IS NULL AND feedback_at <= UTC_TIMESTAMP(3)`,
    { ids },
  );
}

export async function sittingsWithoutFacts(db: Queryable, most: number): Promise<string[]> {
  return (
    await rows<{ id: string }>(db, 'SELECT id FROM sittings WHERE answered IS NULL LIMIT :most', { most })
  ).map(s => s.id);
}

/** The arrangement that holds for a student from now on. */
export async function arrangementOf(db: Queryable, personId: string): Promise<Arrangement> {
  const found = await row<{ arrangement: string }>(
    db,
    'SELECT arrangement FROM arrangements WHERE person_id = :personId',
    { personId },
  );
  return { ...ORDINARY, ...(found ? (JSON.parse(found.arrangement) as Arrangement) : {}) };
}

/** Hands in. The receipt is kept for good, also when what was handed in is taken back. */
export async function handIn(db: Queryable, id: string, handedInAt: Date, receipt: Receipt): Promise<void> {
  await execute(
    db,
    `INSERT INTO receipts (sitting_id, handed_in_at, receipt) VALUES (:id, :handedInAt, :receipt)
     ON DUPLICATE KEY UPDATE receipt = VALUES(receipt)`,
    { id, handedInAt, receipt: JSON.stringify(receipt) },
  );
  await execute(db, 'UPDATE sittings SET handed_in_at = :handedInAt, receipt = :receipt WHERE id = :id', {
    id,
    handedInAt,
    receipt: JSON.stringify(receipt),
  });
}

/** Every receipt that was given for a sitting, the oldest first. */
export async function allReceipts(db: Queryable, id: string): Promise<Receipt[]> {
  const found = await rows<{ receipt: string }>(
    db,
    'SELECT receipt FROM receipts WHERE sitting_id = :id ORDER BY handed_in_at',
    { id },
  );
  return found.map(f => JSON.parse(f.receipt) as Receipt);
}

/** The student opens the model answers, or what the others recorded. */
export async function openForGood(db: Queryable, id: string, what: 'models' | 'others'): Promise<boolean> {
  const column = what === 'models' ? 'models_opened_at' : 'others_opened_at';
  return (
    (await execute(
      db,
      `UPDATE sittings SET ${column} = UTC_TIMESTAMP(3) WHERE id = :id AND ${column} IS NULL`,
      {
        id,
      },
    )) === 1
  );
}

/** Limited sittings whose clock runs and that no job will hand in. */
export async function clocksWithoutJob(db: Queryable): Promise<{ id: string }[]> {
  return rows(
    db,
    `SELECT s.id FROM sittings s JOIN releases r ON r.id = s.release_id JOIN assessment_versions v ON v.id = r.version_id
     WHERE s.handed_in_at IS NULL AND s.clock_began_at IS NOT NULL AND s.set_aside_at IS NULL
       AND JSON_VALUE(v.content, '$.sittingLimitMs') IS NOT NULL
       AND NOT EXISTS (SELECT 1 FROM jobs j WHERE j.kind = 'timeUp' AND j.subject_id = s.id AND j.state <> 'failed')
     LIMIT 2000`,
  );
}

/** Sets the clock of a sitting going. False when it runs already. */
export async function beginClock(db: Queryable, id: string, at: Date): Promise<boolean> {
  return (
    (await execute(
      db,
      'UPDATE sittings SET clock_began_at = :at WHERE id = :id AND clock_began_at IS NULL AND handed_in_at IS NULL',
      { id, at },
    )) === 1
  );
}

/** What was handed in, by sitting. */
export async function receiptsOf(db: Queryable, ids: readonly string[]): Promise<Map<string, Receipt>> {
  if (ids.length === 0) return new Map();
  const found = await rows<{ id: string; receipt: string }>(
    db,
    'SELECT id, receipt FROM sittings WHERE id IN (:ids) AND receipt IS NOT NULL',
    { ids },
  );
  return new Map(found.map(f => [f.id, JSON.parse(f.receipt) as Receipt]));
}

/** What was passed on in the sittings of a release: `${sittingId} ${itemId}` of each. */
export async function passedOf(db: Queryable, releaseId: string): Promise<Set<string>> {
  // Most receipts say nothing of the kind: they need not even be sent.
  const some = await rows<{ id: string; receipt: string }>(
    db,
    `SELECT id, receipt FROM sittings WHERE release_id = :releaseId AND LOCATE(BINARY '"passed":true', receipt)`,
    { releaseId },
  );
  return new Set(
    some.flatMap(({ id, receipt }) =>
      (JSON.parse(receipt) as Receipt).lines.filter(l => l.passed).map(l => `${id} ${l.itemId}`),
    ),
  );
}

/** Which browser goes on with a sitting, and when it was seen last. */
export async function holderOf(
  db: Queryable,
  id: string,
): Promise<{ deviceId: string | null; seenAt: Date | null } | null> {
  return row(
    db,
    'SELECT device_id AS deviceId, device_seen_at AS seenAt FROM sittings WHERE id = :id FOR UPDATE',
    { id },
  );
}

export async function hold(db: Queryable, id: string, deviceId: string): Promise<void> {
  await execute(
    db,
    'UPDATE sittings SET device_id = :deviceId, device_seen_at = UTC_TIMESTAMP(3) WHERE id = :id',
    { id, deviceId },
  );
}

/** Nobody goes on with a sitting just now; which browser did is still known. */
export async function letGo(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE sittings SET device_seen_at = NULL WHERE id = :id', { id });
}

/** Opens what was handed in once more. The receipt stays in `receipts`. */
export async function withdraw(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE sittings SET handed_in_at = NULL, receipt = NULL WHERE id = :id', { id });
}

/** The receipt as it reads once a take was looked at after the hand-in. */
export async function changeReceipt(db: Queryable, id: string, receipt: Receipt): Promise<void> {
  await execute(db, 'UPDATE sittings SET receipt = :receipt WHERE id = :id AND receipt IS NOT NULL', {
    id,
    receipt: JSON.stringify(receipt),
  });
}

export async function studentName(db: Queryable, sittingId: string): Promise<string> {
  const found = await row<{ name: string }>(
    db,
    'SELECT p.display_name AS name FROM sittings s JOIN people p ON p.id = s.student_id WHERE s.id = :sittingId',
    { sittingId },
  );
  return found?.name ?? '';
}

/** Whether a teacher has begun to mark a sitting, or to make notes in it, also where they took them away again. */
export async function isBegunByTeacher(db: Queryable, sittingId: string): Promise<boolean> {
  const found = await row(
    db,
    // What stands from an earlier sitting was listened to there.
    `SELECT 1 FROM marks m JOIN sittings s ON s.id = m.sitting_id WHERE m.sitting_id = :sittingId
       AND (s.open_items IS NULL OR JSON_CONTAINS(s.open_items, JSON_QUOTE(CAST(m.item_id AS CHAR))))
     UNION ALL SELECT 1 FROM overall_levels WHERE sitting_id = :sittingId
     UNION ALL SELECT 1 FROM notes n JOIN takes t ON t.id = n.take_id JOIN sittings s ON s.id = t.sitting_id
       WHERE t.sitting_id = :sittingId
       AND (s.open_items IS NULL OR JSON_CONTAINS(s.open_items, JSON_QUOTE(CAST(t.item_id AS CHAR)))) LIMIT 1`,
    { sittingId },
  );
  return found !== null;
}

/** Whose sitting it is, and what comments call them where that was set. */
export async function studentCalled(db: Queryable, sittingId: string): Promise<string> {
  const found = await row<{ name: string; called: string | null }>(
    db,
    'SELECT p.display_name AS name, p.called FROM sittings s JOIN people p ON p.id = s.student_id WHERE s.id = :sittingId',
    { sittingId },
  );
  return found ? calledName(found.name, found.called) : '';
}
