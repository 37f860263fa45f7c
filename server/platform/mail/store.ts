import type { MailboxMessage } from '@ecoute/contract/mailbox';
import { rows, execute, type Queryable } from '../database';

export async function insertMessage(
  db: Queryable,
  message: { to: string; subject: string; text: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO mailbox_messages (to_address, subject, body, received_at)
     VALUES (:to, :subject, :text, UTC_TIMESTAMP(3))`,
    { ...message, to: message.to.slice(0, 320), subject: message.subject.slice(0, 400) },
  );
}

/** What arrived last, newest first. */
export async function messages(db: Queryable): Promise<MailboxMessage[]> {
  const found = await rows<Omit<MailboxMessage, 'receivedAt'> & { receivedAt: Date }>(
    db,
    `SELECT id, to_address AS \`to\`, subject, body AS text, received_at AS receivedAt FROM mailbox_messages
     ORDER BY id DESC LIMIT 200`,
  );
  return found.map(m => ({ ...m, receivedAt: m.receivedAt.toISOString() }));
}
