import { randomUUID } from 'node:crypto';
import { stat } from 'node:fs/promises';
import { Feed } from 'feed';
import { countingTake } from '@ecoute/core/timing/itemRun';
import type { Me } from '@ecoute/contract/people';
import type { Pool } from '../../platform/database';
import { Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { releasesWith } from '../releases/store';
import { lightTakesOf, type LightTake } from '../results/store';
import * as store from './store';

/** A recording that came back, as an episode. */
interface Episode {
  takeId: string;
  title: string;
  says: string;
  className: string;
  at: Date;
  durationMs: number | null;
}

/** What came back to a student, for a program that plays such feeds (RSS 2.0), at an address that only they know. */
export class Podcasts {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly baseUrl: string,
  ) {}

  async address(student: Me): Promise<{ url: string | null }> {
    const id = await store.addressOf(this.pool, student.id);
    return { url: id && this.urlOf(id) };
  }

  /** A new address; the one before leads nowhere from now on. */
  async renew(student: Me): Promise<{ url: string | null }> {
    const id = randomUUID();
    await store.replaceAddress(this.pool, id, student.id);
    return { url: this.urlOf(id) };
  }

  async revoke(student: Me): Promise<{ url: string | null }> {
    await store.removeAddress(this.pool, student.id);
    return { url: null };
  }

  /** The feed behind an address. @throws Trouble deadLink once it is revoked */
  async feed(addressId: string): Promise<string> {
    const owner = await this.ownerOf(addressId);
    const url = this.urlOf(addressId);
    const feed = new Feed({
      id: url,
      title: owner.displayName,
      description: 'Recordings with feedback. This address is private: whoever has it hears them.',
      link: this.baseUrl,
      feedLinks: { rss: url },
      copyright: owner.displayName,
      generator: 'Ecoute',
    });
    const episodes = await this.episodes(owner.id);
    const playing = await this.recordings.served.playingOf(episodes.map(e => e.takeId));
    for (const e of episodes) {
      const found = playing.get(e.takeId);
      if (!found) continue;
      const { path, type } = found;
      const size = await stat(path).then(
        f => f.size,
        () => null,
      );
      // Its file is not here just now: it comes with the next look.
      if (size === null) continue;
      const sound = `${this.baseUrl}/feeds/${addressId}/sounds/${e.takeId}`;
      feed.addItem({
        id: e.takeId,
        guid: e.takeId,
        title: e.title,
        description: [e.says, e.className].filter(Boolean).join('\n'),
        link: sound,
        date: e.at,
        enclosure: {
          url: sound,
          length: size,
          type,
          ...(e.durationMs !== null && { duration: Math.round(e.durationMs / 1000) }),
        },
      });
    }
    return feed.rss2();
  }

  /**
   * Where one of its sounds lies.
   * @throws Trouble deadLink for an address that is revoked, and for what is not (or no longer) among what came back
   */
  async sound(addressId: string, takeId: string): Promise<{ path: string; type: string }> {
    const owner = await this.ownerOf(addressId);
    const found = (await this.episodes(owner.id)).some(e => e.takeId === takeId);
    if (!found) throw dead();
    return this.recordings.served.playing(takeId);
  }

  private async ownerOf(addressId: string): Promise<{ id: string; displayName: string }> {
    const owner = await store.ownerOf(this.pool, addressId);
    if (!owner) throw dead();
    return owner;
  }

  /** Takes that count in what came back, newest feedback first. */
  private async episodes(studentId: string): Promise<Episode[]> {
    const sittings = await store.returnedTo(this.pool, studentId);
    const releases = await releasesWith(this.pool, [...new Set(sittings.map(s => s.releaseId))]);
    const takes = await lightTakesOf(
      this.pool,
      sittings.map(s => s.id),
    );
    return sittings.flatMap(({ id, releaseId, feedbackAt }) => {
      const release = releases.get(releaseId);
      return (release?.content.items ?? []).flatMap((item, i): Episode[] => {
        const take = countingTake<LightTake>(takes.filter(t => t.sittingId === id && t.itemId === item.id));
        if (!take || (take.medium !== 'sound' && take.medium !== 'video')) return [];
        return [
          {
            takeId: take.id,
            title: `${release!.content.title}, ${i + 1}`,
            says: item.promptText,
            className: release!.className,
            at: feedbackAt,
            durationMs: take.durationMs,
          },
        ];
      });
    });
  }

  private urlOf(id: string): string {
    return `${this.baseUrl}/feeds/${id}/work.rss`;
  }
}

/** The same words whether an address never was or is no longer. */
export function dead(): Trouble {
  return new Trouble('deadLink', 'This address leads nowhere any more. Whoever gave it can make a new one.');
}
