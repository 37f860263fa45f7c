import type { Response } from 'express';
import type { Pool } from '../database';
import { log } from '../log';
import * as store from './store';

const LOOK_EVERY_MS = 400;
/** A comment now and then keeps proxies from closing a silent line, and finds lines that are dead. */
const BEAT_EVERY_MS = 20_000;
const FORGET_EVERY_MS = 60_000;

interface Listener {
  personId: string;
  classIds: ReadonlySet<string>;
  res: Response;
}

/** How long changes are gathered before they are told, so that a class recording at once is one message. */
interface Told {
  kind: string;
  id: string | null;
}

/**
 * Tells open pages what has changed, by server-sent events. Changes lie in a table that every server reads, so
 * that it does not matter which of them somebody is connected to, or where something was changed.
 */
export class ChangeFeed {
  private readonly listeners = new Set<Listener>();
  private timer: NodeJS.Timeout | null = null;
  private beats: NodeJS.Timeout | null = null;
  private seen: number | null = null;
  private forgotAt = 0;
  private looking = false;

  constructor(private readonly pool: Pool) {}

  /** Keeps the line of somebody open until they leave; each message is `data: {"kind", "id"}`. */
  async open(personId: string, res: Response): Promise<void> {
    const listener: Listener = { personId, classIds: await this.classesOf(personId), res };
    this.seen ??= await store.lastChange(this.pool);
    res.status(200).set({
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store, no-transform',
      'X-Accel-Buffering': 'no',
    });
    res.flushHeaders();
    res.write('retry: 2000\n\n: open\n\n');
    this.listeners.add(listener);
    res.on('close', () => {
      this.listeners.delete(listener);
      if (this.listeners.size === 0) this.rest();
    });
    this.timer ??= setInterval(() => void this.look(), LOOK_EVERY_MS);
    this.beats ??= setInterval(() => this.listeners.forEach(l => l.res.write(': here\n\n')), BEAT_EVERY_MS);
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
  }

  private async look(): Promise<void> {
    if (this.looking || this.seen === null) return;
    this.looking = true;
    try {
      const found = await store.changesAfter(this.pool, this.seen);
      if (found.length > 0) {
        this.seen = found.at(-1)!.id;
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
      this.looking = false;
    }
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
