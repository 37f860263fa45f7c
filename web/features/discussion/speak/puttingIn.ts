/**
 * Contributions that somebody has put in and that the server does not know of yet: no connection, or their sound is not
 * announced. Each is kept on this device, and goes as soon as it can, also on a later visit.
 */
import type { PutIn } from '@ecoute/contract/discussions';
import type { Refusal } from '../../../base/refusal';
import type { At } from '../endpoints';

export interface Going extends At {
  said: PutIn;
  /** Why the server did not take it: it waits for its author. */
  refusal: Refusal | null;
  /** Its author thinks it over: it stays here as it is, and does not go. */
  isHeld?: boolean;
}

export interface GoingMeans {
  shelf: { get: () => Going[]; put: (all: Going[]) => void };
  /** Throws a `Refusal`. */
  send: (one: Going) => Promise<unknown>;
  /** Whose page it is just now. */
  whose: () => string;
}

/** While nothing answers, or while its sound is announced, it is tried again after this long. */
const AGAIN_MS = 2_000;
/** Answers after which the same may succeed in a moment. */
const MOMENTARY = new Set([0, 401, 408, 423, 429, 500, 502, 503, 504]);

export class PuttingIn {
  private all: readonly Going[] = [];
  private readonly listeners = new Set<() => void>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private running = false;
  /** Whose these are: under another person's session nothing of them goes, and nothing is kept. */
  private person = '';

  constructor(private readonly means: GoingMeans) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly now = (): readonly Going[] => this.all;

  /** Takes up what an earlier page of this person left. */
  resume(): void {
    const kept = this.means.shelf.get();
    const isSame = this.person === this.means.whose();
    this.person = this.means.whose();
    // A device that keeps nothing has them on this page alone.
    this.all = [...kept, ...this.all.filter(g => isSame && !kept.some(k => k.id === g.id))];
    this.tell();
    void this.go();
  }

  /** Puts one in; again with what was changed, where it was refused. */
  add(one: At & { said: PutIn }): void {
    if (this.person !== this.means.whose()) this.resume();
    this.set([...this.all.filter(g => g.id !== one.id), { ...one, refusal: null }]);
    void this.go();
  }

  /** Its author keeps it back for now: what was written is nowhere else, so it stays. */
  hold(id: string): void {
    this.set(this.all.map(g => (g.id === id ? { ...g, isHeld: true } : g)));
  }

  /** It is thrown away. */
  letGo(id: string): void {
    this.set(this.all.filter(g => g.id !== id));
  }

  /** Something may have changed: whatever waits is tried at once. */
  async go(): Promise<void> {
    if (this.running || this.person !== this.means.whose()) return;
    this.running = true;
    clearTimeout(this.timer);
    let waits = false;
    for (const { id } of this.all) {
      const one = this.all.find(g => g.id === id && !g.refusal && !g.isHeld);
      if (!one || this.person !== this.means.whose()) continue;
      try {
        await this.means.send(one);
        // Changed meanwhile: what is newer stays, and is refused or taken on its own. What was held too late is in.
        this.set(this.all.filter(g => g !== one && !(g.id === id && g.isHeld)));
      } catch (error) {
        const refusal = error as Refusal;
        if (MOMENTARY.has(refusal.status) || refusal.code === 'unfinished') waits = true;
        else this.set(this.all.map(g => (g === one ? { ...g, refusal } : g)));
      }
    }
    this.running = false;
    if (waits || this.all.some(g => !g.refusal && !g.isHeld))
      this.timer = setTimeout(() => void this.go(), AGAIN_MS);
  }

  private set(all: readonly Going[]): void {
    this.all = all;
    if (this.person === this.means.whose()) this.means.shelf.put([...all]);
    this.tell();
  }

  private tell(): void {
    this.listeners.forEach(listener => listener());
  }
}
