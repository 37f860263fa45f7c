import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import type { Pool, Queryable } from '../database';
import { errorForLog, log } from '../log';
import { isMomentary } from '../trouble';
import {
  addJob,
  finishJob,
  giveUpJob,
  hasLivingJob,
  hasWaiting,
  holders,
  holdJob,
  letGoOfJob,
  releaseHeldJobs,
  retryJob,
  takeJob,
  type Job,
  type JobTiming,
  type Slot,
} from './store';

/** @param failed how often it failed before by its own fault, or by an end of the server while it was done */
export type JobHandler = (payload: never, failed: number) => Promise<void>;

/** How long a kind of job is tried, and what comes of it when it is given up. */
export interface JobPolicy {
  /** Failures by its own fault after which it is given up; momentary troubles (a full disk, a database away) never count. */
  tries: number;
  /** Given up this long after it was asked for, whatever it failed by; in ms. */
  forMs: number;
  /** Wait after the n-th failure, in ms. */
  waitMs: (failures: number) => number;
  /**
   * What it goes beside. `inspect`: a person waits for it, and what does it gathers many. `media`: a processor's whole time for
   * seconds, so as many as there are processors, and none begins while something is looked at. `work`: all else.
   */
  slot: SlotName;
  /** Brings what waits for the job to an end, when it is given up. */
  givenUp: (payload: never) => Promise<void>;
}

const SECOND = 1_000;
const MINUTE = 60 * SECOND;
export const DAY_MS = 24 * 60 * MINUTE;

/** Twice as long each time, up to a quarter of an hour. */
export const growing = (failures: number, mostMs = 15 * MINUTE): number =>
  Math.min(mostMs, SECOND * 2 ** Math.min(30, failures));

const USUAL: JobPolicy = {
  tries: 8,
  forMs: Infinity,
  waitMs: failures => growing(failures),
  slot: 'work',
  givenUp: async () => undefined,
};

/** Work that must happen, however long it takes: never given up. */
export const UNTIL_DONE: Partial<JobPolicy> = {
  tries: Infinity,
  waitMs: failures => growing(failures, 5 * MINUTE),
};

const IDLE_MS = 1_000;
const SOON_MS = 20;
/** A job says that often that it is still being done. */
const HOLD_MS = 15_000;
/** What has no job and should is looked for at the start and that often. */
const SWEEP_EVERY_MS = 3 * MINUTE;
/** A job under way is waited for this long when the server is told to stop; then it is let go of, and done again. */
const STOP_WAIT_MS = 5_000;

const SLOTS = ['inspect', 'work', 'media'] as const;
export type SlotName = (typeof SLOTS)[number];

/** Looks without an end keep the heavy jobs back for so long at most: then they go on beside them, one at a time. */
const MEDIA_WAITS_MS = 10 * SECOND;

/** Tries for a while what only a database away for a moment, or another transaction in the way, can hinder. */
async function persist(work: () => Promise<void>): Promise<void> {
  for (let n = 1; ; n++)
    try {
      return await work();
    } catch (error) {
      if (n >= 8 || !isMomentary(error)) throw error;
      await new Promise(resolve => setTimeout(resolve, 20 * 2 ** n));
    }
}

/** True for a process of this machine that is still there. */
function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/**
 * Works off the jobs table. Any number of servers may run one; each job is held by one of them at a time, with a lease
 * that is renewed while it is being done. The heavy part of a job belongs in a worker thread, which its handler calls.
 */
export class JobQueue {
  private readonly handlers = new Map<string, { handler: JobHandler; policy: JobPolicy }>();
  private readonly sweeps: (() => Promise<void>)[] = [];
  /** Machine and process, so that another start knows whether the holder is still there. */
  private readonly holder = `${hostname()}/${process.pid}/${randomUUID()}`;
  private readonly held = new Set<number>();
  private readonly running: Record<SlotName, number> = { inspect: 0, work: 0, media: 0 };
  /** Slots whose next job is being looked for. */
  private readonly looking = new Set<SlotName>();
  private readonly askedMeanwhile = new Set<SlotName>();
  private readonly atOnce: Record<SlotName, number>;
  /** Since when looks keep the heavy jobs back, one after the other; null while they do not. */
  private heldBackSince: number | null = null;
  private stopped = true;
  private timer: NodeJS.Timeout | null = null;
  private soon: NodeJS.Timeout | null = null;
  private addedSince = false;
  private sweeping: NodeJS.Timeout | null = null;
  private idle: (() => void)[] = [];
  private taking: Promise<unknown> = Promise.resolve();
  private lastSweep: Promise<void> = Promise.resolve();

  /** @param atOnce jobs of each slot that are done at the same time; two where nothing is said */
  constructor(
    private readonly pool: Pool,
    atOnce: Partial<Record<SlotName, number>> = {},
  ) {
    this.atOnce = { inspect: 2, work: 2, media: 2, ...atOnce };
  }

  on(kind: string, handler: JobHandler, policy: Partial<JobPolicy> = {}): void {
    this.handlers.set(kind, { handler, policy: { ...USUAL, ...policy } });
  }

  /** Registers a look for things that have no job and should: at the start, and every few minutes. Safe to run at any time. */
  onSweep(sweep: () => Promise<void>): void {
    this.sweeps.push(sweep);
  }

  /** Adds a job, for now or for later, and looks at the table soon. */
  async add(db: Queryable, kind: string, payload: object, timing?: JobTiming): Promise<void> {
    // A job that nobody can do would only be found out when it is due.
    if (!this.handlers.has(kind))
      throw new RangeError(`Nobody does jobs of kind ${kind}. Register it with on().`);
    await addJob(db, kind, payload, timing);
    this.pollSoon();
  }

  /**
   * Looks at the table a moment after each job that is added, for the caller's transaction may commit only after `add` returns; once for
   * all that were added since the look before, and not a thousand times when a thousand people end in the same second.
   */
  private pollSoon(): void {
    if (this.soon) {
      this.addedSince = true;
      return;
    }
    this.soon = setTimeout(() => {
      this.soon = null;
      this.poll();
      if (!this.addedSince) return;
      this.addedSince = false;
      this.pollSoon();
    }, SOON_MS);
  }

  /** Adds a job unless one of its kind waits or is under way for the same thing. */
  async ensure(db: Queryable, kind: string, payload: object, timing: JobTiming = {}): Promise<void> {
    if (!(await hasLivingJob(db, kind, timing.subjectId ?? null))) await this.add(db, kind, payload, timing);
  }

  /** For what has just changed: adds a job unless one waits for the same thing. One that is under way may have looked before the change. */
  async ask(db: Queryable, kind: string, payload: object, timing: JobTiming = {}): Promise<void> {
    const waits = await hasLivingJob(db, kind, timing.subjectId ?? null, ['waiting']);
    if (!waits) await this.add(db, kind, payload, timing);
  }

  /** For a job of a slot that is under way: whether there is room beside it that nobody else wants. */
  async isAlone(slot: SlotName): Promise<boolean> {
    if (this.atOnce[slot] < 2 || this.running[slot] > 1) return false;
    return !(await hasWaiting(this.pool, this.slotOf(slot)));
  }

  start(): void {
    this.stopped = false;
    void this.freeHeld().finally(() => {
      this.poll();
      void this.sweep();
    });
    this.sweeping = setInterval(() => void this.sweep(), SWEEP_EVERY_MS);
  }

  /** Looks once for whatever has no job and should. */
  sweep(): Promise<void> {
    this.lastSweep = this.lastSweep.then(async () => {
      for (const sweep of this.sweeps)
        await sweep().catch((error: unknown) => log.warn({ err: error }, 'a sweep failed'));
      this.poll();
    });
    return this.lastSweep;
  }

  /**
   * Takes no more jobs and waits a moment for those under way.
   * @returns whether all of them ended; the others are let go of by `letGo`, once their workers are ended
   */
  async stop(waitMs = STOP_WAIT_MS): Promise<boolean> {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
    if (this.soon) clearTimeout(this.soon);
    this.soon = null;
    if (this.sweeping) clearInterval(this.sweeping);
    await this.lastSweep;
    if (this.held.size === 0 && this.isIdle()) return true;
    let timer: NodeJS.Timeout | undefined;
    const late = new Promise<boolean>(resolve => (timer = setTimeout(() => resolve(false), waitMs)));
    const done = new Promise<boolean>(resolve => this.idle.push(() => resolve(true)));
    return Promise.race([done, late]).finally(() => clearTimeout(timer));
  }

  /** Gives back what this server still holds: another one, or the next start, does it again. */
  async letGo(): Promise<void> {
    for (const id of this.held) await letGoOfJob(this.pool, id, this.holder).catch(() => undefined);
  }

  /** What a process of this machine held that is no longer there, is free at once. */
  private async freeHeld(): Promise<void> {
    try {
      const gone = (await holders(this.pool)).filter(holder => {
        const [machine, pid] = holder.split('/');
        if (holder === '') return true;
        return machine === hostname() && holder !== this.holder && !isAlive(Number(pid));
      });
      await releaseHeldJobs(this.pool, gone);
    } catch (error) {
      log.warn({ err: error }, 'held jobs');
    }
  }

  private isIdle(): boolean {
    return this.looking.size === 0 && SLOTS.every(slot => this.running[slot] === 0);
  }

  private slotOf(slot: SlotName): Slot {
    const others = slot === 'work';
    const kinds = [...this.handlers]
      .filter(([, { policy }]) => (others ? policy.slot !== slot : policy.slot === slot))
      .map(([kind]) => kind);
    return { kinds, others };
  }

  private poll(): void {
    if (this.stopped) return;
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => this.poll(), IDLE_MS);
    for (const slot of SLOTS) void this.next(slot);
  }

  private hasRoom(slot: SlotName): boolean {
    if (this.running[slot] >= this.atOnce[slot]) return false;
    if (slot !== 'media' || this.running.inspect === 0) return true;
    this.heldBackSince ??= Date.now();
    return this.running.media === 0 && Date.now() - this.heldBackSince > MEDIA_WAITS_MS;
  }

  /** Begins the next job of a slot, and looks for another beside it as long as there is one and room for it. */
  private async next(slot: SlotName): Promise<void> {
    if (this.stopped || !this.hasRoom(slot)) return;
    // What was added since may have come too late for the look that is under way: once more after it.
    if (this.looking.has(slot)) return void this.askedMeanwhile.add(slot);
    this.looking.add(slot);
    this.askedMeanwhile.delete(slot);
    let job: Job | null = null;
    try {
      job = await this.take(slot);
    } catch (error) {
      log.warn({ err: error }, 'job queue');
    }
    if (job) void this.done(job, slot);
    this.looking.delete(slot);
    if (job || this.askedMeanwhile.has(slot)) void this.next(slot);
    this.tellIdle();
  }

  private async done(job: Job, slot: SlotName): Promise<void> {
    this.held.add(job.id);
    try {
      await this.work(job);
      this.held.delete(job.id);
    } catch (error) {
      log.warn({ err: error }, 'job queue');
    }
    this.running[slot] -= 1;
    this.tellIdle();
    this.poll();
  }

  private tellIdle(): void {
    if (this.isIdle()) this.idle.splice(0).forEach(resolve => resolve());
  }

  /**
   * One after the other: of two jobs of one person, the second is not taken in the moment in which the first is. Whether there is room is
   * asked when it is this slot's turn: a look that began meanwhile keeps a heavy job back.
   */
  private take(slot: SlotName): Promise<Job | null> {
    const taken = this.taking.then(async () => {
      if (this.stopped || !this.hasRoom(slot)) return null;
      // A look has just ended, and the next one stands behind this in the row: it goes before.
      if (slot === 'media' && this.running.inspect === 0 && this.looking.has('inspect')) {
        this.askedMeanwhile.add(slot);
        return null;
      }
      // Between two looks that follow each other at once there is a moment without one: that keeps nothing back less long.
      if (slot === 'media' && this.running.inspect === 0) this.heldBackSince = null;
      const job = await takeJob(this.pool, this.holder, this.slotOf(slot));
      if (job) this.running[slot] += 1;
      return job;
    });
    this.taking = taken.catch(() => null);
    return taken;
  }

  private async work(job: Job): Promise<void> {
    const known = this.handlers.get(job.kind);
    const policy = known?.policy ?? USUAL;
    const { holder } = this;
    const holding = setInterval(
      () => void holdJob(this.pool, job.id, holder).catch(() => undefined),
      HOLD_MS,
    );
    try {
      if (!known) throw new Error(`No handler for jobs of kind ${job.kind}.`);
      // Whoever held it before ended while doing it, once too often.
      if (job.failures >= policy.tries) throw new Error('The server ended while it was being done.');
      await known.handler(job.payload as never, job.failures);
    } catch (error) {
      // Told to stop: its worker was ended under it. `letGo` puts it back.
      if (this.stopped && isMomentary(error)) return;
      await persist(() => this.failed(job, policy, error));
      return;
    } finally {
      clearInterval(holding);
    }
    // Done is done: that this cannot be written down for a moment is no reason to do it again.
    await persist(() => finishJob(this.pool, job.id, holder));
  }

  private async failed(job: Job, policy: JobPolicy, error: unknown): Promise<void> {
    log.warn({ err: error, job: job.id, kind: job.kind }, 'job failed');
    const failures = job.failures + (isMomentary(error) ? 0 : 1);
    const { type, code, message } = errorForLog(error);
    const words = [type, code, message].filter(Boolean).join(' ');
    const over = failures >= policy.tries || Date.now() - job.createdAt.getTime() > policy.forMs;
    const outcome = { failures, error: words, holder: this.holder };
    if (!over) {
      const waitMs = policy.waitMs(Math.max(failures, Math.min(job.attempts, 6)));
      return retryJob(this.pool, job.id, { ...outcome, waitMs });
    }
    await policy.givenUp(job.payload as never);
    await giveUpJob(this.pool, job.id, outcome);
  }
}
