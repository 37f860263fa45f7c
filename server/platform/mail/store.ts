import type { MailboxMessage } from '@ecoute/contract/mailbox';
import { row, rows, execute, type Queryable } from '../database';

export async function insertMessage(
  db: Queryable,
  message: { to: string; subject: string; text: string; html: string | null },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO mailbox_messages (to_address, subject, body, html, received_at)
     VALUES (:to, :subject, :text, :html, UTC_TIMESTAMP(3))`,
    { ...message, to: message.to.slice(0, 320), subject: message.subject.slice(0, 400) },
  );
}

/** What arrived last, newest first. */
export async function messages(db: Queryable): Promise<MailboxMessage[]> {
  const found = await rows<
    Omit<MailboxMessage, 'receivedAt' | 'hasLetter'> & { receivedAt: Date; hasLetter: number }
  >(
    db,
    `SELECT id, to_address AS \`to\`, subject, body AS text, html IS NOT NULL AS hasLetter, received_at AS receivedAt
     FROM mailbox_messages ORDER BY id DESC LIMIT 200`,
  );
  return found.map(m => ({
    ...m,
    hasLetter: Boolean(m.hasLetter),
    receivedAt: m.receivedAt.toISOString(),
  }));
}

/** A mail as HTML; null where it came as text alone. */
export async function letterOf(db: Queryable, id: number): Promise<string | null> {
  const found = await row<{ html: string | null }>(db, 'SELECT html FROM mailbox_messages WHERE id = :id', {
    id,
  });
  return found?.html ?? null;
}
