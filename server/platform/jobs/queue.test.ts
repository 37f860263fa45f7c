import { TestEcoute } from '../../testing/ecoute';
import { JobQueue } from './queue';
import { addJob, failJob, finishJob, holdJob, jobCounts, releaseHeldJobs, takeJob } from './store';

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
    expect(await jobCounts(pool)).toEqual({});
  });

  it('tries a failed job again later, and gives it up after five attempts', async () => {
    const { pool } = t.ecoute;
    await addJob(pool, 'breaks', {});
    for (let attempt = 1; attempt <= 5; attempt++) {
      await pool.query('UPDATE jobs SET run_after = UTC_TIMESTAMP(3)');
      const job = await takeJob(pool);
      expect(job).toMatchObject({ kind: 'breaks', attempts: attempt });
      await failJob(pool, job!, 'no luck');
      // Not at once again.
      expect(await takeJob(pool)).toBeNull();
    }
    expect(await jobCounts(pool)).toEqual({ failed: 1 });
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
    await pool.query('UPDATE jobs SET locked_until = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND');
    expect(await takeJob(pool)).toMatchObject({ id: held!.id, attempts: 2 });
    expect(await releaseHeldJobs(pool)).toBe(1);
    const again = await takeJob(pool);
    expect(again!.id).toBe(held!.id);
    await finishJob(pool, again!.id);
    expect(await jobCounts(pool)).toEqual({});
  });

  it('holds on to a job that takes long', async () => {
    const { pool } = t.ecoute;
    await addJob(pool, 'long', {});
    const held = await takeJob(pool);
    await pool.query('UPDATE jobs SET locked_until = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND');
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

  it('waits for the job under way when it is told to stop', async () => {
    const { pool } = t.ecoute;
    let ended = false;
    let begun = false;
    const queue = new JobQueue(pool);
    queue.on('slow', async () => {
      begun = true;
      await new Promise(resolve => setTimeout(resolve, 100));
      ended = true;
    });
    await addJob(pool, 'slow', {});
    queue.start();
    await until(() => begun);
    await queue.stop();
    expect(ended).toBe(true);
  });

  it('fails a job of a kind that nobody knows, and goes on with the next', async () => {
    const { pool } = t.ecoute;
    const done: string[] = [];
    const queue = new JobQueue(pool, 1);
    queue.on('known', async () => void done.push('known'));
    await addJob(pool, 'unknown', {});
    await addJob(pool, 'known', {});
    queue.start();
    await until(() => done.length === 1);
    await queue.stop();
    expect(await jobCounts(pool)).toEqual({ waiting: 1 });
  });
});
