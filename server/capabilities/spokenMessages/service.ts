import { randomUUID } from 'node:crypto';
import { LIMITS } from '@ecoute/contract/limits';
import type { StudentLanguage } from '@ecoute/contract/languages';
import type { Me } from '@ecoute/contract/people';
import type {
  MessageRecipient,
  MessageToMe,
  NewSpokenMessage,
  SpokenMessage,
  SpokenMessageDetail,
} from '@ecoute/contract/spokenMessages';
import { insertChange, insertForPeople } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { log } from '../../platform/log';
import { addressOf, type Mailer } from '../../platform/mail/mailer';
import { notFound, Trouble } from '../../platform/trouble';
import { addressesOf, beginAgain, endAddress } from '../families/store';
import type { Recordings } from '../recordings/service';
import { findRecording } from '../recordings/store';
import { hasNothingToHear } from '../recordings/view';
import { deadMessagePage, messageMail, messagePage } from './page';
import * as store from './store';
import { waveformPng } from './waveform';

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** What teachers say to a class, a group or single students, and to their families. */
export class SpokenMessages {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly jobs: JobQueue,
    private readonly mailer: Mailer,
    private readonly baseUrl: string,
  ) {
    recordings.onSettled((db, recordingId) => this.settled(db, recordingId));
    jobs.on('mailSpokenMessage', ({ id }: { id: string }) => this.mail(id));
    // A crash between the word that it stands and its mails leaves no message half sent.
    jobs.onSweep(async () => {
      if (!this.mailer.isSetUp) return;
      for (const id of await store.unmailed(this.pool))
        await jobs.ensure(this.pool, 'mailSpokenMessage', { id }, { urgent: true, subjectId: id });
    });
  }

  async list(classId: string): Promise<SpokenMessage[]> {
    return this.views(await store.messagesOfClass(this.pool, classId));
  }

  /** With everybody whom it went to. */
  async detail(id: string): Promise<SpokenMessageDetail> {
    const message = await store.findMessage(this.pool, id);
    if (!message) throw notFound();
    const [view] = await this.views([message]);
    const recipients = await store.recipientsOf(this.pool, id);
    return { ...view!, recipients: recipients.map(r => this.recipientView(r)) };
  }

  private async views(messages: readonly store.MessageRow[]): Promise<SpokenMessage[]> {
    const counts = await store.heardCounts(
      this.pool,
      messages.map(m => m.id),
    );
    const names = await store.namesOf(
      this.pool,
      messages.filter(m => m.isPicked).map(m => m.id),
    );
    return messages.map(m =>
      view(
        m,
        counts.filter(c => c.messageId === m.id),
        names.filter(n => n.messageId === m.id).map(n => n.name),
      ),
    );
  }

  /**
   * Keeps what was said and whom it is for; it goes out once its sound has come. Sent twice it is there once.
   * @throws Trouble invalid where nobody is to hear it; noMail where families are, and no mail goes out from here
   */
  async send(teacher: Me, classId: string, wanted: NewSpokenMessage): Promise<SpokenMessageDetail> {
    await transaction(this.pool, async db => {
      const known = await store.holdMessage(db, wanted.id);
      if (known && (known.classId !== classId || known.authorId !== teacher.id)) throw notFound();
      if (known) return;
      const groupId = wanted.groupId ?? null;
      const there = await store.studentsOf(db, classId, groupId);
      const studentIds = wanted.studentIds ? there.filter(id => wanted.studentIds!.includes(id)) : there;
      if (studentIds.length === 0)
        throw new Trouble('invalid', 'Nobody is there to hear this. Choose who it is for.', {
          fields: { studentIds: 'Choose who it is for.' },
        });
      const reachesFamilies = wanted.reaches !== 'students';
      if (reachesFamilies) this.mailer.needed();
      const families = reachesFamilies
        ? (await addressesOf(db, studentIds)).filter(a => a.endedBy === null)
        : [];
      if (wanted.reaches === 'families' && families.length === 0)
        throw new Trouble(
          'invalid',
          'No address of a family is kept for them. Add one on the page of the class, or choose the students.',
          { fields: { reaches: 'No address of a family is kept for them.' } },
        );
      await this.recordings.announce(db, {
        id: wanted.voice.recordingId,
        ownerId: teacher.id,
        purpose: 'message',
        assessmentId: null,
        announcedType: wanted.voice.mediaType,
        fileName: null,
        limitMs: LIMITS.messageMs,
      });
      await store.insertMessage(db, {
        id: wanted.id,
        classId,
        groupId,
        isPicked: Boolean(wanted.studentIds),
        authorId: teacher.id,
        voiceId: wanted.voice.recordingId,
        title: wanted.title.trim(),
        words: wanted.words.trim(),
      });
      const own = reachesFamilies && wanted.reaches === 'families' ? [] : studentIds;
      await store.insertRecipients(db, wanted.id, [
        ...own.map(studentId => ({ id: randomUUID(), studentId, familyId: null })),
        ...families.map(f => ({ id: randomUUID(), studentId: f.studentId, familyId: f.id })),
      ]);
      await this.tellTeachers(db, wanted.id, classId);
    });
    return this.detail(wanted.id);
  }

  /** Taken back, it is heard by nobody from this moment on; its mails lead nowhere. Or put back. */
  async takeBack(id: string, back: boolean): Promise<SpokenMessageDetail> {
    await transaction(this.pool, async db => {
      const message = await store.holdMessage(db, id);
      if (!message) throw notFound();
      await store.setTakenBack(db, id, back);
      // Put back before it went out, it goes out now.
      if (!back) await this.goOut(db, message);
      await this.tellEverybody(db, message);
    });
    return this.detail(id);
  }

  /** One of its addresses leads nowhere any more, or does again. */
  async end(id: string, recipientId: string, ended: boolean): Promise<SpokenMessageDetail> {
    await this.ofMessage(id, recipientId, db => store.setEnded(db, recipientId, ended));
    return this.detail(id);
  }

  /** Another address in place of one, mailed anew. @throws Trouble notAllowed where it is written to no more */
  async renew(id: string, recipientId: string): Promise<SpokenMessageDetail> {
    await this.ofMessage(id, recipientId, async (db, recipient) => {
      if (recipient.familyEnded)
        throw new Trouble(
          'notAllowed',
          'This address is no longer written to. Look at the addresses of the family on the page of the class.',
        );
      await store.renewRecipient(db, recipientId, randomUUID());
      await this.jobs.ensure(db, 'mailSpokenMessage', { id }, { urgent: true, subjectId: id });
    });
    return this.detail(id);
  }

  private async ofMessage(
    id: string,
    recipientId: string,
    work: (db: Queryable, recipient: store.RecipientRow) => Promise<void>,
  ): Promise<void> {
    await transaction(this.pool, async db => {
      const message = await store.holdMessage(db, id);
      const recipient = await store.findRecipient(db, recipientId);
      if (!message || recipient?.messageId !== id) throw notFound();
      await work(db, recipient);
      await this.tellTeachers(db, id, message.classId);
      if (!recipient.familyId)
        await insertForPeople(db, { kind: 'todo', subjectId: null }, [recipient.studentId]);
    });
  }

  /** What a student was told. */
  async toMe(student: Me): Promise<MessageToMe[]> {
    return (await store.messagesTo(this.pool, student.id)).map(m => ({
      ...m,
      sentAt: m.sentAt.toISOString(),
      heardAt: m.heardAt?.toISOString() ?? null,
    }));
  }

  /** A student has played it. @throws Trouble notFound for what did not go to them */
  async heard(student: Me, id: string): Promise<void> {
    await transaction(this.pool, async db => {
      const own = await store.ownRecipient(db, id, student.id);
      if (!own) throw notFound();
      await this.played(db, id, own);
    });
  }

  /** The page at an address. */
  async page(code: string, asked: StudentLanguage, nonce: string): Promise<{ status: number; html: string }> {
    const found = UUID.test(code) ? await this.behind(code) : null;
    const language = found?.to.language ?? asked;
    if (!found) return { status: 404, html: deadMessagePage(language, nonce) };
    return { status: 200, html: messagePage(found.message, found.to, language, nonce) };
  }

  /**
   * Where the sound of an address lies.
   * @param isPlayed whoever asks plays it from its beginning @throws Trouble deadLink once it leads nowhere any more
   */
  async sound(code: string, isPlayed: boolean): Promise<{ path: string; type: string }> {
    const found = await this.behind(code);
    if (!found) throw dead();
    if (isPlayed) await transaction(this.pool, db => this.played(db, found.message.id, code));
    return this.recordings.served.playing(found.message.voiceId);
  }

  /** The family behind an address wants no more mail, or wants it again. @throws Trouble deadLink as above */
  async write(code: string, more: boolean): Promise<void> {
    const found = await this.behind(code);
    if (!found?.to.familyId) throw dead();
    const address = { id: found.to.familyId, studentId: found.to.studentId, by: 'family' as const };
    await transaction(this.pool, async db => {
      if (await (more ? beginAgain(db, address) : endAddress(db, address)))
        await this.tellTeachers(db, found.message.id, found.message.classId);
    });
  }

  /** A message that stands, and whom the address is of. */
  private async behind(code: string) {
    const to = await store.findRecipient(this.pool, code);
    // What a teacher or the student ended is heard there no more; a family that wants no more mail keeps what it has.
    if (!to || to.endedAt || (to.familyEnded && to.familyEnded !== 'family')) return null;
    const message = await store.findMessage(this.pool, to.messageId);
    return message?.sentAt && !message.takenBackAt ? { to, message } : null;
  }

  private async played(db: Queryable, id: string, recipientId: string): Promise<void> {
    if (!(await store.markHeard(db, recipientId))) return;
    const message = await store.findMessage(db, id);
    if (!message) return;
    await this.tellTeachers(db, id, message.classId);
    const { familyId, studentId } = (await store.findRecipient(db, recipientId))!;
    if (!familyId)
      await insertChange(db, { kind: 'todo', subjectId: null, classId: null, personId: studentId });
  }

  /** Its sound was looked at. */
  private async settled(db: Queryable, voiceId: string): Promise<void> {
    const id = await store.messageOfVoice(db, voiceId);
    const message = id && (await store.holdMessage(db, id));
    if (!message) return;
    await this.goOut(db, message);
    await this.tellEverybody(db, message);
  }

  /** It goes out once its sound stands, and something can be heard in it. */
  private async goOut(db: Queryable, message: store.MessageRow): Promise<void> {
    const recording = await findRecording(db, message.voiceId);
    if (recording?.state !== 'stored' || hasNothingToHear(recording)) return;
    await store.markSent(db, message.id);
    if (this.mailer.isSetUp)
      await this.jobs.ensure(
        db,
        'mailSpokenMessage',
        { id: message.id },
        { urgent: true, subjectId: message.id },
      );
  }

  /** Job: mails everybody who was not mailed yet. Safe to run again, and while it is taken back. */
  private async mail(id: string): Promise<void> {
    const first = await store.findMessage(this.pool, id);
    if (!first?.sentAt) return;
    const waiting = (await store.recipientsOf(this.pool, id)).filter(
      r => !r.mailedAt && !r.endedAt && mailAddressOf(r) !== null,
    );
    if (waiting.length === 0) return;
    const { path } = await this.recordings.served.playing(first.voiceId);
    const waveform = await waveformPng(path).then(
      png => png.toString('base64'),
      (error: unknown) => {
        log.warn({ err: error, id }, 'a message is mailed without its waveform');
        return null;
      },
    );
    for (const { id: recipientId } of waiting)
      await transaction(this.pool, async db => {
        const message = await store.holdMessage(db, id);
        const to = await store.findRecipient(db, recipientId);
        if (!to || !message?.sentAt || message.takenBackAt) return;
        const email = mailAddressOf(to);
        if (!email || !(await store.markMailed(db, recipientId))) return;
        const address = this.urlOf(recipientId);
        const language = to.language ?? 'en';
        await this.mailer.send(db, messageMail(message, to, { email, language, address, waveform }));
      });
    const { classId } = first;
    await this.tellTeachers(this.pool, id, classId);
  }

  private tellTeachers(db: Queryable, id: string, classId: string): Promise<void> {
    return insertChange(db, { kind: 'message', subjectId: id, classId, personId: null });
  }

  /** The pages of the class's teachers, and of every student whom it went to. */
  private async tellEverybody(db: Queryable, { id, classId }: store.MessageRow): Promise<void> {
    await this.tellTeachers(db, id, classId);
    const own = (await store.recipientsOf(db, id)).filter(r => !r.familyId);
    await insertForPeople(
      db,
      { kind: 'todo', subjectId: null },
      own.map(r => r.studentId),
    );
  }

  private recipientView(r: store.RecipientRow): MessageRecipient {
    return {
      id: r.id,
      studentName: r.studentName,
      email: r.email,
      name: r.name ?? '',
      address: this.urlOf(r.id),
      isMailed: this.mailer.isSetUp && mailAddressOf(r) !== null,
      mailedAt: r.mailedAt?.toISOString() ?? null,
      heardAt: r.heardAt?.toISOString() ?? null,
      ended: r.endedAt ? 'address' : r.familyEnded ? 'family' : null,
    };
  }

  private urlOf(recipientId: string): string {
    return `${this.baseUrl}/spoken/${recipientId}`;
  }
}

/** @param names of the students, where some were picked */
function view(m: store.MessageRow, counts: readonly store.Heard[], names: readonly string[]): SpokenMessage {
  const counted = (isFamily: boolean) => {
    const found = counts.find(c => c.isFamily === isFamily);
    return { all: found?.all ?? 0, heard: found?.heard ?? 0 };
  };
  return {
    id: m.id,
    title: m.title,
    words: m.words,
    authorName: m.authorName,
    voiceId: m.voiceId,
    voiceMs: m.voiceMs,
    voiceState: m.voiceState,
    madeAt: m.madeAt.toISOString(),
    sentAt: m.sentAt?.toISOString() ?? null,
    takenBackAt: m.takenBackAt?.toISOString() ?? null,
    meantFor: m.isPicked
      ? names.length > 3
        ? `${names.slice(0, 2).join(', ')} and ${names.length - 2} others`
        : names.join(', ')
      : (m.groupName ?? ''),
    students: counted(false),
    families: counted(true),
  };
}

/** Where somebody is mailed; null where there is no address, or it is no longer written to. */
function mailAddressOf(to: store.RecipientRow): string | null {
  if (to.familyId) return to.familyEnded ? null : to.email;
  return addressOf({ email: to.studentEmail, signInName: to.signInName });
}

function dead(): Trouble {
  return new Trouble('deadLink', 'This address leads nowhere any more. Whoever gave it can make a new one.');
}
