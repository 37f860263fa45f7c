import { randomInt } from 'node:crypto';

// Letters that are told apart on paper: 30 to the power of 12 is about 59 bits.
const LETTERS = '23456789abcdefghjkmnpqrstvwxyz';
const LENGTH = 12;

/** A code that cannot be guessed and can be typed: `xxxx-xxxx-xxxx`. */
export function newCode(): string {
  const letters = Array.from({ length: LENGTH }, () => LETTERS[randomInt(LETTERS.length)]);
  return letters.join('').replace(/(.{4})(?=.)/g, '$1-');
}
