import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto';

const CIPHER = 'aes-256-gcm';
const NONCE_BYTES = 12;
const TAG_BYTES = 16;

const keyOf = (sessionSecret: string) =>
  createHash('sha256').update(`school system ${sessionSecret}`).digest();

/** Locks the secret of the school's system with the key of this Ecoute, so that a copy of the database does not tell it. */
export function lock(secret: string, sessionSecret: string): Buffer {
  const nonce = randomBytes(NONCE_BYTES);
  const cipher = createCipheriv(CIPHER, keyOf(sessionSecret), nonce);
  const locked = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), locked]);
}

/** @returns null where it was locked with another key, or is broken */
export function unlock(locked: Buffer, sessionSecret: string): string | null {
  try {
    const decipher = createDecipheriv(CIPHER, keyOf(sessionSecret), locked.subarray(0, NONCE_BYTES));
    decipher.setAuthTag(locked.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES));
    const open = [decipher.update(locked.subarray(NONCE_BYTES + TAG_BYTES)), decipher.final()];
    return Buffer.concat(open).toString('utf8');
  } catch {
    return null;
  }
}
