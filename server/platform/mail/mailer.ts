import { createTransport, type Transporter } from 'nodemailer';
import { isMailAddress } from '@ecoute/core/formats/roster';
import type { Pool, Queryable } from '../database';
import { MAILBOX, type MailConfig } from '../config';
import { DAY_MS, growing, type JobQueue } from '../jobs/queue';
import { Trouble } from '../trouble';
import { insertMessage } from './store';

export interface Mail {
  to: string;
  subject: string;
  text: string;
  /** The same as HTML, for whoever reads it so; its pictures are named \`cid:…\`. */
  html?: string;
  pictures?: { cid: string; type: string; base64: string }[];
}

/** Sends mail by SMTP, as jobs: a mail server that is away is tried again for a day, then the mail is seen as given up. */
export class Mailer {
  private readonly transport: Transporter | null;

  constructor(
    private readonly config: MailConfig | null,
    private readonly jobs: JobQueue,
    private readonly pool: Pool,
  ) {
    const limits = { connectionTimeout: 20_000, greetingTimeout: 20_000, socketTimeout: 60_000 };
    this.transport =
      config &&
      (config.url === MAILBOX
        ? createTransport({ jsonTransport: true }, { from: config.from })
        : createTransport({ url: config.url, ...limits }, { from: config.from }));
    jobs.on('sendMail', (mail: Mail) => this.deliver(mail), {
      tries: Infinity,
      forMs: DAY_MS,
      waitMs: failures => Math.max(15_000, growing(failures, 30 * 60_000)),
    });
  }

  /** @throws Trouble noMail where none is set up */
  needed(): void {
    if (!this.config)
      throw new Trouble(
        'noMail',
        'No mail goes out from here yet. Whoever runs this Ecoute sets ECOUTE_SMTP_URL; until then, print or say it.',
      );
  }

  /** Mail goes out from here. */
  get isSetUp(): boolean {
    return this.config !== null;
  }

  /** Asks the mail server whether it would take mail. @returns why not, in its words; null when it would */
  async whyNot(): Promise<string | null> {
    try {
      await this.transport?.verify();
      return null;
    } catch (error) {
      return (error as Error).message;
    }
  }

  /** Puts a mail on its way; it goes out when the transaction of `db` is done. */
  async send(db: Queryable, mail: Mail): Promise<void> {
    this.needed();
    // A letter is short, and somebody waits for a code: it does not stand behind the measuring of a class.
    await this.jobs.add(db, 'sendMail', mail, { urgent: true });
  }

  private async deliver({ to, subject, text, html, pictures = [] }: Mail): Promise<void> {
    const attachments = pictures.map(({ cid, type, base64 }) => ({
      cid,
      contentType: type,
      content: base64,
      encoding: 'base64',
      contentDisposition: 'inline' as const,
    }));
    await this.transport?.sendMail({ to, subject, text, html, attachments });
    // The stand-in makes the same letter of it, and lays it down here.
    if (this.config?.url === MAILBOX)
      await insertMessage(this.pool, { to, subject, text, html: html ? withPictures(html, pictures) : null });
  }
}

/** A letter with its pictures in it, as a program for mail shows it. */
function withPictures(html: string, pictures: NonNullable<Mail['pictures']>): string {
  return pictures.reduce(
    (letter, { cid, type, base64 }) => letter.replaceAll(`cid:${cid}`, `data:${type};base64,${base64}`),
    html,
  );
}

/** Where somebody is written to: their mail address, or a sign-in name that is one; null for nowhere. */
export function addressOf(person: { email: string | null; signInName: string }): string | null {
  const address = person.email ?? person.signInName;
  return isMailAddress(address) ? address : null;
}
