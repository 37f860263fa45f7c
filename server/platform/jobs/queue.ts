import type { Pool, Queryable } from '../database';
import { log } from '../log';
import { addJob, failJob, finishJob, holdJob, takeJob, type Job, type JobTiming } from './store';

export type JobHandler = (payload: never) => Promise<void>;

const IDLE_MS = 1_000;
/** A long job says that often that it is still being done. */
const HOLD_MS = 30_000;

/**
 * Works off the jobs table. Any number of servers may run one; each job is held by one of them at a time.
 * The heavy part of a job belongs in a worker thread, which its handler calls.
 */
export class JobQueue {
  private readonly handlers = new Map<string, JobHandler>();
  private running = 0;
  private stopped = true;
  private timer: NodeJS.Timeout | null = null;
  private idle: (() => void)[] = [];

  constructor(
    private readonly pool: Pool,
    private readonly atOnce = 2,
  ) {}

  on(kind: string, handler: JobHandler): void {
    this.handlers.set(kind, handler);
  }

  /** Adds a job, for now or for later, and looks at the table soon. */
  async add(db: Queryable, kind: string, payload: object, timing?: JobTiming): Promise<void> {
    await addJob(db, kind, payload, timing);
    // The caller's transaction may commit only after this call returns.
    setTimeout(() => this.look(), 20);
  }

  start(): void {
    this.stopped = false;
    this.look();
  }

  /** Takes no more jobs and waits for those under way. */
  async stop(): Promise<void> {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
    if (this.running > 0) await new Promise<void>(resolve => this.idle.push(resolve));
  }

  private look(): void {
    if (this.stopped) return;
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => this.look(), IDLE_MS);
    while (this.running < this.atOnce) {
      this.running += 1;
      void this.one();
    }
  }

  private async one(): Promise<void> {
    let more = false;
    try {
      const job = await takeJob(this.pool);
      if (job) {
        more = true;
        await this.work(job);
      }
    } catch (error) {
      log.warn({ err: error }, 'job queue');
    } finally {
      this.running -= 1;
      if (this.running === 0) this.idle.splice(0).forEach(resolve => resolve());
    }
    if (more) this.look();
  }

  private async work(job: Job): Promise<void> {
    const handler = this.handlers.get(job.kind);
    const holding = setInterval(() => void holdJob(this.pool, job.id).catch(() => undefined), HOLD_MS);
    try {
      if (!handler) throw new Error(`No handler for jobs of kind ${job.kind}.`);
      await handler(job.payload as never);
      await finishJob(this.pool, job.id);
    } catch (error) {
      log.warn({ err: error, job: job.id, kind: job.kind }, 'job failed');
      await failJob(this.pool, job, String(error));
    } finally {
      clearInterval(holding);
    }
  }
}
