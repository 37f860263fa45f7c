import { once } from 'node:events';
import { createServer, type Socket } from 'node:net';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { TestEcoute } from '../testing/ecoute';
import { isDuplicate, migrate, openPool, ping, row, rows, execute, transaction } from './database';
import { isDatabaseAway } from './trouble';

describe('the database', () => {
  let t: TestEcoute;
  beforeAll(async () => {
    t = await TestEcoute.open();
    await t.ecoute.pool.query('CREATE TABLE trial (id INT PRIMARY KEY, n INT NOT NULL)');
  });
  beforeEach(async () => {
    await t.ecoute.pool.query('DELETE FROM trial');
    await t.ecoute.pool.query('INSERT INTO trial VALUES (1, 0), (2, 0)');
  });
  afterAll(() => t.close());

  it('migrates once, also when two servers start at the same time', async () => {
    const folder = join(__dirname, '../migrations');
    expect(
      await Promise.all([migrate(t.config.database, folder), migrate(t.config.database, folder)]),
    ).toEqual([[], []]);
    const found = await rows<{ name: string }>(t.ecoute.pool, 'SELECT name FROM migrations');
    expect(found.map(f => f.name)).toContain('0001-first.sql');
  });

  it('goes on with a migration that broke in the middle, where it broke', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'ecoute-migrations-'));
    const file = join(folder, '9001-two.sql');
    const first = 'CREATE TABLE half_done (id INT PRIMARY KEY);';
    writeFileSync(file, `${first}\nINSERT INTO nowhere VALUES (1);`);
    await expect(migrate(t.config.database, folder)).rejects.toThrow(/nowhere/);
    // Mended, or run by the next Ecoute: the table that is there already is not made again.
    writeFileSync(file, `${first}\nINSERT INTO half_done VALUES (1);`);
    expect(await migrate(t.config.database, folder)).toEqual(['9001-two.sql']);
    expect(await rows(t.ecoute.pool, 'SELECT id FROM half_done')).toEqual([{ id: 1 }]);
    rmSync(folder, { recursive: true });
  });

  it('keeps all of a transaction or nothing', async () => {
    const { pool } = t.ecoute;
    const failing = transaction(pool, async db => {
      await execute(db, 'UPDATE trial SET n = 5 WHERE id = 1');
      throw new Error('half way');
    });
    await expect(failing).rejects.toThrow('half way');
    expect(await row(pool, 'SELECT n FROM trial WHERE id = 1')).toEqual({ n: 0 });
  });

  it('tries a deadlock’s victim again, so that both change what they came for', async () => {
    const { pool } = t.ecoute;
    let ready = 0;
    const both = () =>
      new Promise<void>(resolve => {
        ready += 1;
        const wait = () => (ready >= 2 ? resolve() : setTimeout(wait, 5));
        wait();
      });
    const crossing = (first: number, second: number) =>
      transaction(pool, async db => {
        await execute(db, 'UPDATE trial SET n = n + 1 WHERE id = :first', { first });
        await both();
        await execute(db, 'UPDATE trial SET n = n + 1 WHERE id = :second', { second });
      });
    await Promise.all([crossing(1, 2), crossing(2, 1)]);
    expect(await rows(pool, 'SELECT n FROM trial ORDER BY id')).toEqual([{ n: 2 }, { n: 2 }]);
  });

  it('tries a statement by itself again where it was the victim', async () => {
    const { pool } = t.ecoute;
    const waiting = async () =>
      (await row<{ n: number }>(
        pool,
        "SELECT COUNT(*) AS n FROM information_schema.processlist WHERE info LIKE 'UPDATE trial SET n = n + 5%' AND time_ms > 200",
      ))!.n;
    let alone: Promise<number> | undefined;
    await transaction(pool, async db => {
      // Whoever changed less is the victim: this one changes much.
      const many = Array.from({ length: 100 }, (_, i) => `(${100 + i}, 0)`).join();
      await execute(db, `INSERT INTO trial VALUES ${many}`);
      await execute(db, 'UPDATE trial SET n = 1 WHERE id = 2');
      alone = execute(pool, 'UPDATE trial SET n = n + 5 WHERE id < 50');
      while ((await waiting()) === 0) await new Promise(resolve => setTimeout(resolve, 20));
      await execute(db, 'UPDATE trial SET n = 1 WHERE id = 1');
    });
    expect(await alone).toBe(2);
    expect(await rows(pool, 'SELECT n FROM trial WHERE id < 50 ORDER BY id')).toEqual([{ n: 6 }, { n: 6 }]);
  });

  it('knows a duplicate when it sees one', async () => {
    const error = await execute(t.ecoute.pool, 'INSERT INTO trial VALUES (1, 9)').catch((e: unknown) => e);
    expect(isDuplicate(error)).toBe(true);
    expect(isDuplicate(new Error('else'))).toBe(false);
  });

  it('keeps instants as they are, to the millisecond and in UTC', async () => {
    const at = new Date('2026-03-29T01:30:00.123Z');
    const back = await row<{ at: Date }>(t.ecoute.pool, 'SELECT CAST(:at AS DATETIME(3)) AS at', { at });
    expect(back!.at.toISOString()).toBe(at.toISOString());
  });

  it('is called away, not broken, when nothing answers', async () => {
    const pool = openPool({ ...t.config.database, socketPath: undefined, port: 1 });
    const error = await ping(pool).catch((e: unknown) => e);
    expect(isDatabaseAway(error)).toBe(true);
    expect(isDatabaseAway(new Error('else'))).toBe(false);
    await pool.end();
  });

  it('is away as well when it takes the connection and then says nothing', async () => {
    const sockets: Socket[] = [];
    const mute = createServer(socket => void sockets.push(socket)).listen(0, '127.0.0.1');
    await once(mute, 'listening');
    const pool = openPool({
      ...t.config.database,
      socketPath: undefined,
      port: (mute.address() as { port: number }).port,
    });
    await expect(ping(pool, 50)).rejects.toThrow('No answer within 50 ms.');
    sockets.forEach(socket => socket.destroy());
    await new Promise(resolve => mute.close(resolve));
  });
});
