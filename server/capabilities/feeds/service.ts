import { randomUUID } from 'node:crypto';
import ical, { ICalCalendarMethod } from 'ical-generator';
import type { Me } from '@ecoute/contract/people';
import type { Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { releasesBetween } from '../releases/store';
import * as store from './store';

const DAY_MS = 86_400_000;

/** What is due, for a person's own calendar program (iCalendar, RFC 5545), at an address that only they know. */
export class Feeds {
  constructor(
    private readonly pool: Pool,
    private readonly baseUrl: string,
  ) {}

  async address(person: Me): Promise<{ url: string | null }> {
    const id = await store.feedOf(this.pool, person.id);
    return { url: id && this.urlOf(id) };
  }

  /** A new address; the one before leads nowhere from now on. */
  async renew(person: Me): Promise<{ url: string | null }> {
    const id = randomUUID();
    await store.replaceFeed(this.pool, id, person.id);
    return { url: this.urlOf(id) };
  }

  async revoke(person: Me): Promise<{ url: string | null }> {
    await store.removeFeed(this.pool, person.id);
    return { url: null };
  }

  /** The calendar behind an address: half a year back and a year on. @throws Trouble notFound */
  async calendar(id: string): Promise<string> {
    const person = await store.personOfFeed(this.pool, id);
    if (!person) throw notFound();
    const isTeacher = person.role === 'teacher';
    const releases = await releasesBetween(this.pool, {
      personId: person.id,
      isTeacher,
      from: new Date(Date.now() - 180 * DAY_MS),
      to: new Date(Date.now() + 365 * DAY_MS),
    });
    const calendar = ical({
      name: 'Ecoute',
      prodId: { company: 'Ecoute', product: 'due', language: 'EN' },
      method: ICalCalendarMethod.PUBLISH,
      ttl: 3_600,
    });
    for (const r of releases)
      calendar.createEvent({
        id: `${r.id}@ecoute`,
        start: r.dueAt,
        end: r.dueAt,
        summary: `Due: ${r.outline.title}`,
        description: [r.className, r.note].filter(Boolean).join('\n'),
        url: `${this.baseUrl}${isTeacher ? `/release/${r.id}` : `/sit/${r.id}`}`,
      });
    return calendar.toString();
  }

  private urlOf(id: string): string {
    return `${this.baseUrl}/feeds/${id}/due.ics`;
  }
}
