import isSame from 'fast-deep-equal';
import { refusalOf, type Refusal } from '../refusal';
import { pagePerson } from '../own';

/** A value, and which wording of it the server has. */
export interface Stored<T> {
  value: T;
  revision: number;
}

/** Where what is not sent yet outlives the page. */
export interface Shelf<T> {
  get: () => Stored<T> | null;
  put: (kept: Stored<T> | null) => void;
}

export type KeptState =
  /** Nothing was typed. */
  | 'still'
  /** Typed; goes out after a pause, or when it is asked for. */
  | 'changed'
  | 'saving'
  | 'saved'
  /** Nobody answered: it goes out again automatically. */
  | 'away'
  /** It cannot be stored as it is; the next change tries again. */
  | 'refused'
  /** Somebody else's is stored meanwhile; nothing goes out until one of the two is chosen. */
  | 'conflict';

export interface KeptView<T> {
  value: T;
  state: KeptState;
  /** Why it is not stored. */
  refusal: Refusal | null;
  /** What is stored instead, in a conflict. */
  theirs: T | null;
}

/** An act that comes with a value, such as finishing a mark. `none` is a plain save. */
type Act<A> = A | 'none';

export interface KeptOptions<T, A extends string> {
  /** What the server had when the page asked. */
  stored: Stored<T>;
  /** Stores a value over a wording. @returns what is stored now, as the page shows it. Throws a `Refusal`. */
  send: (value: T, revision: number, act: Act<A>) => Promise<Stored<T>>;
  /** Reads the other's value out of a refusal that says `stale`; null where none can be read. */
  theirs: (refusal: Refusal) => Stored<T> | null;
  /** What is wrong with a value before anybody is asked: it is kept, and not sent. */
  problem?: (value: T, act: Act<A>) => Refusal | null;
  /** Whether a change goes out without being asked for; left out: yes. */
  isAutomatic?: () => boolean;
  shelf: Shelf<T>;
  /** How long nothing is typed before it goes out, in milliseconds. */
  pauseMs: number;
  /** How long after no answer it is tried again, in milliseconds; 4,000 when left out. */
  retryMs?: number;
}

const RETRY_MS = 4_000;
/** Answers of 4xx after which the same request may well succeed: signed out, too slow, locked, too many. */
const MOMENTARY = [401, 408, 423, 429];

const isFinal = (refusal: Refusal | null) =>
  refusal !== null && refusal.status >= 400 && refusal.status < 500 && !MOMENTARY.includes(refusal.status);

/**
 * One thing that a person types: on this device with each change, at the server a moment later, one request at a time.
 * What nobody answers goes out again; what somebody else stored in between is shown before either is lost. It is one
 * person's: under another person's session nothing of it is sent.
 *
 * What it cannot do: survive a device that keeps nothing (storage full or forbidden) and a page that is closed before
 * the server answers, both at once.
 */
export class Kept<T, A extends string = never> {
  private view: KeptView<T>;
  private revision: number;
  private isDirty = false;
  private act: Act<A> = 'none';
  private other: Stored<T> | null = null;
  private underWay: Promise<void> | null = null;
  /** The act of what is under way, or was last. */
  private sending: Act<A> = 'none';
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly listeners = new Set<() => void>();
  private readonly person = pagePerson();

  constructor(private readonly options: KeptOptions<T, A>) {
    const { stored, shelf } = options;
    this.view = { value: stored.value, state: 'still', refusal: null, theirs: null };
    this.revision = stored.revision;
    const kept = shelf.get();
    if (!kept || isSame(kept.value, stored.value)) return;
    this.isDirty = true;
    this.revision = kept.revision;
    if (kept.revision < stored.revision) this.other = stored;
    this.view = this.other
      ? { value: kept.value, state: 'conflict', refusal: null, theirs: stored.value }
      : { ...this.view, value: kept.value, state: 'changed' };
  }

  readonly now = (): KeptView<T> => this.view;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Whether something here is not with the server. */
  get isUnsent(): boolean {
    return this.isDirty;
  }

  /** The value as it is typed now. */
  change(value: T): void {
    this.isDirty = true;
    this.act = 'none';
    this.options.shelf.put({ value, revision: this.revision });
    if (this.other) return this.show({ value });
    this.show({ value, state: 'changed' });
    this.plan(this.options.pauseMs);
  }

  /**
   * What the server says now, as a colleague or another device left it. What is typed here is never replaced.
   * @returns whether it is shown
   */
  offer(stored: Stored<T>): boolean {
    if (this.isDirty || this.underWay || stored.revision <= this.revision) return false;
    this.revision = stored.revision;
    this.show({ value: stored.value, state: 'still', refusal: null });
    return true;
  }

  /**
   * Sends what is not sent. Whoever asks while a save is under way waits for it, and what came since goes along.
   * @returns whether everything is with the server
   */
  async flush(): Promise<boolean> {
    return this.isDirty ? this.push(this.act) : true;
  }

  /** Sends the value with an act, also where nothing was typed. @returns whether all of it is with the server */
  async push(act: Act<A>): Promise<boolean> {
    this.act = act;
    clearTimeout(this.timer);
    while (this.underWay) {
      const along = this.sending;
      await this.underWay;
      // What was waited for has done all that was asked for here.
      if (!this.isDirty && (act === 'none' || act === along)) return true;
    }
    if (this.other || this.person !== pagePerson()) return false;
    this.sending = act;
    this.underWay = this.attempt(act).finally(() => (this.underWay = null));
    await this.underWay;
    return !this.isDirty;
  }

  /** Settles a conflict: what is here takes the place of what is stored, or the other way round. */
  async settle(keep: 'here' | 'stored', act: Act<A> = 'none'): Promise<boolean> {
    if (!this.other) return this.flush();
    const other = this.other;
    this.other = null;
    this.revision = other.revision;
    if (keep === 'here') {
      this.options.shelf.put({ value: this.view.value, revision: this.revision });
      this.show({ state: 'changed', refusal: null, theirs: null });
      return this.push(act);
    }
    this.isDirty = false;
    this.options.shelf.put(null);
    this.show({ value: other.value, state: 'saved', refusal: null, theirs: null });
    return true;
  }

  /** Its page goes, or comes back, or the network does: what waits goes out now where it goes by itself. */
  nudge(): void {
    if (this.isDirty && !this.other && this.isAutomatic()) void this.flush();
  }

  private isAutomatic(): boolean {
    return this.act !== 'none' || (this.options.isAutomatic?.() ?? true);
  }

  private plan(afterMs: number): void {
    clearTimeout(this.timer);
    if (this.isAutomatic()) this.timer = setTimeout(() => this.nudge(), afterMs);
  }

  private async attempt(act: Act<A>): Promise<void> {
    const { value } = this.view;
    const wrong = this.options.problem?.(value, act) ?? null;
    if (wrong) return this.refuse(wrong);
    this.show({ state: 'saving' });
    let back: Stored<T>;
    try {
      back = await this.options.send(value, this.revision, act);
    } catch (error) {
      return this.failed(refusalOf(error));
    }
    this.revision = back.revision;
    this.act = 'none';
    this.isDirty = this.view.value !== value;
    if (this.isDirty) {
      this.options.shelf.put({ value: this.view.value, revision: this.revision });
      this.show({ state: 'changed', refusal: null });
      return this.plan(this.options.pauseMs);
    }
    this.options.shelf.put(null);
    this.show({ value: back.value, state: 'saved', refusal: null });
  }

  private failed(refusal: Refusal | null): void {
    this.isDirty = true;
    const stale = refusal?.code === 'stale' ? this.options.theirs(refusal) : null;
    if (stale && isSame(stale.value, this.view.value) && this.act === 'none') {
      // What was sent had arrived; only its answer was lost.
      this.revision = stale.revision;
      this.isDirty = false;
      this.options.shelf.put(null);
      return this.show({ state: 'saved', refusal: null });
    }
    if (stale) {
      this.act = 'none';
      this.other = stale;
      return this.show({ state: 'conflict', refusal, theirs: stale.value });
    }
    if (isFinal(refusal)) return this.refuse(refusal!);
    this.show({ state: 'away', refusal });
    this.plan(this.options.retryMs ?? RETRY_MS);
  }

  private refuse(refusal: Refusal): void {
    this.act = 'none';
    this.show({ state: 'refused', refusal });
  }

  private show(part: Partial<KeptView<T>>): void {
    this.view = { ...this.view, ...part };
    this.listeners.forEach(l => l());
  }
}
