import { row, rows, execute, transaction, type Pool, type Queryable } from '../database';

export interface Job {
  id: number;
  kind: string;
  payload: unknown;
  /** How often it was begun, this time included. */
  attempts: number;
  /** How often it failed by its own fault: momentary troubles of the machine are left out. */
  failures: number;
  createdAt: Date;
}

/** A job that a crashed server held is taken up again after this long; whoever holds one says so far more often. */
const LEASE_SECONDS = 60;

/** When and how soon a job is done, and what it is about. */
export interface JobTiming {
  /** Not before this instant; at once when left out. */
  runAfter?: Date;
  /** Somebody waits for it: before all jobs that are not urgent. */
  urgent?: boolean;
  /** The thing that it is about, so that it can be seen whether it has a job. */
  subjectId?: string;
  /** Whose thing that is: nobody has two jobs of one slot done at once. */
  ownerId?: string;
}

/** Which kinds a slot does: those named, or all others. */
export interface Slot {
  kinds: readonly string[];
  others: boolean;
}

/** Adds a job; inside the caller's transaction it exists only if that commits. */
export async function addJob(
  db: Queryable,
  kind: string,
  payload: object,
  { runAfter, urgent = false, subjectId, ownerId }: JobTiming = {},
): Promise<void> {
  await execute(
    db,
    `INSERT INTO jobs (kind, payload, subject_id, owner_id, urgent, run_after, created_at)
     VALUES (:kind, :payload, :subjectId, :ownerId, :urgent, COALESCE(:runAfter, UTC_TIMESTAMP(3)), UTC_TIMESTAMP(3))`,
    {
      kind,
      payload: JSON.stringify(payload),
      subjectId: subjectId ?? null,
      ownerId: ownerId ?? null,
      urgent,
      runAfter: runAfter ?? null,
    },
  );
}

/** Whether a job waits, or is under way; one that was given up does neither. @param states of these alone */
export async function hasLivingJob(
  db: Queryable,
  kind: string,
  subjectId: string | null,
  states: readonly ('waiting' | 'running')[] = ['waiting', 'running'],
): Promise<boolean> {
  const found = await row(
    db,
    'SELECT 1 FROM jobs WHERE kind = :kind AND subject_id <=> :subjectId AND state IN (:states) LIMIT 1',
    { kind, subjectId, states },
  );
  return found !== null;
}

/** Whether a job of a slot waits whose time has come. */
export async function hasWaiting(db: Queryable, { kinds, others }: Slot): Promise<boolean> {
  const found = await row(
    db,
    `SELECT 1 FROM jobs WHERE state = 'waiting' AND kind ${others ? 'NOT ' : ''}IN (:kinds) AND run_after <= UTC_TIMESTAMP(3) LIMIT 1`,
    { kinds: ['', ...kinds] },
  );
  return found !== null;
}

/**
 * Takes the next job of a slot for this server, urgent ones first; other servers skip the row. A job whose holder has
 * not been heard of is taken over, and that counts as a failure: it may be what ended its holder. One person's jobs
 * of a kind go one after the other, so that nobody waits behind forty of somebody else's.
 * @returns null when nothing waits
 */
export async function takeJob(
  pool: Pool,
  holder = 'test',
  { kinds, others }: Slot = { kinds: [], others: true },
): Promise<Job | null> {
  const which = `kind ${others ? 'NOT ' : ''}IN (:kinds)`;
  return transaction(pool, async db => {
    const find = (urgent: boolean) =>
      row<Omit<Job, 'payload'> & { payload: string; held: 0 | 1 }>(
        db,
        `SELECT j.id, j.kind, j.payload, j.attempts, j.failures, j.created_at AS createdAt, j.state = 'running' AS held
         FROM jobs j
         WHERE j.urgent = :urgent AND j.${which} AND ((j.state = 'waiting' AND j.run_after <= UTC_TIMESTAMP(3))
            OR (j.state = 'running' AND j.locked_until < UTC_TIMESTAMP(3)))
           AND (j.owner_id IS NULL OR NOT EXISTS (
             SELECT 1 FROM jobs o WHERE o.owner_id = j.owner_id AND o.kind = j.kind AND o.state = 'running'
               AND o.id <> j.id AND o.locked_until >= UTC_TIMESTAMP(3)))
         ORDER BY j.id LIMIT 1 FOR UPDATE SKIP LOCKED`,
        { urgent, kinds: ['', ...kinds] },
      );
    const next = (await find(true)) ?? (await find(false));
    if (!next) return null;
    const failures = next.failures + (next.held ? 1 : 0);
    await execute(
      db,
      `UPDATE jobs SET state = 'running', attempts = attempts + 1, failures = :failures, holder = :holder,
         locked_until = UTC_TIMESTAMP(3) + INTERVAL ${LEASE_SECONDS} SECOND WHERE id = :id`,
      { id: next.id, failures, holder },
    );
    const { id, kind, payload, attempts, createdAt } = next;
    return {
      id,
      kind,
      payload: JSON.parse(payload) as unknown,
      attempts: attempts + 1,
      failures,
      createdAt,
    };
  });
}

/** This server is still at it: nobody else takes the job up meanwhile. */
export async function holdJob(db: Queryable, id: number, holder = 'test'): Promise<void> {
  await execute(
    db,
    `UPDATE jobs SET locked_until = UTC_TIMESTAMP(3) + INTERVAL ${LEASE_SECONDS} SECOND
     WHERE id = :id AND state = 'running' AND holder = :holder`,
    { id, holder },
  );
}

/** A finished job leaves the table, so that looking for the next one stays quick. */
export async function finishJob(db: Queryable, id: number, holder = 'test'): Promise<void> {
  await execute(db, "DELETE FROM jobs WHERE id = :id AND (state <> 'running' OR holder = :holder)", {
    id,
    holder,
  });
}

/** Puts a job back that failed. @param failures how often by its own fault, this time included */
export async function retryJob(
  db: Queryable,
  id: number,
  { failures, waitMs, error, holder = 'test' }: Failed & { waitMs: number },
): Promise<void> {
  await execute(
    db,
    `UPDATE jobs SET state = 'waiting', failures = :failures, last_error = :error, locked_until = NULL, holder = NULL,
       run_after = UTC_TIMESTAMP(3) + INTERVAL :waitUs MICROSECOND WHERE id = :id AND holder = :holder`,
    { id, failures, error: error.slice(0, 2_000), waitUs: Math.round(waitMs) * 1_000, holder },
  );
}

export interface Failed {
  failures: number;
  error: string;
  holder?: string;
}

/** Gives a job up: it stays in the table, is seen on the administrator's page, and can be tried again from there. */
export async function giveUpJob(
  db: Queryable,
  id: number,
  { failures, error, holder = 'test' }: Failed,
): Promise<void> {
  await execute(
    db,
    `UPDATE jobs SET state = 'failed', failures = :failures, last_error = :error, locked_until = NULL, holder = NULL,
       failed_at = UTC_TIMESTAMP(3) WHERE id = :id AND holder = :holder`,
    { id, failures, error: error.slice(0, 2_000), holder },
  );
}

/** Lets go of a job that this server holds, as if it had not been begun: the server is told to stop. */
export async function letGoOfJob(db: Queryable, id: number, holder = 'test'): Promise<void> {
  await execute(
    db,
    `UPDATE jobs SET state = 'waiting', attempts = GREATEST(1, attempts) - 1, locked_until = NULL, holder = NULL
     WHERE id = :id AND state = 'running' AND holder = :holder`,
    { id, holder },
  );
}

/** Who holds jobs just now. */
export async function holders(db: Queryable): Promise<string[]> {
  const found = await rows<{ holder: string | null }>(
    db,
    "SELECT DISTINCT holder FROM jobs WHERE state = 'running'",
  );
  return found.map(f => f.holder ?? '');
}

/** What a holder that is known to be gone held is free again at once, without waiting for its lease. */
export async function releaseHeldJobs(db: Queryable, gone: readonly string[]): Promise<number> {
  if (gone.length === 0) return 0;
  return execute(
    db,
    `UPDATE jobs SET state = 'waiting', failures = failures + 1, locked_until = NULL, holder = NULL
     WHERE state = 'running' AND COALESCE(holder, '') IN (:gone)`,
    { gone },
  );
}

export async function jobCounts(db: Queryable): Promise<Record<string, number>> {
  const found = await rows<{ state: string; n: number }>(
    db,
    'SELECT state, COUNT(*) AS n FROM jobs GROUP BY state',
  );
  return Object.fromEntries(found.map(r => [r.state, Number(r.n)]));
}

export interface GivenUpJob {
  id: number;
  kind: string;
  subjectId: string | null;
  failures: number;
  error: string;
  createdAt: Date;
  failedAt: Date | null;
}

/** Jobs that were given up, newest first. */
export async function givenUpJobs(db: Queryable, most = 200): Promise<GivenUpJob[]> {
  return rows(
    db,
    `SELECT id, kind, subject_id AS subjectId, failures, COALESCE(last_error, '') AS error, created_at AS createdAt,
       failed_at AS failedAt
     FROM jobs WHERE state = 'failed' ORDER BY failed_at DESC, id DESC LIMIT :most`,
    { most },
  );
}

/** Tries given-up jobs again: one of them, or all. @returns how many */
export async function tryAgain(db: Queryable, id: number | null = null): Promise<number> {
  return execute(
    db,
    `UPDATE jobs SET state = 'waiting', failures = 0, created_at = UTC_TIMESTAMP(3), run_after = UTC_TIMESTAMP(3), failed_at = NULL
     WHERE state = 'failed' AND (:id IS NULL OR id = :id)`,
    { id },
  );
}

/** Lets go of a given-up job for good. */
export async function dismissJob(db: Queryable, id: number): Promise<boolean> {
  return (await execute(db, "DELETE FROM jobs WHERE id = :id AND state = 'failed'", { id })) === 1;
}

/** How long the oldest job that is due has been waiting, in ms; 0 where none is. */
export async function longestWaitMs(db: Queryable): Promise<number> {
  const found = await row<{ ms: number | null }>(
    db,
    `SELECT TIMESTAMPDIFF(MICROSECOND, MIN(run_after), UTC_TIMESTAMP(3)) / 1000 AS ms FROM jobs
     WHERE state = 'waiting' AND run_after <= UTC_TIMESTAMP(3)`,
  );
  return Math.max(0, Number(found?.ms ?? 0));
}
