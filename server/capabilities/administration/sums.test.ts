import { randomUUID } from 'node:crypto';
import type { Administration } from '@ecoute/contract/administration';
import { transaction } from '../../platform/database';
import { TestEcoute, type Visitor } from '../../testing/ecoute';
import { addUp, NOTED, putRight, wrongSums } from './sums.store';

describe('sums of room and people that the database keeps', () => {
  let t: TestEcoute;
  let admin: Visitor;
  const owners = Array.from({ length: 6 }, () => randomUUID());

  beforeAll(async () => {
    t = await TestEcoute.open();
    admin = await t.person('teacher');
    await t.ecoute.pool.query('UPDATE people SET is_admin = TRUE WHERE id = ?', [admin.id]);
    for (const id of owners)
      await t.ecoute.pool.query(
        "INSERT INTO people (id, sign_in_name, display_name, role, created_at) VALUES (?, ?, 'Owner', 'student', UTC_TIMESTAMP(3))",
        [id, `owner-${id}`],
      );
  });
  afterAll(() => t.close());

  const overview = async () => (await admin.ask<Administration>('GET', '/api/administration')).body;
  const wrong = () => Promise.all(NOTED.map(noted => wrongSums(t.ecoute.pool, noted)));
  const right = NOTED.map(() => 0);
  const record = async (ownerId: string, bytes: number | null, purpose = 'take') => {
    const id = randomUUID();
    await t.ecoute.pool.query(
      `INSERT INTO recordings (id, owner_id, purpose, state, announced_type, size_bytes, limit_ms, created_at)
       VALUES (?, ?, ?, 'stored', 'audio/wav', ?, 1000, UTC_TIMESTAMP(3))`,
      [id, ownerId, purpose, bytes],
    );
    return id;
  };

  it('follow recordings that come, grow, change hands and go, and name whoever keeps most', async () => {
    const { pool } = t.ecoute;
    const [a, b] = owners as [string, string];
    const [one, two] = [await record(a, null), await record(a, 500)];
    await record(b, 70, 'note');
    expect(await overview()).toMatchObject({ room: { byPurpose: { take: 500, note: 70 } } });
    await pool.query('UPDATE recordings SET size_bytes = 1000 WHERE id = ?', [one]);
    await pool.query('UPDATE recordings SET owner_id = ? WHERE owner_id = ?', [b, a]);
    expect((await overview()).largest.map(l => [l.id, l.bytes])).toEqual([[b, 1_570]]);
    await pool.query('UPDATE recordings SET size_bytes = NULL WHERE id = ?', [one]);
    await pool.query("UPDATE recordings SET problem = 'damaged' WHERE id = ?", [two]);
    await pool.query('DELETE FROM recordings WHERE id IN (?, ?)', [one, two]);
    const { room, largest } = await overview();
    expect([room.byPurpose, largest.map(l => l.bytes)]).toEqual([{ note: 70 }, [70]]);
    expect(await wrong()).toEqual(right);
  });

  it('follow accounts that are made, change their role, are closed, opened and go', async () => {
    const { pool } = t.ecoute;
    const before = (await overview()).people;
    const [a, b, c] = owners as [string, string, string];
    await pool.query("UPDATE people SET role = 'teacher' WHERE id = ?", [a]);
    await pool.query('UPDATE people SET closed_at = UTC_TIMESTAMP(3) WHERE id IN (?, ?)', [a, b]);
    await pool.query('UPDATE people SET guest_link_id = UUID() WHERE id = ?', [c]);
    await pool.query('UPDATE people SET closed_at = NULL WHERE id = ?', [b]);
    await pool.query('DELETE FROM people WHERE id = ?', [owners[5]]);
    expect((await overview()).people).toEqual({
      teachers: before.teachers + 1,
      students: before.students - 3,
      guests: before.guests + 1,
      closed: before.closed + 1,
    });
    expect(await wrong()).toEqual(right);
  });

  it('are added up once, whoever does it, and keep nobody waiting who records', async () => {
    const { pool } = t.ecoute;
    const a = owners[0]!;
    const open = await pool.getConnection();
    await open.beginTransaction();
    const held = await record(a, 100);
    await open.query('UPDATE recordings SET size_bytes = 200 WHERE id = ?', [held]);
    // Another one of the same person in the same moment, and everything that is known so far is added up.
    await record(a, 30);
    await Promise.all([addUp(pool), addUp(pool)]);
    const before = (await overview()).largest.find(l => l.id === a)!.bytes;
    await open.commit();
    open.release();
    expect((await overview()).largest.find(l => l.id === a)!.bytes).toBe(before + 100);
    expect(await wrong()).toEqual(right);
    const [left] = await pool.query('SELECT COUNT(*) AS n FROM kept_changes');
    expect(left).toEqual([{ n: 0 }]);
  });

  it('are put right where somebody records and others add up between any two of its steps, and keep nobody waiting', async () => {
    const { pool } = t.ecoute;
    for (let at = 0, steps = 1; at < steps; at++) {
      await pool.query('UPDATE kept_by_owner SET bytes = bytes + 7 LIMIT 2');
      await pool.query('UPDATE kept_by_purpose SET bytes = bytes - 3 LIMIT 1');
      expect(await wrong()).toEqual([3, 0]);
      let step = 0;
      const watched = Object.create(pool) as typeof pool;
      watched.getConnection = async () => {
        const connection = await pool.getConnection();
        const asked = Object.create(connection) as typeof connection;
        asked.query = (async (...args: [string]) => {
          const answer = await connection.query(...args);
          if (step++ === at) {
            await record(owners[2]!, 40);
            await addUp(pool);
            await record(owners[3]!, 5);
          }
          return answer;
        }) as never;
        return asked;
      };
      await putRight(watched, 'kept_changes');
      steps = step;
      expect(await wrong()).toEqual(right);
      await addUp(pool);
      expect(await wrong()).toEqual(right);
    }
  });

  it('hold where many record at once, where a transaction is taken back, and while they are counted anew', async () => {
    const { pool } = t.ecoute;
    const some = owners.slice(0, 4);
    await transaction(pool, async db => {
      await db.query("UPDATE recordings SET size_bytes = 9 WHERE purpose = 'note'");
      throw new Error('taken back');
    }).catch(() => undefined);
    expect(await wrong()).toEqual(right);
    const writers = Array.from({ length: 60 }, async (_, n) =>
      transaction(pool, async db => {
        const id = randomUUID();
        await db.query(
          `INSERT INTO recordings (id, owner_id, purpose, state, announced_type, size_bytes, limit_ms, created_at)
           VALUES (?, ?, 'take', 'arriving', 'audio/wav', NULL, 1000, UTC_TIMESTAMP(3))`,
          [id, some[n % 4]],
        );
        await db.query('UPDATE recordings SET size_bytes = ? WHERE id = ?', [n, id]);
        if (n % 5 === 0) await db.query('UPDATE recordings SET owner_id = ? WHERE id = ?', [some[0], id]);
        if (n % 7 === 0) await db.query('DELETE FROM recordings WHERE id = ?', [id]);
      }),
    );
    const counting = [...NOTED, ...NOTED].map(noted => putRight(pool, noted));
    const adding = Array.from({ length: 6 }, () => addUp(pool));
    await Promise.all([...writers, ...counting, ...adding]);
    expect(await wrong()).toEqual(right);
    await addUp(pool);
    expect(await wrong()).toEqual(right);
    await pool.query('UPDATE kept_by_owner SET bytes = bytes + 1 LIMIT 1');
    expect(await wrong()).toEqual([1, 0]);
    for (const noted of NOTED) await putRight(pool, noted);
    expect(await wrong()).toEqual(right);
  });
});
