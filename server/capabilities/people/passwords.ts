/** Passwords: how they are kept, and which are refused. */
import { hash } from '@node-rs/argon2';
import zxcvbn from 'zxcvbn';
import { Trouble } from '../../platform/trouble';

// OWASP's argon2id minimum: 19 MiB, two passes, one lane.
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** A password as it is kept. */
export function hashPassword(password: string): Promise<string> {
  return hash(password, ARGON2);
}

/** From 0 to 4 (zxcvbn): below this a guesser needs fewer than a million tries. */
const LEAST_SCORE = 2;

/**
 * Refuses passwords that many people use, and those made of the person's own name.
 * @throws Trouble invalid
 */
export function refuseCommon(password: string, own: readonly string[]): void {
  // Its work grows with the length; what is longer is hard to guess by its beginning alone.
  const { score } = zxcvbn(password.slice(0, 60), [
    'ecoute',
    ...own.flatMap(w => [w, ...w.split(/[\s@.]+/)]),
  ]);
  if (score >= LEAST_SCORE) return;
  const message =
    'This password is among those that are tried first. Choose another: four words that have nothing to do with each other are good.';
  throw new Trouble('invalid', message, { fields: { password: message } });
}
