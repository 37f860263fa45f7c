import type { Worker } from '../../worker';
import type { Inspection, ToInspect } from './inspect';

/** Larger than this a file is looked at by itself: nobody waits for somebody's hour. */
export const LARGE_BYTES = 3 * 1024 * 1024;
/** So many are looked at by one program at most. */
const MOST_TOGETHER = 8;

interface Waiting {
  task: ToInspect;
  mayJoin: boolean;
  resolve: (found: Inspection) => void;
  reject: (error: unknown) => void;
}

/**
 * Looks at files as they come: by itself where one waits, several by one program where many do. Whatever goes wrong with several
 * is tried with each by itself, so that a file can only spoil its own look.
 */
export class Looks {
  private readonly waiting: Waiting[] = [];
  private under = 0;

  /** @param atOnce programs that look at the same time */
  constructor(
    private readonly worker: Worker,
    private readonly atOnce: number,
  ) {}

  /** @param mayJoin whether others may be looked at with it: neither a large file nor one whose look failed before */
  look(task: ToInspect, mayJoin: boolean): Promise<Inspection> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ task, mayJoin, resolve, reject });
      this.begin();
    });
  }

  private begin(): void {
    while (this.under < this.atOnce && this.waiting.length > 0) {
      this.under += 1;
      void this.together(this.taken()).finally(() => {
        this.under -= 1;
        this.begin();
      });
    }
  }

  /** The first that waits, and those behind it that may go with it: as many as leaves the other programs their share. */
  private taken(): Waiting[] {
    const first = this.waiting.shift()!;
    const taken = [first];
    if (!first.mayJoin) return taken;
    const share = Math.ceil((this.waiting.length + 1) / (this.atOnce - this.under + 1));
    while (taken.length < Math.min(share, MOST_TOGETHER)) {
      const next = this.waiting.findIndex(w => w.mayJoin);
      if (next < 0) break;
      taken.push(...this.waiting.splice(next, 1));
    }
    return taken;
  }

  private async together(taken: readonly Waiting[]): Promise<void> {
    if (taken.length > 1)
      try {
        const found = await this.worker({ kind: 'inspectMany', tasks: taken.map(w => w.task) });
        return taken.forEach((w, i) => w.resolve(found[i]!));
      } catch {
        // Each by itself says whose fault it is.
      }
    for (const { task, resolve, reject } of taken)
      await this.worker({ kind: 'inspect', ...task }).then(resolve, reject);
  }
}
