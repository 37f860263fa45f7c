import type { ServerResponse } from 'node:http';
import type { Pool } from '../database';
import { log } from '../log';
import * as store from './store';

/** So often it is read what of all that is remembered holds no longer. */
const POLL_EVERY_MS = 300;
/** Nothing is believed that was not confirmed within this: a right that was taken away ends within a second. */
const CONFIRMED_MS = 750;
/** After so long without a question the database is left alone. */
const REST_AFTER_MS = 30_000;
/** A right is found anew this often, whatever happens. */
const LONGEST_MS = 120_000;
/** A change whose transaction takes longer than others is waited for this long; what is remembered lasts no longer. */
const GAP_MS = LONGEST_MS + 10_000;
/** Numbers that were given before a look, and may still be on their way to be committed. */
const BACK = 1_000;
/** More changes than this at one look: everything is asked again. */
const MOST_CHANGES = 2_000;
/** Rights that are remembered, of all sessions together. */
const MOST_REMEMBERED = 200_000;

/** Whose session it is, and when it ends by itself. */
export interface RightHolder {
  sessionId: string;
  personId: string;
  /** ms since 1970 */
  endsAtMs: number;
}

/** What may be done with a recording: hear it, or bring its bytes. */
export type Right = 'hear' | 'record';
const RIGHTS: readonly Right[] = ['hear', 'record'];
const keyOf = (right: Right, recordingId: string) => `${right} ${recordingId}`;

interface Session {
  personId: string;
  /** Until when, by right and recording. */
  rights: Map<string, number>;
}

/** Adds to the set of a key. */
function addTo(sets: Map<string, Set<string>>, key: string, value: string): void {
  const set = sets.get(key);
  if (set) set.add(value);
  else sets.set(key, new Set([value]));
}

/** A sound that is being sent. */
export interface Sending {
  sessionId: string;
  personId: string;
  recordingId: string;
  res: ServerResponse;
  /** Asks the database. */
  isStillAllowed: () => Promise<boolean>;
}

/**
 * Which sessions may hear, or bring, which recordings, as far as it was found lately, so that the next piece of one costs no
 * question to the database. Only rights that end by a change are kept here, none that end by the clock; and every change that ends one is
 * written down by the database itself (`right_changes`), whichever server or statement made it. What was written down is read
 * several times a second: while it cannot be read, nothing is remembered.
 *
 * To keep a right, its finder says when it began to look (`asOf`): a change that came meanwhile makes what was found worthless.
 */
export class RememberedRights {
  private readonly sessions = new Map<string, Session>();
  /** Sessions by what they have a right to, and by whose they are. */
  private readonly having = new Map<string, Set<string>>();
  private readonly ofPerson = new Map<string, Set<string>>();
  private remembered = 0;
  private readonly sending = new Set<Sending>();
  private timer: NodeJS.Timeout | null = null;
  private polling = false;
  /** It could not be read the last time. */
  private isCut = false;
  private confirmedAtMs = -Infinity;
  private askedAtMs = 0;
  /** Goes up with each change. */
  private epoch = 0;
  /** Everything up to here was seen, and whatever was late is no longer waited for. */
  private low: number | null = null;
  private readonly seen = new Map<number, number>();

  constructor(private readonly pool: Pool) {}

  /** A clock that nobody sets: one that was set back would confirm for ever. In ms. */
  private now(): number {
    return performance.now();
  }

  /** A moment to look from, for `keep`; null while nothing can be kept, and from then on it soon can. */
  asOf(): number | null {
    this.askedAtMs = this.now();
    this.timer ??= setInterval(() => void this.poll(), POLL_EVERY_MS).unref();
    if (this.low === null) void this.poll();
    return this.isConfirmed() ? this.epoch : null;
  }

  /** Keeps that a session has a right to some recordings. @param asOf when it began to be looked for */
  keep(asOf: number | null, holder: RightHolder | null, right: Right, recordingIds: Iterable<string>): void {
    if (asOf === null || asOf !== this.epoch || !holder) return;
    const until = this.now() + Math.min(LONGEST_MS, holder.endsAtMs - Date.now());
    const { sessionId, personId } = holder;
    if (this.sessions.get(sessionId)?.personId !== personId) this.forgetSession(sessionId);
    for (const id of recordingIds) {
      if (this.remembered >= MOST_REMEMBERED) this.forgetAll();
      let session = this.sessions.get(sessionId);
      if (!session) {
        this.sessions.set(sessionId, (session = { personId, rights: new Map() }));
        addTo(this.ofPerson, personId, sessionId);
      }
      const key = keyOf(right, id);
      if (!session.rights.has(key)) this.remembered += 1;
      session.rights.set(key, until);
      addTo(this.having, key, sessionId);
    }
  }

  /** Whose session has a right to a recording, as far as it is remembered; null where it has to be asked. */
  holderOf(sessionId: string, right: Right, recordingId: string): string | null {
    const session = this.sessions.get(sessionId);
    const until = session?.rights.get(keyOf(right, recordingId));
    if (!session || until === undefined) return null;
    const now = (this.askedAtMs = this.now());
    if (now < until && this.isConfirmed()) return session.personId;
    return null;
  }

  /** Nobody's right to a recording is believed without asking again. */
  forgetRecording(id: string): void {
    // Who is just asking may have been answered before whatever it is forgotten for.
    this.epoch += 1;
    for (const right of RIGHTS) {
      const key = keyOf(right, id);
      for (const sessionId of this.having.get(key) ?? [])
        if (this.sessions.get(sessionId)?.rights.delete(key)) this.remembered -= 1;
      this.having.delete(key);
    }
  }

  /** Ends what is being sent once it is no longer allowed. */
  whileAllowed(one: Sending): void {
    this.asOf();
    this.sending.add(one);
    one.res.once('close', () => this.sending.delete(one));
  }

  close(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    this.low = null;
    this.confirmedAtMs = -Infinity;
    this.seen.clear();
    this.forgetAll();
  }

  private isConfirmed(): boolean {
    return this.now() - this.confirmedAtMs <= CONFIRMED_MS;
  }

  private forgetAll(): void {
    this.sessions.clear();
    this.having.clear();
    this.ofPerson.clear();
    this.remembered = 0;
  }

  private forgetSession(id: string): void {
    const session = this.sessions.get(id);
    if (!session) return;
    for (const key of session.rights.keys()) this.dropFrom(this.having, key, id);
    this.dropFrom(this.ofPerson, session.personId, id);
    this.remembered -= session.rights.size;
    this.sessions.delete(id);
  }

  private dropFrom(sets: Map<string, Set<string>>, key: string, value: string): void {
    const set = sets.get(key);
    set?.delete(value);
    if (set?.size === 0) sets.delete(key);
  }

  private async poll(): Promise<void> {
    if (this.polling) return;
    if (this.sending.size === 0 && this.now() - this.askedAtMs > REST_AFTER_MS) return this.close();
    this.polling = true;
    const began = this.now();
    try {
      this.low ??= Math.max(0, (await store.lastRightChange(this.pool)) - BACK);
      const found = await store.rightChangesAfter(this.pool, this.low, MOST_CHANGES);
      const fresh = found.filter(change => !this.seen.has(change.id));
      for (const { id } of fresh) this.seen.set(id, began);
      if (found.length === MOST_CHANGES) this.skipTo(found.at(-1)!.id);
      else this.waitNoLonger(began);
      if (fresh.length > 0) {
        this.epoch += 1;
        fresh.forEach(change => this.forget(change));
        await this.endWhatIsNotAllowed(fresh);
      }
      // What was committed before the question was asked is in its answer.
      this.confirmedAtMs = began;
      this.isCut = false;
    } catch (error) {
      // The database is away: what is remembered is believed no more, until it is back.
      if (!this.isCut) log.warn({ err: error }, 'changes of rights could not be read');
      this.isCut = true;
    } finally {
      this.polling = false;
    }
  }

  /** So many at once that none is looked at by itself. */
  private skipTo(id: number): void {
    const low = (this.low = Math.max(this.low!, id - BACK));
    for (const passed of this.seen.keys()) if (passed <= low) this.seen.delete(passed);
    this.forgetAll();
  }

  private waitNoLonger(nowMs: number): void {
    for (const [id, atMs] of this.seen) {
      if (nowMs - atMs <= GAP_MS) break;
      this.low = Math.max(this.low!, id);
      this.seen.delete(id);
    }
  }

  private forget({ sessionId, personId, recordingId }: store.RightChange): void {
    if (sessionId === null && personId === null && recordingId === null) return this.forgetAll();
    if (sessionId !== null) this.forgetSession(sessionId);
    if (personId !== null) for (const id of [...(this.ofPerson.get(personId) ?? [])]) this.forgetSession(id);
    if (recordingId !== null) this.forgetRecording(recordingId);
  }

  private async endWhatIsNotAllowed(changes: readonly store.RightChange[]): Promise<void> {
    await Promise.all(
      [...this.sending].map(async one => {
        if (!changes.some(change => concerns(change, one))) return;
        if (await one.isStillAllowed().catch(() => false)) return;
        this.sending.delete(one);
        // What is handed over already cannot be taken back; the connection may carry something else by now.
        if (!one.res.writableEnded) one.res.destroy();
      }),
    );
  }
}

function concerns({ sessionId, personId, recordingId }: store.RightChange, one: Sending): boolean {
  if (sessionId === null && personId === null && recordingId === null) return true;
  return sessionId === one.sessionId || personId === one.personId || recordingId === one.recordingId;
}
