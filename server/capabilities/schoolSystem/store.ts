import type { GradebookRecord, RecordKind } from '@ecoute/core/formats/gradebookService';
import type { HandingState } from '@ecoute/contract/schoolSystem';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface SystemRow {
  baseUrl: string;
  tokenUrl: string;
  clientId: string;
  secret: Buffer;
  changedAt: Date;
}

export async function findSystem(db: Queryable): Promise<SystemRow | null> {
  return row(
    db,
    `SELECT base_url AS baseUrl, token_url AS tokenUrl, client_id AS clientId, secret, changed_at AS changedAt
     FROM school_system WHERE id = 1`,
  );
}

export async function keepSystem(
  db: Queryable,
  kept: Omit<SystemRow, 'changedAt'> & { changedBy: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO school_system (id, base_url, token_url, client_id, secret, changed_by, changed_at)
     VALUES (1, :baseUrl, :tokenUrl, :clientId, :secret, :changedBy, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE base_url = VALUES(base_url), token_url = VALUES(token_url), client_id = VALUES(client_id),
       secret = VALUES(secret), changed_by = VALUES(changed_by), changed_at = VALUES(changed_at)`,
    kept,
  );
}

export async function removeSystem(db: Queryable): Promise<void> {
  await execute(db, 'DELETE FROM school_system WHERE id = 1');
}

/** What was handed over to one system is not at another, and what is under way to it goes no further. */
export async function forgetRecords(db: Queryable): Promise<void> {
  await execute(
    db,
    `UPDATE handings_over SET state = 'cancelled', ended_at = UTC_TIMESTAMP(3)
     WHERE state IN ('waiting', 'running', 'stopped')`,
  );
  await execute(db, 'DELETE FROM school_records');
  await execute(db, 'DELETE FROM school_people');
  await execute(db, 'DELETE FROM school_classes');
}

/** @param lock holds the row until the transaction ends */
export async function linkedClass(
  db: Queryable,
  classId: string,
  lock = false,
): Promise<{ sourcedId: string; title: string } | null> {
  return row(
    db,
    `SELECT sourced_id AS sourcedId, title FROM school_classes WHERE class_id = :classId ${lock ? 'FOR UPDATE' : ''}`,
    { classId },
  );
}

/** Who somebody is in the school's system, where a class list from there said so. */
export async function externalIdOf(db: Queryable, personId: string): Promise<string | null> {
  const found = await row<{ externalId: string | null }>(
    db,
    'SELECT external_id AS externalId FROM people WHERE id = :personId',
    { personId },
  );
  return found?.externalId ?? null;
}

/** Which class of ours is linked with one of the school's. */
export async function classLinkedWith(db: Queryable, sourcedId: string): Promise<string | null> {
  const found = await row<{ classId: string }>(
    db,
    'SELECT class_id AS classId FROM school_classes WHERE sourced_id = :sourcedId',
    { sourcedId },
  );
  return found?.classId ?? null;
}

export async function linkClass(
  db: Queryable,
  linked: { classId: string; sourcedId: string; title: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO school_classes (class_id, sourced_id, title) VALUES (:classId, :sourcedId, :title)
     ON DUPLICATE KEY UPDATE sourced_id = VALUES(sourced_id), title = VALUES(title)`,
    linked,
  );
}

/** Students of a class, as they can be told apart in the school's system. */
export async function studentsOf(
  db: Queryable,
  classId: string,
): Promise<{ id: string; displayName: string; email: string | null; externalId: string | null }[]> {
  return rows(
    db,
    `SELECT p.id, p.display_name AS displayName, p.email, p.external_id AS externalId
     FROM class_members m JOIN people p ON p.id = m.person_id
     WHERE m.class_id = :classId AND m.role = 'student' AND p.guest_link_id IS NULL ORDER BY p.display_name, p.id LIMIT 1000`,
    { classId },
  );
}

export async function matchesOf(
  db: Queryable,
  classId: string,
): Promise<{ personId: string; sourcedId: string; name: string }[]> {
  return rows(
    db,
    'SELECT person_id AS personId, sourced_id AS sourcedId, name FROM school_people WHERE class_id = :classId',
    { classId },
  );
}

export async function replaceMatches(
  db: Queryable,
  classId: string,
  matches: readonly { personId: string; sourcedId: string; name: string }[],
): Promise<void> {
  await execute(db, 'DELETE FROM school_people WHERE class_id = :classId', { classId });
  for (const match of matches)
    await execute(
      db,
      `INSERT INTO school_people (class_id, person_id, sourced_id, name) VALUES (:classId, :personId, :sourcedId, :name)`,
      { classId, ...match },
    );
}

/** What the school's system has of a class. */
export async function recordsOf(db: Queryable, classId: string): Promise<GradebookRecord[]> {
  const found = await rows<{ kind: RecordKind; sourcedId: string; body: string }>(
    db,
    'SELECT kind, sourced_id AS sourcedId, body FROM school_records WHERE class_id = :classId',
    { classId },
  );
  return found.map(f => ({ ...f, body: JSON.parse(f.body) as GradebookRecord['body'] }));
}

export async function keepRecord(db: Queryable, classId: string, record: GradebookRecord): Promise<void> {
  await execute(
    db,
    `INSERT INTO school_records (class_id, kind, sourced_id, body, taken_at)
     VALUES (:classId, :kind, :sourcedId, :body, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE body = VALUES(body), taken_at = VALUES(taken_at)`,
    { classId, ...record, body: JSON.stringify(record.body) },
  );
}

export async function removeRecord(
  db: Queryable,
  classId: string,
  kind: RecordKind,
  sourcedId: string,
): Promise<void> {
  await execute(
    db,
    'DELETE FROM school_records WHERE class_id = :classId AND kind = :kind AND sourced_id = :sourcedId',
    { classId, kind, sourcedId },
  );
}

export interface HandingRow {
  id: string;
  classId: string;
  byId: string;
  byName: string;
  state: HandingState;
  problem: string | null;
  madeAt: Date;
  endedAt: Date | null;
  total: number;
  taken: number;
  refused: number;
  withdrawn: number;
}

const HANDING = `h.id, h.class_id AS classId, h.by_id AS byId, p.display_name AS byName, h.state, h.problem,
  h.made_at AS madeAt, h.ended_at AS endedAt,
  (SELECT COUNT(*) FROM handing_steps s WHERE s.handing_id = h.id) AS total,
  (SELECT COUNT(*) FROM handing_steps s WHERE s.handing_id = h.id AND s.state = 'taken') AS taken,
  (SELECT COUNT(*) FROM handing_steps s WHERE s.handing_id = h.id AND s.state = 'refused') AS refused,
  (SELECT COUNT(*) FROM handing_steps s WHERE s.handing_id = h.id AND s.state = 'withdrawn') AS withdrawn`;

/** Newest first. */
export async function handingsOf(db: Queryable, classId: string, most: number): Promise<HandingRow[]> {
  return rows(
    db,
    `SELECT ${HANDING} FROM handings_over h JOIN people p ON p.id = h.by_id WHERE h.class_id = :classId
     ORDER BY h.made_at DESC, h.id LIMIT ${most}`,
    { classId },
  );
}

export async function findHanding(db: Queryable, id: string): Promise<HandingRow | null> {
  return row(db, `SELECT ${HANDING} FROM handings_over h JOIN people p ON p.id = h.by_id WHERE h.id = :id`, {
    id,
  });
}

/** Where one is in its course; null for one that is not there. */
export async function handingState(db: Queryable, id: string): Promise<HandingState | null> {
  const found = await row<{ state: HandingState }>(db, 'SELECT state FROM handings_over WHERE id = :id', {
    id,
  });
  return found?.state ?? null;
}

export async function isUnderWay(db: Queryable, classId: string): Promise<boolean> {
  const found = await row(
    db,
    `SELECT 1 FROM handings_over WHERE class_id = :classId AND state IN ('waiting', 'running') LIMIT 1`,
    { classId },
  );
  return found !== null;
}

export async function insertHanding(
  db: Queryable,
  made: { id: string; classId: string; byId: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO handings_over (id, class_id, by_id, state, made_at) VALUES (:id, :classId, :byId, 'waiting', UTC_TIMESTAMP(3))`,
    made,
  );
}

/** @returns false where it was in none of these states */
export async function moveHanding(
  db: Queryable,
  id: string,
  from: readonly HandingState[],
  to: HandingState,
  problem: string | null = null,
): Promise<boolean> {
  const isOver = !['waiting', 'running'].includes(to);
  return (
    (await execute(
      db,
      `UPDATE handings_over SET state = :to, problem = :problem, ended_at = ${isOver ? 'UTC_TIMESTAMP(3)' : 'NULL'}
       WHERE id = :id AND state IN (:from)`,
      { id, from, to, problem },
    )) === 1
  );
}

export interface StepRow {
  place: number;
  act: 'put' | 'remove';
  kind: RecordKind;
  sourcedId: string;
  body: GradebookRecord['body'] | null;
  before: GradebookRecord['body'] | null;
  state: 'waiting' | 'taken' | 'refused' | 'withdrawn';
  problem: string | null;
}

type RawStep = Omit<StepRow, 'body' | 'before'> & { body: string | null; before: string | null };

const readStep = (raw: RawStep): StepRow => ({
  ...raw,
  body: raw.body === null ? null : (JSON.parse(raw.body) as StepRow['body']),
  before: raw.before === null ? null : (JSON.parse(raw.before) as StepRow['before']),
});

const STEP = 'place, act, kind, sourced_id AS sourcedId, body, before_body AS `before`, state, problem';

/** So many rows go into one statement. */
const ROWS_TOGETHER = 200;

/** Steps in their order, from the first place on. */
export async function insertSteps(
  db: Queryable,
  handingId: string,
  steps: readonly Pick<StepRow, 'act' | 'kind' | 'sourcedId' | 'body' | 'before'>[],
): Promise<void> {
  const json = (body: StepRow['body']) => (body === null ? null : JSON.stringify(body));
  const all = steps.map((s, place) => [
    ...[handingId, place, s.act, s.kind, s.sourcedId, json(s.body), json(s.before)],
    'waiting',
  ]);
  for (let from = 0; from < all.length; from += ROWS_TOGETHER)
    await execute(
      db,
      `INSERT INTO handing_steps (handing_id, place, act, kind, sourced_id, body, before_body, state) VALUES :rows`,
      { rows: all.slice(from, from + ROWS_TOGETHER) },
    );
}

/** The next ones that wait, in their order. */
export async function waitingSteps(db: Queryable, handingId: string, most: number): Promise<StepRow[]> {
  const found = await rows<RawStep>(
    db,
    `SELECT ${STEP} FROM handing_steps WHERE handing_id = :handingId AND state = 'waiting' ORDER BY place LIMIT ${most}`,
    { handingId },
  );
  return found.map(readStep);
}

/** What was refused, or not sent. */
export async function troubledSteps(db: Queryable, handingId: string, most: number): Promise<StepRow[]> {
  const found = await rows<RawStep>(
    db,
    `SELECT ${STEP} FROM handing_steps WHERE handing_id = :handingId AND state IN ('refused', 'withdrawn')
     ORDER BY place LIMIT ${most}`,
    { handingId },
  );
  return found.map(readStep);
}

export async function settleStep(
  db: Queryable,
  handingId: string,
  place: number,
  state: StepRow['state'],
  problem: string | null = null,
): Promise<void> {
  await execute(
    db,
    `UPDATE handing_steps SET state = :state, problem = :problem, at = UTC_TIMESTAMP(3)
     WHERE handing_id = :handingId AND place = :place`,
    { handingId, place, state, problem: problem?.slice(0, 500) ?? null },
  );
}
