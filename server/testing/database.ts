/** A schema of its own for each of Jest's workers: migrated once, emptied for each test file. */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import mysql, { type RowDataPacket } from 'mysql2/promise';
import type { Config } from '../platform/config';
import { migrate } from '../platform/database';

export const MIGRATIONS = join(__dirname, '../migrations');

/** Where the test database is. The name of a schema begins with `database`, and is used by this worker alone. */
export function givenDatabase(purpose = ''): Config['database'] {
  const given = JSON.parse(process.env.ECOUTE_TEST_DATABASE!) as Config['database'];
  return { ...given, database: `${given.database}_${process.env.JEST_WORKER_ID ?? '1'}${purpose}` };
}

/** A schema without a row, brought up to date. */
export async function emptyDatabase(): Promise<Config['database']> {
  const config = givenDatabase();
  const db = await mysql.createConnection({ ...config, database: undefined, multipleStatements: true });
  try {
    const [found] = await db.query<RowDataPacket[]>(
      'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ?',
      [config.database],
    );
    const tables = found.map(f => f.name as string);
    if (!tables.includes('migrations') || !(await isUpToDate(db, config.database))) {
      await emptySchema(db, config.database);
      await db.end();
      await migrate(config, MIGRATIONS);
      return config;
    }
    const kept = ['migrations', 'migration_steps'];
    // What triggers note of others being emptied goes last.
    const noted = (name: string) => Number(name.endsWith('_changes'));
    await db.query(
      [
        `USE ${config.database}`,
        'SET foreign_key_checks = 0',
        ...tables
          .filter(name => !kept.includes(name))
          .sort((a, b) => noted(a) - noted(b))
          .map(name => `DELETE FROM ${name}`),
      ].join('; '),
    );
    await db.end();
    return config;
  } finally {
    db.destroy();
  }
}

/** A schema without a table. */
export async function emptySchema(db: mysql.Connection, name: string): Promise<void> {
  await db.query(`DROP DATABASE IF EXISTS ${name}`);
  await db.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`);
}

/** Another test may have brought in migrations of its own. */
async function isUpToDate(db: mysql.Connection, schema: string): Promise<boolean> {
  const [ran] = await db.query<RowDataPacket[]>(`SELECT name FROM ${schema}.migrations ORDER BY name`);
  const wanted = readdirSync(MIGRATIONS).filter(n => n.endsWith('.sql'));
  return JSON.stringify(ran.map(r => r.name as string)) === JSON.stringify(wanted.sort());
}
