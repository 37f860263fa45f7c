import { randomUUID } from 'node:crypto';
import { stat } from 'node:fs/promises';
import escapeHtml from 'escape-html';
import { Feed } from 'feed';
import type { Contribution } from '@ecoute/contract/discussions';
import type { Me } from '@ecoute/contract/people';
import { teachesRelease } from '../../platform/access/store';
import type { Pool } from '../../platform/database';
import type { Leading } from '../discussions/lead';
import type { Recordings } from '../recordings/service';
import { dead } from './service';
import * as store from './store';

/** A whole discussion for a program that plays podcasts (RSS 2.0), at an address that its teacher makes and revokes. */
export class TalkFeeds {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly leading: Leading,
    private readonly baseUrl: string,
  ) {}

  async address(teacher: Me, releaseId: string): Promise<{ url: string | null }> {
    const id = await store.talkAddressOf(this.pool, { releaseId, ownerId: teacher.id });
    return { url: id && this.urlOf(id) };
  }

  /** A new address; the one before leads nowhere from now on. @throws Trouble notFound for a release that is no discussion */
  async renew(teacher: Me, releaseId: string): Promise<{ url: string | null }> {
    await this.leading.titleOf(releaseId);
    const id = randomUUID();
    await store.replaceTalkAddress(this.pool, id, { releaseId, ownerId: teacher.id });
    return { url: this.urlOf(id) };
  }

  async revoke(teacher: Me, releaseId: string): Promise<{ url: string | null }> {
    await store.removeTalkAddress(this.pool, { releaseId, ownerId: teacher.id });
    return { url: null };
  }

  /** The feed behind an address. @throws Trouble deadLink once it is revoked, or its teacher teaches the class no more */
  async feed(addressId: string): Promise<string> {
    const { title, className, said } = await this.behind(addressId);
    const url = this.urlOf(addressId);
    const feed = new Feed({
      id: url,
      title: `${title} · ${className}`,
      description: 'A discussion. This address is private: whoever has it hears everybody in it.',
      link: this.baseUrl,
      feedLinks: { rss: url },
      copyright: className,
      generator: 'Ecoute',
    });
    const names = new Map(said.map(c => [c.id, c.authorName]));
    const playing = await this.recordings.served.playingOf(said.map(c => c.voiceId!));
    for (const c of said) {
      const found = playing.get(c.voiceId!);
      if (!found) continue;
      const { path, type } = found;
      const size = await stat(path).then(
        f => f.size,
        () => null,
      );
      // Its file is not here just now: it comes with the next look.
      if (size === null) continue;
      const sound = `${this.baseUrl}/feeds/${addressId}/said/${c.voiceId}`;
      const to = c.parentId ? names.get(c.parentId) : undefined;
      feed.addItem({
        id: c.id,
        guid: c.id,
        title: [to ? `${c.authorName} to ${to}` : c.authorName, c.title].filter(Boolean).join(': '),
        // Programs read this as HTML.
        description: escapeHtml(c.words),
        link: sound,
        date: new Date(c.at),
        enclosure: {
          url: sound,
          length: size,
          type,
          ...(c.durationMs !== null && { duration: Math.round(c.durationMs / 1000) }),
        },
      });
    }
    return feed.rss2();
  }

  /** Where one of its sounds lies. @throws Trouble deadLink for what does not stand in the discussion (any more) */
  async sound(addressId: string, voiceId: string): Promise<{ path: string; type: string }> {
    const { said } = await this.behind(addressId);
    if (!said.some(c => c.voiceId === voiceId)) throw dead();
    return this.recordings.served.playing(voiceId);
  }

  private async behind(
    addressId: string,
  ): Promise<{ title: string; className: string; said: Contribution[] }> {
    const of = await store.talkBehind(this.pool, addressId);
    // Asked with each request: whoever made it may teach the class no longer.
    if (!of || !(await teachesRelease(this.pool, of.ownerId, of.releaseId))) throw dead();
    const owner: Me = { id: of.ownerId, displayName: '', role: 'teacher' };
    const { title, className, contributions } = await this.leading.view(owner, of.releaseId);
    return {
      title,
      className,
      said: contributions.filter(c => c.state === 'here' && c.voiceId !== null && c.voiceState === 'stored'),
    };
  }

  private urlOf(id: string): string {
    return `${this.baseUrl}/feeds/${id}/talk.rss`;
  }
}
