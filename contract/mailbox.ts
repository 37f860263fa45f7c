/** A mail that the simulated mailbox of the demo received. */
export interface MailboxMessage {
  id: number;
  to: string;
  subject: string;
  text: string;
  /** It came as HTML as well, and is looked at as such. */
  hasLetter: boolean;
  receivedAt: string;
}
