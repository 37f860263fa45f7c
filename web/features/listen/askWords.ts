import type { AskKind } from '@ecoute/contract/replies';

/** What a student may be asked to do, as their teacher reads it. */
export const ASK_WORDS: Record<AskKind, string> = {
  acknowledge: 'say that they heard it',
  reply: 'reply',
  change: 'say what they would change',
  recordAgain: 'record it again',
};
