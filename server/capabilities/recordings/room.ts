/** How much one person, one release and one guests' door may keep, and a clear word before it is full. */
import type { Quotas } from '../../platform/config';
import type { Pool, Queryable } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import * as store from './store';

/** The sum of a release or a door is read again after this long: it adds up many rows. */
const REMEMBER_MS = 30_000;
const MOST_REMEMBERED = 1_000;

/** Adds up what is kept, and refuses what would go over. */
export class Room {
  private readonly remembered = new Map<string, { bytes: number; atMs: number }>();

  constructor(
    private readonly pool: Pool,
    private readonly quotas: Quotas,
  ) {}

  /** How much somebody keeps, and how much they may. */
  async of(personId: string): Promise<{ usedBytes: number; quotaBytes: number }> {
    const { usedBytes, kind } = await this.keeper(this.pool, personId);
    return { usedBytes, quotaBytes: this.quotas[kind] };
  }

  /** @throws Trouble overQuota when a person, a guests' door or a release keeps as much as it may */
  async refuseWhenFull(db: Queryable, ownerId: string, releaseId: string | null): Promise<void> {
    for await (const { leftBytes, full } of this.limits(db, ownerId, releaseId))
      if (leftBytes <= 0) throw new Trouble('overQuota', full);
  }

  /** Bytes that are left before `refuseWhenFull` refuses; null where nothing is limited. */
  async leftFor(ownerId: string, releaseId: string): Promise<number | null> {
    let least: number | null = null;
    for await (const { leftBytes } of this.limits(this.pool, ownerId, releaseId))
      least = Math.max(0, Math.min(least ?? Infinity, leftBytes));
    return least;
  }

  /** What limits somebody, the cheapest to find first: how much is left, and what is said when it is full. */
  private async *limits(
    db: Queryable,
    ownerId: string,
    releaseId: string | null,
  ): AsyncGenerator<{ leftBytes: number; full: string }> {
    const { usedBytes, kind, doorId } = await this.keeper(db, ownerId);
    const { door, release } = this.quotas;
    if (this.quotas[kind] > 0)
      yield {
        leftBytes: this.quotas[kind] - usedBytes,
        full:
          kind === 'teacher'
            ? 'Your recordings and files fill the room that you have here. Ask an administrator for more.'
            : 'Your recordings fill the room that you have here. This one stays on your device; tell your teacher.',
      };
    if (doorId && door > 0)
      yield {
        leftBytes: door - (await this.sum(`door ${doorId}`, () => store.bytesOfDoor(db, doorId))),
        full: 'So much was recorded by guests of this link that there is no room. This one stays on your device; tell your teacher.',
      };
    if (releaseId && release > 0)
      yield {
        leftBytes:
          release - (await this.sum(`release ${releaseId}`, () => store.bytesOfRelease(db, releaseId))),
        full: 'So much was recorded for this assessment that there is no room. This one stays on your device; tell your teacher.',
      };
  }

  private async keeper(db: Queryable, personId: string) {
    const found = await store.keeperOf(db, personId);
    if (!found) throw notFound();
    const kind: keyof Quotas = found.doorId ? 'guest' : found.role;
    return { usedBytes: Number(found.usedBytes), kind, doorId: found.doorId };
  }

  private async sum(key: string, read: () => Promise<number>): Promise<number> {
    const known = this.remembered.get(key);
    if (known && Date.now() - known.atMs < REMEMBER_MS) return known.bytes;
    if (this.remembered.size >= MOST_REMEMBERED) this.remembered.clear();
    const bytes = await read();
    this.remembered.set(key, { bytes, atMs: Date.now() });
    return bytes;
  }
}
