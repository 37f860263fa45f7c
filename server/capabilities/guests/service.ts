import { randomUUID } from 'node:crypto';
import { likelySame } from '@ecoute/core/formats/likelySame';
import { opennessAt } from '@ecoute/core/timing/sittingState';
import type {
  DoorView,
  GuestView,
  GuestWelcome,
  LikelyPerson,
  LinkView,
  NewGuest,
  NewLink,
} from '@ecoute/contract/guests';
import type { Me } from '@ecoute/contract/people';
import { studiesRelease } from '../../platform/access/store';
import { newCode } from '../../platform/codes';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { UNTIL_DONE, type JobQueue } from '../../platform/jobs/queue';
import { log } from '../../platform/log';
import { endSessions } from '../../platform/sessions';
import type { Tries } from '../../platform/tries';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { entriesOf, findRelease, timesOf } from '../releases/store';
import { poster } from './poster';
import * as store from './store';

const LOOK_EVERY_MS = 6 * 3_600_000;

/** The same words for a link that never was, is closed, is full, or leads to something that is not open. */
function nowhere(): Trouble {
  return new Trouble(
    'deadLink',
    'This link does not lead anywhere (any more). Check it letter by letter, or ask your teacher for a new one.',
  );
}

/** Guests: people without a sign-in, who come by a link, do one assessment, and return by an address of their own. */
export class Guests {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly jobs: JobQueue,
    private readonly tries: Tries,
    private readonly baseUrl: string,
  ) {
    jobs.on('forgetGuests', () => this.forget(), UNTIL_DONE);
    // Guests are forgotten when their time is over: there is always a job that looks, now or later.
    jobs.onSweep(() => jobs.ensure(pool, 'forgetGuests', {}));
  }

  async links(releaseId: string): Promise<LinkView[]> {
    return (await store.linksOf(this.pool, releaseId)).map(l => this.linkView(l));
  }

  /** @throws Trouble invalid for a closing that has passed */
  async makeLink(teacher: Me, releaseId: string, wanted: NewLink): Promise<LinkView[]> {
    const closesAt = wanted.closesAt ? new Date(wanted.closesAt) : null;
    if (closesAt && closesAt.getTime() <= Date.now()) {
      const message = 'That has passed already. Choose a later time, or leave it open.';
      throw new Trouble('invalid', message, { fields: { closesAt: message } });
    }
    await store.insertLink(this.pool, {
      id: randomUUID(),
      releaseId,
      code: newCode(),
      classCode: wanted.classCode?.trim() || null,
      mostGuests: wanted.mostGuests ?? null,
      keepDays: wanted.keepDays,
      closesAt,
      madeBy: teacher.id,
    });
    return this.links(releaseId);
  }

  async closeLink(releaseId: string, linkId: string): Promise<LinkView[]> {
    if (!(await store.closeLink(this.pool, linkId, releaseId))) throw notFound();
    return this.links(releaseId);
  }

  /** A poster for the wall: the QR code, the address to type, and what it costs and keeps. */
  async poster(releaseId: string, linkId: string): Promise<Buffer> {
    const link = (await store.linksOf(this.pool, releaseId)).find(l => l.id === linkId);
    const release = await findRelease(this.pool, releaseId);
    if (!link || !release) throw notFound();
    return poster({
      title: release.content.title,
      className: release.className,
      url: this.urlOf(link.code),
      classCodeAsked: link.classCode !== null,
      keepDays: link.keepDays,
    });
  }

  /** What somebody sees at the door. @throws Trouble notFound, in the same words whatever is wrong with a link */
  door(code: string, visitor: Me | null, address: string): Promise<DoorView> {
    return this.withLink(address, () => this.lookAtDoor(code, visitor));
  }

  /** Only links that lead nowhere count as tries: a class behind one address comes through. */
  private withLink<T>(address: string, work: () => Promise<T>): Promise<T> {
    return this.tries.counted(
      { links: address },
      'Too many links that lead nowhere. Wait ten minutes, then try again.',
      error => error instanceof Trouble && error.code === 'deadLink',
      work,
    );
  }

  private async lookAtDoor(code: string, visitor: Me | null): Promise<DoorView> {
    const link = await store.findLink(this.pool, code);
    const release = link && (await findRelease(this.pool, link.releaseId));
    if (!link || !release) throw nowhere();
    const known = visitor !== null && (await studiesRelease(this.pool, visitor.id, release.id));
    // Whoever came already is let in again, also when the door is closed for others.
    if (!known && !isOpen(link, opennessAt(timesOf(release), Date.now()))) throw nowhere();
    const [entry] = await entriesOf(this.pool, [release.id]);
    return {
      title: release.content.title,
      teacherName: await store.releasedBy(this.pool, release.id),
      outline: entry!.outline,
      dueAt: release.dueAt.toISOString(),
      asksClassCode: link.classCode !== null,
      keepDays: link.keepDays,
      releaseId: known ? release.id : null,
    };
  }

  /**
   * Lets a guest in.
   * @throws Trouble deadLink for a link that leads nowhere; wrongClassCode; tooManyTries
   */
  async enter(code: string, wanted: NewGuest, address: string): Promise<GuestWelcome & { me: Me }> {
    await this.tries.limited(
      { guests: code },
      'So many guests came in by this link just now that it rests for ten minutes.',
    );
    return this.tries.counted(
      { doorHere: `${code} ${address}`, door: code },
      'Too many class codes that are not right. Wait ten minutes, then ask in class what it is.',
      error => error instanceof Trouble && error.code === 'wrongClassCode',
      () => this.withLink(address, () => this.letIn(code, wanted)),
    );
  }

  private letIn(code: string, wanted: NewGuest): Promise<GuestWelcome & { me: Me }> {
    return transaction(this.pool, async db => {
      const link = await store.findLink(db, code, true);
      const release = link && (await findRelease(db, link.releaseId));
      if (!link || !release || !isOpen(link, opennessAt(timesOf(release), Date.now()))) throw nowhere();
      if (link.classCode && link.classCode.toLowerCase() !== wanted.classCode?.trim().toLowerCase()) {
        const message = 'That is not the class code. Ask in class what it is.';
        throw new Trouble('wrongClassCode', message, { fields: { classCode: message } });
      }
      const [id, token] = [randomUUID(), randomUUID()];
      const name = wanted.name.replace(/\s+/g, ' ').trim();
      await store.insertGuest(db, { id, name, linkId: link.id, token });
      await store.insertParticipant(db, release.id, id);
      await insertChange(db, {
        kind: 'release',
        subjectId: release.id,
        classId: release.classId,
        personId: null,
      });
      return { releaseId: release.id, token, me: { id, displayName: name, role: 'student', isGuest: true } };
    });
  }

  /** Lets a guest in again, by the address that only they have. */
  comeBack(token: string, address: string): Promise<{ releaseId: string; me: Me }> {
    return this.withLink(address, () => this.comeBackBy(token));
  }

  private async comeBackBy(token: string): Promise<{ releaseId: string; me: Me }> {
    const found = await store.guestByToken(this.pool, token);
    // Two visits of one guest: either address leads to what both recorded. A student signs in as themselves.
    const guest = found?.sameAs ? await store.findGuest(this.pool, found.sameAs) : found;
    if (!guest) throw nowhere();
    return {
      releaseId: guest.releaseId,
      me: { id: guest.id, displayName: guest.displayName, role: 'student', isGuest: true },
    };
  }

  /** The guests of a release, each with those whom they probably are. */
  async guests(releaseId: string): Promise<GuestView[]> {
    const all = (await store.guestsOf(this.pool, releaseId)).filter(g => g.sameAs === null);
    const students = await store.studentsOfClass(this.pool, releaseId);
    const candidates: LikelyPerson[] = [
      ...students.map(s => ({ ...s, isGuest: false })),
      ...all.map(({ id, displayName }) => ({ id, displayName, isGuest: true })),
    ];
    return all.map(({ id, displayName, cameAt }) => ({
      id,
      displayName,
      cameAt: cameAt.toISOString(),
      likely: candidates.filter(c => c.id !== id && likelySame(c.displayName, displayName)).slice(0, 10),
    }));
  }

  /**
   * Says who a guest is: another guest, or a student of the class. Their sittings come after those that the other
   * has; nothing is lost, and it can be undone.
   * @throws Trouble notFound for anybody else
   */
  async merge(releaseId: string, guestId: string, into: string): Promise<GuestView[]> {
    await transaction(this.pool, async db => {
      const guest = await this.guestOf(db, releaseId, guestId);
      const others = [
        ...(await store.studentsOfClass(db, releaseId)).map(s => s.id),
        ...(await store.guestsOf(db, releaseId)).filter(g => g.sameAs === null).map(g => g.id),
      ];
      if (guest.sameAs !== null || into === guestId || !others.includes(into)) throw notFound();
      await store.insertParticipant(db, releaseId, into);
      await store.moveSittings(db, releaseId, guestId, into);
      await store.reown(db, releaseId, guestId, into);
      await store.setSameAs(db, guestId, into);
      await store.removeParticipant(db, releaseId, guestId);
      await this.told(db, releaseId, into);
    });
    return this.guests(releaseId);
  }

  /** Undoes a merge: the guest is somebody of their own again. */
  async apart(releaseId: string, guestId: string): Promise<GuestView[]> {
    await transaction(this.pool, async db => {
      const guest = await this.guestOf(db, releaseId, guestId);
      if (guest.sameAs === null) throw notFound();
      await store.insertParticipant(db, releaseId, guestId);
      await store.moveBack(db, releaseId, guestId);
      await store.reown(db, releaseId, guest.sameAs, guestId);
      await store.setSameAs(db, guestId, null);
      await this.told(db, releaseId, guest.sameAs);
    });
    return this.guests(releaseId);
  }

  private async guestOf(db: Queryable, releaseId: string, guestId: string): Promise<store.GuestRow> {
    const guest = await store.findGuest(db, guestId);
    if (guest?.releaseId !== releaseId) throw notFound();
    return guest;
  }

  private async told(db: Queryable, releaseId: string, personId: string): Promise<void> {
    const release = await findRelease(db, releaseId);
    await insertChange(db, {
      kind: 'release',
      subjectId: releaseId,
      classId: release?.classId ?? null,
      personId: null,
    });
    await insertChange(db, { kind: 'todo', subjectId: null, classId: null, personId });
  }

  /**
   * Job: forgets guests as long after they came as they were told: rows and, by a job of their own that is asked for in
   * the same transaction, files. One who cannot be forgotten does not keep the others.
   */
  private async forget(): Promise<void> {
    const failed: string[] = [];
    for (;;) {
      const ids = await store.guestsToForget(this.pool, 50, failed);
      if (ids.length === 0) break;
      for (const id of ids)
        try {
          await transaction(this.pool, async db => {
            // What a teacher gave to somebody else is theirs, whatever was left under the guest's name.
            await store.giveAway(db, id);
            for (const recording of await store.recordingsOf(db, id))
              await this.recordings.removeLater(db, recording);
            await endSessions(db, id);
            await store.removeGuest(db, id);
          });
        } catch (error) {
          log.error({ err: error }, 'a guest could not be forgotten');
          failed.push(id);
        }
    }
    if (failed.length > 0) throw new Error(`${failed.length} guests could not be forgotten yet.`);
    await this.jobs.add(this.pool, 'forgetGuests', {}, { runAfter: new Date(Date.now() + LOOK_EVERY_MS) });
  }

  private linkView({ releaseId: _, closesAt, closedAt, ...link }: store.LinkRow): LinkView {
    return {
      ...link,
      url: this.urlOf(link.code),
      closesAt: closesAt?.toISOString() ?? null,
      closedAt: closedAt?.toISOString() ?? null,
    };
  }

  private urlOf(code: string): string {
    return `${this.baseUrl}/g/${code}`;
  }
}

function isOpen(link: store.LinkRow, openness: ReturnType<typeof opennessAt>): boolean {
  return (
    link.closedAt === null &&
    (link.closesAt === null || link.closesAt.getTime() > Date.now()) &&
    (link.mostGuests === null || link.guests < link.mostGuests) &&
    (openness === 'open' || openness === 'lateOpen')
  );
}
