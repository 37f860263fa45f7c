import { hostname } from 'node:os';
import { hurry, TestEcoute } from '../../testing/ecoute';
import { execute, type Queryable } from '../database';
import { JobQueue } from './queue';
import {
  addJob,
  dismissJob,
  finishJob,
  givenUpJobs,
  hasLivingJob,
  holdJob,
  jobCounts,
  letGoOfJob,
  releaseHeldJobs,
  takeJob,
  tryAgain,
} from './store';

describe('the job queue', () => {
  let t: TestEcoute;
  beforeAll(async () => {
    t = await TestEcoute.open();
    // The test's own queues work here; the server's would take their jobs.
    await t.ecoute.jobs.stop();
  });
  beforeEach(async () => {
    await t.ecoute.pool.query('DELETE FROM jobs');
  });
  afterAll(() => t.close());

  const until = async (done: () => boolean | Promise<boolean>) => {
    while (!(await done())) await new Promise(resolve => setTimeout(resolve, 20));
  };
  const soon = () => hurry(t.ecoute.pool);
  const noSpace = () => Object.assign(new Error('write failed'), { code: 'ENOSPC' });
  const quick = { waitMs: () => 5 };
  /** Jobs that say that they have begun, and go on until they are let go of, the first one first. */
  const holding = () => {
    const begun: string[] = [];
    const open: (() => void)[] = [];
    const held = (name: string) => async () => {
      begun.push(name);
      await new Promise<void>(resolve => open.push(resolve));
    };
    return { begun, open, held };
  };

  it('does each job once, however many servers work', async () => {
    const { pool } = t.ecoute;
    const done: number[] = [];
    const queues = [1, 2, 3].map(() => {
      const queue = new JobQueue(pool);
      queue.on('count', async ({ n }: { n: number }) => {
        await new Promise(resolve => setTimeout(resolve, 5));
        done.push(n);
      });
      return queue;
    });
    for (let n = 0; n < 30; n++) await addJob(pool, 'count', { n });
    queues.forEach(q => q.start());
    await until(() => done.length >= 30);
    await Promise.all(queues.map(q => q.stop()));
    expect([...done].sort((a, b) => a - b)).toEqual(Array.from({ length: 30 }, (_, n) => n));
    const [left] = await pool.query("SELECT 1 FROM jobs WHERE kind = 'count'");
    expect(left).toEqual([]);
  });

  it('tries a failed job again as often as its kind says, brings what waits for it to an end, and keeps it in sight', async () => {
    const { pool } = t.ecoute;
    let tried = 0;
    const ended: unknown[] = [];
    const queue = new JobQueue(pool);
    queue.on(
      'breaks',
      async () => {
        tried += 1;
        throw new Error('no luck');
      },
      { ...quick, tries: 3, givenUp: async (payload: unknown) => void ended.push(payload) },
    );
    await addJob(pool, 'breaks', { id: 'x' });
    queue.start();
    await until(async () => (await jobCounts(pool)).failed === 1);
    expect([tried, ended]).toEqual([3, [{ id: 'x' }]]);
    const [failed] = await givenUpJobs(pool);
    expect(failed).toMatchObject({ kind: 'breaks', failures: 3, error: expect.stringContaining('no luck') });
    // From the administrator's page: once more, all of its tries.
    expect(await tryAgain(pool, failed!.id)).toBe(1);
    queue.start();
    await until(() => tried === 6);
    await until(async () => (await jobCounts(pool)).failed === 1);
    await queue.stop();
    expect(await dismissJob(pool, failed!.id)).toBe(true);
    expect(await jobCounts(pool)).toEqual({});
  });

  it('never gives up for what is not the job’s fault: a full disk, a database away', async () => {
    const { pool } = t.ecoute;
    let tried = 0;
    const queue = new JobQueue(pool);
    queue.on(
      'looks',
      async () => {
        tried += 1;
        // A worker thread hands an error on in words alone.
        if (tried < 12) throw tried % 2 ? noSpace() : new Error('ENOSPC: no space left on device, write');
      },
      { ...quick, tries: 2 },
    );
    await addJob(pool, 'looks', {});
    queue.start();
    await until(async () => tried === 12 && Object.keys(await jobCounts(pool)).length === 0);
    await queue.stop();
  });

  it('gives a mail up after its day, whatever it failed by', async () => {
    const { pool } = t.ecoute;
    const queue = new JobQueue(pool);
    queue.on(
      'mails',
      async () => {
        throw Object.assign(new Error('connect'), { code: 'ECONNREFUSED' });
      },
      { ...quick, tries: Infinity, forMs: 60_000 },
    );
    await addJob(pool, 'mails', {});
    queue.start();
    await until(async () => {
      const [found] = await pool.query('SELECT attempts FROM jobs');
      return (found as { attempts: number }[])[0]!.attempts > 3;
    });
    await execute(pool, 'UPDATE jobs SET created_at = created_at - INTERVAL 1 DAY');
    await until(async () => (await jobCounts(pool)).failed === 1);
    await queue.stop();
  });

  it('ends with a job that ends its server each time', async () => {
    const { pool } = t.ecoute;
    const ended: unknown[] = [];
    await addJob(pool, 'kills', { id: 'k' });
    for (let n = 0; n < 3; n++) {
      await takeJob(pool);
      await execute(pool, 'UPDATE jobs SET locked_until = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND');
    }
    const queue = new JobQueue(pool);
    queue.on('kills', async () => ended.push('done') as never, {
      tries: 3,
      givenUp: async () => void ended.push('given up'),
    });
    queue.start();
    await until(async () => (await jobCounts(pool)).failed === 1);
    await queue.stop();
    expect(ended).toEqual(['given up']);
  });

  it('keeps slots for what people wait for, and does one job of a person at a time there', async () => {
    const { pool } = t.ecoute;
    const [a, b] = ['6c5ef1a0-0000-4000-8000-000000000001', '6c5ef1a0-0000-4000-8000-000000000002'];
    const begun: string[] = [];
    const open: (() => void)[] = [];
    const slow = (name: string) => async () => {
      begun.push(name);
      await new Promise<void>(resolve => open.push(resolve));
    };
    const queue = new JobQueue(pool);
    queue.on('copy', slow('copy'));
    queue.on('look', async ({ n }: { n: string }) => slow(n)(), { slot: 'inspect' });
    for (let n = 0; n < 4; n++) await addJob(pool, 'copy', {}, { urgent: true });
    queue.start();
    await until(() => begun.length === 2);
    for (const [n, ownerId] of [
      ['a1', a],
      ['a2', a],
      ['b1', b],
    ] as const)
      await addJob(pool, 'look', { n }, { ownerId });
    await until(() => begun.length === 4);
    expect(begun).toEqual(['copy', 'copy', 'a1', 'b1']);
    const wait = setInterval(() => open.splice(0).forEach(go => go()), 10);
    await until(async () => Object.keys(await jobCounts(pool)).length === 0);
    await queue.stop();
    clearInterval(wait);
  });

  it('begins nothing heavy while something is looked at, but one of it where that does not end', async () => {
    const { pool } = t.ecoute;
    const { begun, open, held } = holding();
    const queue = new JobQueue(pool);
    queue.on('look', held('look'), { slot: 'inspect' });
    queue.on('copy', held('copy'), { slot: 'media' });
    queue.on('mail', async () => void begun.push('mail'));
    // All of them are there at the first look at the table, where nothing is under way yet that would keep the heavy ones back.
    await addJob(pool, 'look', {});
    for (let n = 0; n < 2; n++) await addJob(pool, 'copy', {});
    queue.start();
    await until(() => begun.length === 1);
    await queue.add(pool, 'mail', {});
    // Whatever is not heavy goes on, and by then the heavy ones were asked for as well.
    await until(() => begun.length === 2);
    expect(begun).toEqual(['look', 'mail']);
    const now = Date.now();
    const clock = jest.spyOn(Date, 'now').mockImplementation(() => now + 11_000);
    await until(() => begun.length === 3);
    clock.mockRestore();
    await queue.add(pool, 'mail', {});
    await until(() => begun.length === 4);
    expect(begun).toEqual(['look', 'mail', 'copy', 'mail']);
    open.shift()!();
    await until(() => begun.length === 5);
    open.splice(0).forEach(go => go());
    await queue.stop();
    expect(begun.at(-1)).toBe('copy');
  });

  it('lets the next look go before what is heavy, where a look ends while the row of those who take is slow', async () => {
    const { pool } = t.ecoute;
    const { begun, open, held } = holding();
    const queue = new JobQueue(pool, { inspect: 1 });
    queue.on('look', held('look'), { slot: 'inspect' });
    queue.on('copy', held('copy'), { slot: 'media' });
    for (let n = 0; n < 2; n++) await addJob(pool, 'look', {});
    await addJob(pool, 'copy', {});
    // The first look at the table takes a look; the second, for whatever is light, stands still, and one for what is heavy waits behind it.
    let goOn = () => {};
    const still = new Promise<void>(resolve => (goOn = resolve));
    const connect = pool.getConnection.bind(pool);
    let takes = 0;
    const slow = jest.spyOn(pool, 'getConnection').mockImplementation(async () => {
      if (++takes > 1) await still;
      return connect();
    });
    queue.start();
    await until(() => begun.length === 1);
    open.shift()!();
    await until(async () => (await jobCounts(pool)).running === undefined);
    goOn();
    await until(() => begun.length >= 2);
    slow.mockRestore();
    expect(begun).toEqual(['look', 'look']);
    open.shift()!();
    await until(() => begun.length === 3);
    open.splice(0).forEach(go => go());
    await queue.stop();
    expect(begun.at(-1)).toBe('copy');
  });

  it('goes on with what is heavy, one at a time, beside looks that follow each other without an end', async () => {
    const { pool } = t.ecoute;
    const begun: string[] = [];
    const open: Record<string, (() => void)[]> = { look: [], copy: [] };
    const held = (name: string) => async () => {
      begun.push(name);
      await new Promise<void>(resolve => open[name]!.push(resolve));
    };
    const queue = new JobQueue(pool, { inspect: 1 });
    queue.on('look', held('look'), { slot: 'inspect' });
    queue.on('copy', held('copy'), { slot: 'media' });
    for (let n = 0; n < 5; n++) await addJob(pool, 'look', {});
    for (let n = 0; n < 3; n++) await addJob(pool, 'copy', {});
    queue.start();
    const next = async (count: number, ends: string) => {
      open[ends]!.shift()!();
      await until(() => begun.length === count);
    };
    await until(() => begun.length === 1);
    await next(2, 'look');
    expect(begun).toEqual(['look', 'look']);
    const now = Date.now();
    const clock = jest.spyOn(Date, 'now').mockImplementation(() => now + 11_000);
    const copies = () => begun.filter(name => name === 'copy').length;
    await next(4, 'look');
    expect(copies()).toBe(1);
    await next(5, 'copy');
    await next(6, 'look');
    expect(copies()).toBe(2);
    clock.mockRestore();
    const rest = setInterval(() => Object.values(open).forEach(o => o.splice(0).forEach(go => go())), 10);
    await until(() => begun.length === 8);
    await queue.stop();
    clearInterval(rest);
  });

  it('says whether a job of a slot is alone: no other beside it, and none that waits whose time has come', async () => {
    const { pool } = t.ecoute;
    const queue = new JobQueue(pool);
    const open: (() => void)[] = [];
    queue.on('copy', () => new Promise<void>(resolve => open.push(resolve)), { slot: 'media' });
    queue.on('mail', async () => undefined);
    expect(await new JobQueue(pool, { media: 1 }).isAlone('media')).toBe(false);
    await addJob(pool, 'copy', {});
    queue.start();
    await until(() => open.length === 1);
    expect(await queue.isAlone('media')).toBe(true);
    await addJob(pool, 'mail', {}, { runAfter: new Date(Date.now() + 60_000) });
    await addJob(pool, 'copy', {}, { runAfter: new Date(Date.now() + 60_000) });
    expect(await queue.isAlone('media')).toBe(true);
    await queue.add(pool, 'copy', {});
    expect(await queue.isAlone('media')).toBe(false);
    await until(() => open.length === 2);
    expect(await queue.isAlone('media')).toBe(false);
    open.splice(0).forEach(go => go());
    await queue.stop();
    await pool.query('DELETE FROM jobs');
  });

  it('looks once more where a job was added while it looked: what came too late for that look waits for no other turn', async () => {
    const { pool } = t.ecoute;
    const queue = new JobQueue(pool);
    queue.on('late', async () => undefined);
    const found: ((job: null) => void)[] = [];
    const take = jest
      .spyOn(queue as never as { take: (slot: string) => Promise<null> }, 'take')
      .mockImplementation(slot =>
        slot === 'work' ? new Promise(resolve => found.push(resolve)) : Promise.resolve(null),
      );
    queue.start();
    await until(() => found.length === 1);
    await queue.add(pool, 'late', {});
    // Its own look is asked for, while the first is under way.
    const asked = take.mock.calls.length;
    await until(() => take.mock.calls.length > asked);
    expect(found).toHaveLength(1);
    found[0]!(null);
    await new Promise(resolve => setImmediate(resolve));
    expect(found).toHaveLength(2);
    found[1]!(null);
    await queue.stop();
  });

  it('looks once for all that was added in a moment, and once more for what came after the first of it', async () => {
    const { pool } = t.ecoute;
    const queue = new JobQueue(pool);
    queue.on('many', async () => undefined);
    const looked = jest.spyOn(queue as never as { poll: () => void }, 'poll');
    queue.start();
    // At its start, and after the first look for what has no job.
    await until(() => looked.mock.calls.length >= 2);
    looked.mockClear();
    const told = { query: () => Promise.resolve([{ affectedRows: 1 }]) } as never as Queryable;
    await Promise.all(Array.from({ length: 100 }, () => queue.add(told, 'many', {})));
    expect(looked).not.toHaveBeenCalled();
    await until(() => looked.mock.calls.length >= 2);
    await new Promise(resolve => setTimeout(resolve, 100));
    // And once a second, whatever was added.
    expect(looked.mock.calls.length).toBeLessThan(10);
    // The next one has a look of its own again.
    const before = looked.mock.calls.length;
    await queue.add(told, 'many', {});
    await until(() => looked.mock.calls.length > before);
    await queue.stop();
  });

  it('does first what somebody waits for, and nothing before its time', async () => {
    const { pool } = t.ecoute;
    await addJob(pool, 'copy', {});
    await addJob(pool, 'later', {}, { runAfter: new Date(Date.now() + 60_000), urgent: true });
    await addJob(pool, 'look', {}, { urgent: true });
    expect((await takeJob(pool))!.kind).toBe('look');
    expect((await takeJob(pool))!.kind).toBe('copy');
    expect(await takeJob(pool)).toBeNull();
  });

  it('takes up what a crashed server held, and leaves alone what a living one holds', async () => {
    const { pool } = t.ecoute;
    await addJob(pool, 'long', {});
    const held = await takeJob(pool);
    expect(await takeJob(pool)).toBeNull();
    await execute(pool, 'UPDATE jobs SET locked_until = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND');
    expect(await takeJob(pool, 'another')).toMatchObject({ id: held!.id, attempts: 2, failures: 1 });
    // Whoever lost it changes nothing of it any more.
    await finishJob(pool, held!.id);
    await letGoOfJob(pool, held!.id);
    expect(await jobCounts(pool)).toEqual({ running: 1 });
    expect(await releaseHeldJobs(pool, ['nobody'])).toBe(0);
    expect(await releaseHeldJobs(pool, ['another'])).toBe(1);
    const again = await takeJob(pool);
    expect(again!.id).toBe(held!.id);
    await finishJob(pool, again!.id);
    expect(await jobCounts(pool)).toEqual({});
  });

  it('frees at its start what a process of this machine held that is gone, and nothing of another machine', async () => {
    const { pool } = t.ecoute;
    const done: number[] = [];
    for (const [n, holder] of [`${hostname()}/4194304/x`, 'elsewhere/1/x'].entries()) {
      await addJob(pool, 'held', { n });
      await takeJob(pool, holder);
    }
    const queue = new JobQueue(pool);
    queue.on('held', async ({ n }: { n: number }) => void done.push(n));
    queue.start();
    await until(() => done.length === 1);
    await queue.stop();
    expect([done, await jobCounts(pool)]).toEqual([[0], { running: 1 }]);
  });

  it('holds on to a job that takes long', async () => {
    const { pool } = t.ecoute;
    await addJob(pool, 'long', {});
    const held = await takeJob(pool);
    await execute(pool, 'UPDATE jobs SET locked_until = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND');
    await holdJob(pool, held!.id);
    expect(await takeJob(pool)).toBeNull();
    await finishJob(pool, held!.id);
    // What is finished is not brought back.
    await holdJob(pool, held!.id);
    expect(await jobCounts(pool)).toEqual({});
  });

  it('keeps a job only if the work that asked for it was kept', async () => {
    const { pool } = t.ecoute;
    const connection = await pool.getConnection();
    await connection.beginTransaction();
    await addJob(connection, 'never', {});
    await connection.rollback();
    connection.release();
    expect(await takeJob(pool)).toBeNull();
  });

  it('waits for the job under way when it is told to stop, and lets go of one that does not end', async () => {
    const { pool } = t.ecoute;
    let ended = false;
    let begun = 0;
    const queue = new JobQueue(pool);
    queue.on('slow', async () => {
      begun += 1;
      await new Promise(resolve => setTimeout(resolve, 100));
      ended = true;
    });
    queue.on('endless', async () => {
      begun += 1;
      await new Promise(() => undefined);
    });
    await addJob(pool, 'slow', {});
    queue.start();
    await until(() => begun === 1);
    expect([await queue.stop(), ended]).toEqual([true, true]);
    await addJob(pool, 'endless', {});
    queue.start();
    await until(() => begun === 2);
    expect(await queue.stop(50)).toBe(false);
    await queue.letGo();
    // As if it had not been begun: it is free for the next start, and nothing counts against it.
    expect(await takeJob(pool)).toMatchObject({ kind: 'endless', attempts: 1, failures: 0 });
  });

  it('fails a job of a kind that nobody knows, goes on with the next, and adds none of such a kind', async () => {
    const { pool } = t.ecoute;
    const done: string[] = [];
    const queue = new JobQueue(pool, { work: 1 });
    queue.on('known', async () => void done.push('known'));
    await addJob(pool, 'unknown', {});
    await addJob(pool, 'known', {});
    queue.start();
    await until(() => done.length === 1);
    await queue.stop();
    expect(await jobCounts(pool)).toEqual({ waiting: 1 });
    await expect(queue.add(pool, 'unknown', {})).rejects.toThrow(RangeError);
  });

  it('asks once for one thing, and again when the job for it was given up', async () => {
    const { pool } = t.ecoute;
    const subjectId = '6c5ef1a0-0000-4000-8000-000000000009';
    const queue = new JobQueue(pool);
    queue.on('thing', async () => undefined);
    for (let n = 0; n < 3; n++) await queue.ensure(pool, 'thing', {}, { subjectId });
    expect(await jobCounts(pool)).toEqual({ waiting: 1 });
    await execute(pool, "UPDATE jobs SET state = 'failed'");
    expect(await hasLivingJob(pool, 'thing', subjectId)).toBe(false);
    await queue.ensure(pool, 'thing', {}, { subjectId });
    expect(await jobCounts(pool)).toEqual({ failed: 1, waiting: 1 });
    // One that is under way may have looked before what has just changed.
    await takeJob(pool);
    await queue.ensure(pool, 'thing', {}, { subjectId });
    expect(await jobCounts(pool)).toEqual({ failed: 1, running: 1 });
    for (let n = 0; n < 3; n++) await queue.ask(pool, 'thing', {}, { subjectId });
    expect(await jobCounts(pool)).toEqual({ failed: 1, running: 1, waiting: 1 });
  });

  it('looks at its start and again for what has no job and should; one look that fails hinders no other', async () => {
    const { pool } = t.ecoute;
    const done: string[] = [];
    const queue = new JobQueue(pool);
    queue.on('found', async () => void done.push('found'));
    queue.onSweep(async () => {
      throw new Error('broken');
    });
    queue.onSweep(() => queue.ensure(pool, 'found', {}));
    queue.start();
    await until(() => done.length === 1);
    await queue.sweep();
    await until(() => done.length === 2);
    await queue.stop();
    await soon();
  });
});
