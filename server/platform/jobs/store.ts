import { row, run, rows, transaction, type Pool, type Queryable } from '../database';

export interface Job {
  id: number;
  kind: string;
  payload: unknown;
  attempts: number;
}

/** A job that a crashed server held is taken up again after this long. */
const LEASE_SECONDS = 120;
const MOST_ATTEMPTS = 5;

/** When and how soon a job is done. */
export interface JobTiming {
  /** Not before this instant; at once when left out. */
  runAfter?: Date;
  /** Somebody waits for it: before all jobs that are not urgent. */
  urgent?: boolean;
}

/** Adds a job; inside the caller's transaction it exists only if that commits. */
export async function addJob(
  db: Queryable,
  kind: string,
  payload: object,
  { runAfter, urgent = false }: JobTiming = {},
): Promise<void> {
  await run(
    db,
    `INSERT INTO jobs (kind, payload, urgent, run_after, created_at)
     VALUES (:kind, :payload, :urgent, COALESCE(:runAfter, UTC_TIMESTAMP(3)), UTC_TIMESTAMP(3))`,
    { kind, payload: JSON.stringify(payload), urgent, runAfter: runAfter ?? null },
  );
}

/** Takes the next job for this server, urgent ones first; other servers skip the row. Null when nothing waits. */
export async function takeJob(pool: Pool): Promise<Job | null> {
  return transaction(pool, async db => {
    const find = (urgent: boolean) =>
      row<{ id: number; kind: string; payload: string; attempts: number }>(
        db,
        `SELECT id, kind, payload, attempts FROM jobs
         WHERE urgent = :urgent AND ((state = 'waiting' AND run_after <= UTC_TIMESTAMP(3))
            OR (state = 'running' AND locked_until < UTC_TIMESTAMP(3)))
         ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED`,
        { urgent },
      );
    const next = (await find(true)) ?? (await find(false));
    if (!next) return null;
    await run(
      db,
      `UPDATE jobs SET state = 'running', attempts = attempts + 1,
         locked_until = UTC_TIMESTAMP(3) + INTERVAL ${LEASE_SECONDS} SECOND WHERE id = :id`,
      { id: next.id },
    );
    return { ...next, payload: JSON.parse(next.payload) as unknown, attempts: next.attempts + 1 };
  });
}

/** This server is still at it: nobody else takes the job up meanwhile. */
export async function holdJob(db: Queryable, id: number): Promise<void> {
  await run(
    db,
    `UPDATE jobs SET locked_until = UTC_TIMESTAMP(3) + INTERVAL ${LEASE_SECONDS} SECOND
     WHERE id = :id AND state = 'running'`,
    { id },
  );
}

/** A finished job leaves the table, so that looking for the next one stays quick. */
export async function finishJob(db: Queryable, id: number): Promise<void> {
  await run(db, 'DELETE FROM jobs WHERE id = :id', { id });
}

/** Puts a failed job back with a growing wait, or gives it up after the last attempt. */
export async function failJob(db: Queryable, job: Job, error: string): Promise<void> {
  const over = job.attempts >= MOST_ATTEMPTS;
  await run(
    db,
    `UPDATE jobs SET state = :state, last_error = :error, locked_until = NULL,
       run_after = UTC_TIMESTAMP(3) + INTERVAL :wait SECOND WHERE id = :id`,
    { id: job.id, state: over ? 'failed' : 'waiting', error: error.slice(0, 2_000), wait: 2 ** job.attempts },
  );
}

/** On a start with one server per database: what an earlier, killed run held is free again at once. */
export async function releaseHeldJobs(db: Queryable): Promise<number> {
  return run(db, "UPDATE jobs SET state = 'waiting', locked_until = NULL WHERE state = 'running'");
}

export async function jobCounts(db: Queryable): Promise<Record<string, number>> {
  const found = await rows<{ state: string; n: number }>(
    db,
    'SELECT state, COUNT(*) AS n FROM jobs GROUP BY state',
  );
  return Object.fromEntries(found.map(r => [r.state, Number(r.n)]));
}
