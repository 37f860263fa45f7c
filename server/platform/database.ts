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
  });
  pool.pool.on('connection', connection => {
    connection.query("SET time_zone = '+00:00', sql_mode = 'STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION'");
  });
  return pool;
}

type Values = object;

/** Rows of a query with named placeholders (`:id`). */
export async function rows<T>(db: Queryable, sql: string, values: Values = {}): Promise<T[]> {
  const [found] = await db.query<(T & RowDataPacket)[]>(sql, values as never);
  return found;
}

/** The first row, or null. */
export async function row<T>(db: Queryable, sql: string, values: Values = {}): Promise<T | null> {
  return (await rows<T>(db, sql, values))[0] ?? null;
}

/** Runs a statement; the number of rows it touched. */
export async function run(db: Queryable, sql: string, values: Values = {}): Promise<number> {
  const [result] = await db.query<ResultSetHeader>(sql, values as never);
  return result.affectedRows;
}

/**
 * Answers when the database does.
 * @param withinMs a database that accepts connections but does not answer in this time counts as away
 * @throws Error when it is away
 */
export async function ping(db: Queryable, withinMs = 2_000): Promise<void> {
  let timer: NodeJS.Timeout | undefined;
  const silence = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error(`No answer within ${withinMs} ms.`)), withinMs);
  });
  const asked = db.query('SELECT 1');
  // Should it fail after the silence was reported, nobody is left to hear of it.
  asked.catch(() => undefined);
  await Promise.race([asked, silence]).finally(() => clearTimeout(timer));
}

/** True for the error of a second row with a key that must be unique. */
export function isDuplicate(error: unknown): boolean {
  return (error as { code?: string } | null)?.code === 'ER_DUP_ENTRY';
}

/** A transaction that another one stood in the way of is tried again so often. */
const MOST_TRIES = 5;

/** All or nothing. A deadlock victim is tried again, a moment later. */
export async function transaction<T>(pool: Pool, work: (db: PoolConnection) => Promise<T>): Promise<T> {
  for (let attempt = 0; ; attempt++) {
    const connection = await pool.getConnection();
    try {
      await connection.beginTransaction();
      const result = await work(connection);
      await connection.commit();
      return result;
    } catch (error) {
      await connection.rollback().catch(() => undefined);
      if ((error as { code?: string }).code === 'ER_LOCK_DEADLOCK' && attempt < MOST_TRIES) {
        // Whoever stands in each other's way does not try again in the same moment.
        await new Promise(resolve => setTimeout(resolve, Math.random() * 30 * (attempt + 1)));
        continue;
      }
      throw error;
    } finally {
      connection.release();
    }
  }
}

/**
 * Brings the schema up to date: plain SQL files in order, forward only, one server at a time.
 * @returns the names of the migrations that ran
 */
export async function migrate(config: Config['database'], folder: string): Promise<string[]> {
  const db = await mysql.createConnection({
    ...config,
    multipleStatements: true,
    charset: 'utf8mb4',
    timezone: 'Z',
  });
  try {
    await db.query("SELECT GET_LOCK('ecoute-migrate', 60)");
    await db.query(
      'CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(120) PRIMARY KEY, ran_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3))',
    );
    const [done] = await db.query<RowDataPacket[]>('SELECT name FROM migrations');
    const known = new Set(done.map(r => r.name as string));
    const names = readdirSync(folder)
      .filter(n => n.endsWith('.sql') && !known.has(n))
      .sort();
    for (const name of names) {
      await db.query(readFileSync(join(folder, name), 'utf8'));
      await db.query('INSERT INTO migrations (name) VALUES (?)', [name]);
    }
    return names;
  } finally {
    await db.end();
  }
}
