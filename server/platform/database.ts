import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import mysql, {
  type Pool,
  type PoolConnection,
  type ResultSetHeader,
  type RowDataPacket,
} from 'mysql2/promise';
import type { Config } from './config';

/** What a store needs: a pool or a connection inside a transaction. */
export type Queryable = Pick<Pool, 'query' | 'execute'>;

export type { Pool };

/** Opens a pool. Instants travel as UTC; DECIMAL and BIGINT as numbers (ours all fit). */
export function openPool(config: Config['database']): Pool {
  const pool = mysql.createPool({
    ...config,
    connectionLimit: 12,
    timezone: 'Z',
    charset: 'utf8mb4',
    decimalNumbers: true,
    // Stores read their own JSON; a column that holds it must not arrive parsed sometimes.
    jsonStrings: true,
    namedPlaceholders: true,
    connectTimeout: 5_000,
    // Where a question was asked is found out when it fails (`asked`), not noted with each.
    trace: false,
  });
  pool.pool.on('connection', connection => {
    connection.query(
      "SET time_zone = '+00:00', sql_mode = 'STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION', " +
        // Each statement sees what is committed when it begins: a lock that was waited for is followed by fresh reads.
        `tx_isolation = 'READ-COMMITTED', max_statement_time = ${LONGEST_STATEMENT_SEC}`,
    );
  });
  return pool;
}

/** A statement that takes longer is ended by the database. */
const LONGEST_STATEMENT_SEC = 30;
/** A database that does not answer for this long is not waited for any more. */
const ANSWER_MS = 15_000;

class NoAnswer extends Error {
  readonly code = 'PROTOCOL_SEQUENCE_TIMEOUT';
  constructor(withinMs: number) {
    super(`No answer within ${withinMs} ms.`);
  }
}

/** @throws NoAnswer when it takes too long; what comes of it later is passed to `late` */
async function answered<T>(asked: Promise<T>, limitMs = ANSWER_MS, late?: (value: T) => void): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  let isOver = false;
  const silence = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      isOver = true;
      reject(new NoAnswer(limitMs));
    }, limitMs);
  });
  asked.then(
    value => isOver && late?.(value),
    () => undefined,
  );
  return Promise.race([asked, silence]).finally(() => clearTimeout(timer));
}

type Values = object;

/** Rows of a query with named placeholders (`:id`). */
export async function rows<T>(db: Queryable, sql: string, values: Values = {}): Promise<T[]> {
  return asked(db, () => db.query<(T & RowDataPacket)[]>(sql, values as never));
}

/**
 * What a statement leads to. One by itself, outside of a transaction, is tried again where it was a deadlock's victim:
 * nothing of it was done.
 * @throws what the database says, with the places that asked
 */
async function asked<T>(db: Queryable, ask: () => Promise<[T, ...unknown[]]>): Promise<T> {
  const isByItself = 'getConnection' in db;
  for (let attempt = 0; ; attempt++)
    try {
      return (await answered(ask(), LONGEST_STATEMENT_SEC * 1_000 + 5_000))[0];
    } catch (error) {
      if (isByItself && (await isWorthATry(error, attempt))) continue;
      if (error instanceof Error) Error.captureStackTrace(error, asked);
      throw error;
    }
}

/** The first row, or null. */
export async function row<T>(db: Queryable, sql: string, values: Values = {}): Promise<T | null> {
  return (await rows<T>(db, sql, values))[0] ?? null;
}

/** Runs a statement; the number of rows it touched. */
export async function execute(db: Queryable, sql: string, values: Values = {}): Promise<number> {
  return (await asked(db, () => db.query<ResultSetHeader>(sql, values as never))).affectedRows;
}

/** Rows of a query that is asked all the time: prepared once a connection. @param values in the order of its `?` */
export async function preparedRows<T>(db: Queryable, sql: string, values: readonly string[]): Promise<T[]> {
  return asked(db, () => db.execute<(T & RowDataPacket)[]>(sql, [...values]));
}

/**
 * Answers when the database does.
 * @param withinMs a database that accepts connections but does not answer in this time counts as away
 * @throws Error when it is away
 */
export async function ping(db: Queryable, withinMs = 2_000): Promise<void> {
  await answered(db.query('SELECT 1'), withinMs);
}

/** True for the error of a second row with a key that must be unique. */
export function isDuplicate(error: unknown): boolean {
  return (error as { code?: string } | null)?.code === 'ER_DUP_ENTRY';
}

/** What another one stood in the way of is tried again so often. */
const MOST_TRIES = 5;

/** True for a deadlock's victim that may try again, a moment later: not both in the same moment. */
async function isWorthATry(error: unknown, attempt: number): Promise<boolean> {
  if ((error as { code?: string } | null)?.code !== 'ER_LOCK_DEADLOCK' || attempt >= MOST_TRIES) return false;
  await new Promise(resolve => setTimeout(resolve, Math.random() * 30 * (attempt + 1)));
  return true;
}

/** All or nothing. A deadlock victim is tried again, a moment later. */
export async function transaction<T>(pool: Pool, work: (db: PoolConnection) => Promise<T>): Promise<T> {
  for (let attempt = 0; ; attempt++) {
    const connection = await answered(pool.getConnection(), ANSWER_MS, late => late.release());
    let isLost = false;
    try {
      await answered(connection.beginTransaction());
      const result = await work(connection);
      await answered(connection.commit());
      return result;
    } catch (error) {
      isLost = error instanceof NoAnswer;
      if (!isLost) await answered(connection.rollback()).catch(() => (isLost = true));
      if (!(await isWorthATry(error, attempt))) throw error;
    } finally {
      // A connection that still waits for an answer is no use to anybody else; the database undoes what was open.
      if (isLost) connection.destroy();
      else connection.release();
    }
  }
}

/** The statements of a plain SQL file: each ends with a semicolon at the end of a line. */
function statementsOf(text: string): string[] {
  return text
    .split('\n')
    .filter(line => !line.trimStart().startsWith('--'))
    .join('\n')
    .split(/;\s*(?:\n|$)/)
    .map(statement => statement.trim())
    .filter(Boolean);
}

/**
 * Brings the schema up to date: plain SQL files in order, forward only, one server at a time. The database commits each
 * change of its structure at once, so it is remembered statement by statement how far a file has come: one that breaks
 * in the middle goes on there at the next start.
 * @returns the names of the migrations that ran
 * @throws Error when another server has been changing the database for a minute
 */
export async function migrate(config: Config['database'], folder: string): Promise<string[]> {
  const db = await mysql.createConnection({
    ...config,
    charset: 'utf8mb4',
    timezone: 'Z',
  });
  try {
    const [[lock]] = await db.query<RowDataPacket[]>("SELECT GET_LOCK('ecoute-migrate', 60) AS got");
    if (lock?.got !== 1)
      throw new Error(
        'Another Ecoute has been bringing this database up to date for a minute. Wait for it, then start again.',
      );
    await db.query(
      'CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(120) PRIMARY KEY, ran_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3))',
    );
    await db.query(
      'CREATE TABLE IF NOT EXISTS migration_steps (name VARCHAR(120) PRIMARY KEY, done INT UNSIGNED NOT NULL)',
    );
    const [done] = await db.query<RowDataPacket[]>('SELECT name FROM migrations');
    const known = new Set(done.map(r => r.name as string));
    const names = readdirSync(folder)
      .filter(n => n.endsWith('.sql') && !known.has(n))
      .sort();
    for (const name of names) {
      const [[step]] = await db.query<RowDataPacket[]>('SELECT done FROM migration_steps WHERE name = ?', [
        name,
      ]);
      const statements = statementsOf(readFileSync(join(folder, name), 'utf8'));
      for (let n = Number(step?.done ?? 0); n < statements.length; n++) {
        await db.query(statements[n]!);
        await db.query('REPLACE INTO migration_steps (name, done) VALUES (?, ?)', [name, n + 1]);
      }
      await db.query('INSERT INTO migrations (name) VALUES (?)', [name]);
      await db.query('DELETE FROM migration_steps WHERE name = ?', [name]);
    }
    return names;
  } finally {
    await db.end();
  }
}
