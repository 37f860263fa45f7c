/** A mail that the simulated mailbox of the demo received. */
export interface MailboxMessage {
  id: number;
  to: string;
  subject: string;
  text: string;
  receivedAt: string;
}
