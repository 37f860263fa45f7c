import type { Response } from 'express';
import type { Told } from '@ecoute/contract/changes';
import type { Pool } from '../database';
import { log } from '../log';
import { livingSessions } from '../sessions';
import * as store from './store';

const POLL_EVERY_MS = 400;
/** A comment now and then keeps proxies from closing a silent line, and finds lines that are dead. */
const BEAT_EVERY_MS = 20_000;
const FORGET_EVERY_MS = 60_000;

/** Pages of one person that are told; an older one that is open beyond these asks again automatically. */
const MOST_LINES = 12;
/** A change whose transaction takes longer than others is waited for this long. */
const GAP_MS = 120_000;
const MOST_GAPS = 1_000;
/** When the first page opens, changes this far back may still be on their way to be committed. */
const BACK = 100;

interface Listener {
  personId: string;
  /** The line ends with its session; null for a test's own. */
  sessionId: string | null;
  classIds: ReadonlySet<string>;
  res: Response;
}

/**
 * Tells open pages what has changed, by server-sent events. Changes lie in a table that every server reads, so
 * that it does not matter which of them somebody is connected to, or where something was changed. Their numbers are given
 * when they are written and seen when they are committed: a number that was passed over is looked for until it comes.
 */
export class ChangeFeed {
  private readonly listeners = new Set<Listener>();
  private timer: NodeJS.Timeout | null = null;
  private beats: NodeJS.Timeout | null = null;
  private seen: number | null = null;
  /** Numbers that were passed over, and since when. */
  private readonly gaps = new Map<number, number>();
  private forgotAt = 0;
  private polling = false;

  constructor(private readonly pool: Pool) {}

  /** Keeps the line of somebody open until they leave; each message is `data: {"kind", "id"}`. */
  async open(personId: string, res: Response, sessionId: string | null = null): Promise<void> {
    let isGone = false;
    let listener: Listener | null = null;
    // Before anything is waited for: a page that leaves meanwhile is not kept.
    res.on('close', () => {
      isGone = true;
      if (listener) this.listeners.delete(listener);
      if (this.listeners.size === 0) this.rest();
    });
    const classIds = await this.classesOf(personId);
    const last = this.seen ?? Math.max(0, (await store.lastChange(this.pool)) - BACK);
    if (isGone) return;
    this.seen ??= last;
    listener = { personId, sessionId, classIds, res };
    this.endOldLines(personId);
    res.status(200).set({
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store, no-transform',
      'X-Accel-Buffering': 'no',
    });
    res.flushHeaders();
    res.write('retry: 2000\n\n: open\n\n');
    this.listeners.add(listener);
    this.timer ??= setInterval(() => void this.poll(), POLL_EVERY_MS);
    this.beats ??= setInterval(() => void this.beat(), BEAT_EVERY_MS);
  }

  private endOldLines(personId: string): void {
    const own = [...this.listeners].filter(l => l.personId === personId);
    for (const old of own.slice(0, Math.max(0, own.length - MOST_LINES + 1))) {
      this.listeners.delete(old);
      old.res.end();
    }
  }

  private async beat(): Promise<void> {
    this.listeners.forEach(l => l.res.write(': here\n\n'));
    await this.endWithoutSession([...this.listeners]).catch(() => undefined);
  }

  /** Whoever has signed out is told nothing more. */
  private async endWithoutSession(listeners: readonly Listener[]): Promise<void> {
    const ids = listeners.flatMap(l => l.sessionId ?? []);
    const living = await livingSessions(this.pool, ids);
    for (const l of listeners)
      if (l.sessionId !== null && !living.has(l.sessionId)) {
        this.listeners.delete(l);
        l.res.end();
      }
  }

  /** Ends every line; browsers come back by themselves when the server does. */
  close(): void {
    for (const { res } of this.listeners) res.end();
    this.listeners.clear();
    this.rest();
  }

  private rest(): void {
    if (this.timer) clearInterval(this.timer);
    if (this.beats) clearInterval(this.beats);
    this.timer = this.beats = this.seen = null;
    this.gaps.clear();
  }

  private async poll(): Promise<void> {
    if (this.polling || this.seen === null) return;
    this.polling = true;
    try {
      const late = await store.changesIn(this.pool, [...this.gaps.keys()]);
      const fresh = await store.changesAfter(this.pool, this.seen);
      this.passOver(fresh, late);
      const found = [...late, ...fresh];
      if (found.length > 0) {
        this.seen = fresh.at(-1)?.id ?? this.seen;
        const ended = new Set(found.filter(c => c.kind === 'session').map(c => c.personId));
        await this.endWithoutSession([...this.listeners].filter(l => ended.has(l.personId)));
        // Who teaches what may be part of the change itself.
        for (const l of this.listeners)
          if (found.some(c => c.kind === 'class')) l.classIds = await this.classesOf(l.personId);
        for (const l of this.listeners) tell(l, found);
      }
      if (Date.now() - this.forgotAt > FORGET_EVERY_MS) {
        this.forgotAt = Date.now();
        await store.forgetChanges(this.pool, this.seen);
      }
    } catch (error) {
      // The database is away for a moment: what changed meanwhile is read when it is back.
      log.warn({ err: error }, 'changes could not be read');
    } finally {
      this.polling = false;
    }
  }

  /** Remembers numbers that are not here (yet), and forgets those that came, or that nobody will write any more. */
  private passOver(fresh: readonly store.ChangeRow[], late: readonly store.ChangeRow[]): void {
    const now = Date.now();
    for (const { id } of late) this.gaps.delete(id);
    let expected = this.seen! + 1;
    for (const { id } of fresh) {
      for (let gap = Math.max(expected, id - MOST_GAPS); gap < id; gap++)
        if (this.gaps.size < MOST_GAPS) this.gaps.set(gap, now);
      expected = id + 1;
    }
    for (const [id, since] of this.gaps) if (now - since > GAP_MS) this.gaps.delete(id);
  }

  private async classesOf(personId: string): Promise<ReadonlySet<string>> {
    return new Set(await store.classesTaughtBy(this.pool, personId));
  }
}

/** One message for each thing that changed, however often it did. */
function tell({ personId, classIds, res }: Listener, changes: readonly store.ChangeRow[]): void {
  const told = new Map<string, Told>();
  for (const { kind, subjectId, classId, personId: whom } of changes)
    if (whom === personId || (classId !== null && classIds.has(classId)))
      told.set(`${kind} ${subjectId}`, { kind, id: subjectId });
  for (const message of told.values()) res.write(`data: ${JSON.stringify(message)}\n\n`);
}
