/**
 * Hand-ins that are wanted and not done yet: no connection, or recordings on their way. Each is kept on this device with
 * the time at which it was wanted, and done as soon as everything of its sitting has arrived, also on a later visit.
 */
import type { Refusal } from '../../../base/refusal';

export interface HandInWish {
  sittingId: string;
  releaseId: string;
  title: string;
  /** When it was wanted, as ISO 8601. */
  at: string;
  withGaps: boolean;
  asTheyCame: boolean;
  /** Recordings that the server had not taken by then; their student knows of them. */
  known: string[];
  /** Why it was not done: it waits for its student. */
  refusal: Refusal | null;
}

/** What a wish needs of the page around it. */
export interface WishMeans {
  shelf: { get: () => HandInWish[]; put: (wishes: HandInWish[]) => void };
  /** What of a sitting is on this device only: on its way, or not taken by the server. */
  soundsOf: (sittingId: string) => Promise<{ coming: number; refusedIds: string[] }>;
  /** Sends what else this device has of it: words, and its account. Throws a `Refusal`. */
  sendRest: (sittingId: string) => Promise<void>;
  /** Throws a `Refusal`. */
  handIn: (wish: HandInWish) => Promise<unknown>;
  now: () => number;
}

export interface WishesView {
  wishes: readonly HandInWish[];
  /** Handed in by this page, and not shown yet. */
  done: readonly HandInWish[];
}

/** While nothing answers, or while something comes, it is tried again after this long. */
const AGAIN_MS = 2_000;
/** Answers after which the same may succeed in a moment. */
const MOMENTARY = new Set([0, 401, 408, 423, 429, 502, 503, 504]);

const NOT_TAKEN: Refusal = {
  status: 0,
  code: 'unfinished',
  message: 'A recording was not taken and is on this device alone. Look at its item before you hand in.',
};

export class HandInWishes {
  private view: WishesView = { wishes: [], done: [] };
  private readonly listeners = new Set<() => void>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private running = false;
  /** Counts the persons of this page: what was asked for one is not told to the next. */
  private person = 0;

  constructor(private readonly means: WishMeans) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly now = (): WishesView => this.view;

  /** Takes up what this person wanted on an earlier page; nobody's when nobody is signed in. */
  belongTo(isSignedIn: boolean): void {
    this.person += 1;
    clearTimeout(this.timer);
    this.view = { wishes: isSignedIn ? this.means.shelf.get() : [], done: [] };
    this.tell();
    void this.work();
  }

  /** Wants a sitting handed in, from now on or as of an earlier wish for it. */
  want(wish: Omit<HandInWish, 'at' | 'refusal'>): void {
    const earlier = this.view.wishes.find(w => w.sittingId === wish.sittingId);
    // Said again after a refusal it is a new wish: something was looked at since.
    const at = earlier && !earlier.refusal ? earlier.at : new Date(this.means.now()).toISOString();
    this.keep([
      ...this.view.wishes.filter(w => w.sittingId !== wish.sittingId),
      { ...wish, at, refusal: null },
    ]);
    void this.work();
  }

  /** Not yet: the sitting goes on. */
  takeBack(sittingId: string): void {
    this.keep(this.view.wishes.filter(w => w.sittingId !== sittingId));
  }

  /** It was seen that these are done. */
  seen(): void {
    this.view = { ...this.view, done: [] };
    this.tell();
  }

  /** Something may have changed: the network is back, a recording has arrived. */
  nudge(): void {
    clearTimeout(this.timer);
    void this.work();
  }

  private async work(): Promise<void> {
    if (this.running) return;
    this.running = true;
    const person = this.person;
    try {
      for (const wish of this.view.wishes.filter(w => !w.refusal)) {
        const refusal = await this.attempt(wish);
        if (this.person !== person) return;
        // Taken back, or wanted otherwise, while it was asked.
        if (!this.view.wishes.includes(wish)) {
          if (refusal === 'done') this.takeBack(wish.sittingId);
          continue;
        }
        if (refusal === 'done') {
          this.view = { ...this.view, done: [...this.view.done, wish] };
          this.takeBack(wish.sittingId);
        } else if (refusal !== 'wait')
          this.keep(this.view.wishes.map(w => (w === wish ? { ...w, refusal } : w)));
      }
    } finally {
      this.running = false;
      clearTimeout(this.timer);
      if (this.view.wishes.some(w => !w.refusal)) this.timer = setTimeout(() => void this.work(), AGAIN_MS);
    }
  }

  private async attempt(wish: HandInWish): Promise<'done' | 'wait' | Refusal> {
    try {
      const sounds = await this.means.soundsOf(wish.sittingId);
      if (sounds.refusedIds.some(id => !wish.known.includes(id))) return NOT_TAKEN;
      if (sounds.coming > 0) return 'wait';
      await this.means.sendRest(wish.sittingId);
      // Not wanted any more while that went out.
      if (!this.view.wishes.includes(wish)) return 'wait';
      await this.means.handIn(wish);
      return 'done';
    } catch (error) {
      const refusal = error as Partial<Refusal>;
      if (typeof refusal.status !== 'number' || MOMENTARY.has(refusal.status)) return 'wait';
      // Looked at just now; it is no gap.
      return refusal.code === 'unfinished' ? 'wait' : (refusal as Refusal);
    }
  }

  private keep(wishes: HandInWish[]): void {
    this.view = { ...this.view, wishes };
    this.means.shelf.put(wishes);
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}
