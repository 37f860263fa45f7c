/** A stand-in for the mail of the world: takes every mail by SMTP and keeps it to be looked at. */
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import type { Pool } from '../database';
import { log } from '../log';
import { insertMessage } from './store';

/** @returns the address to send to, and what ends it */
export async function openMailbox(pool: Pool): Promise<{ url: string; close: () => Promise<void> }> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    logger: false,
    size: 1024 * 1024,
    onData(stream, session, done) {
      simpleParser(stream)
        .then(async mail => {
          for (const { address } of session.envelope.rcptTo)
            await insertMessage(pool, { to: address, subject: mail.subject ?? '', text: mail.text ?? '' });
          done();
        })
        .catch((error: Error) => done(error));
    },
  });
  server.on('error', error => log.warn({ err: error }, 'mailbox'));
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.server.address() as { port: number };
  return {
    url: `smtp://127.0.0.1:${port}`,
    close: () => new Promise(resolve => server.close(() => resolve())),
  };
}
