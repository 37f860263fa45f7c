import { hash, verify } from '@node-rs/argon2';
import { createHash, randomUUID } from 'node:crypto';
import { signInNameFor } from '@ecoute/core/formats/roster';
import type { FirstTeacher, Me, Role, SignIn } from '@ecoute/contract/people';
import { isDuplicate, transaction, type Pool, type Queryable } from '../../platform/database';
import { newCode } from '../../platform/codes';
import { Trouble } from '../../platform/trouble';
import * as store from './store';

// OWASP's argon2id minimum: 19 MiB, two passes, one lane.
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** A password as it is kept. */
export function hashPassword(password: string): Promise<string> {
  return hash(password, ARGON2);
}

let decoy: string | null = null;

/** Somebody to be added; without a password they begin with a one-time code. */
export interface NewPerson {
  displayName: string;
  signInName?: string;
  password?: string;
  email?: string;
  role: Role;
}

const CODE_DAYS = 30;

/** What is kept of a code, however it was typed. */
function hashOfCode(code: string): string {
  return createHash('sha256')
    .update(code.toUpperCase().replace(/[^0-9A-Z]/g, ''))
    .digest('hex');
}

function badCode(): Trouble {
  const message =
    'This code is not good (any more). Check it letter by letter, or ask your teacher for a new one.';
  return new Trouble('invalid', message, { fields: { code: message } });
}

export class People {
  constructor(private readonly pool: Pool) {}

  async needsFirstTeacher(): Promise<boolean> {
    return !(await store.anybody(this.pool));
  }

  /** @throws Trouble wrongPassword, in the same words and time whether the name or the password is wrong */
  async signIn({ signInName, password }: SignIn): Promise<Me> {
    const person = await store.findBySignInName(this.pool, signInName.trim());
    decoy ??= await hashPassword(randomUUID());
    const right = await verify(person?.passwordHash ?? decoy, password);
    if (!person || !right)
      throw new Trouble(
        'wrongPassword',
        'That name and password do not belong together. Check both and try again.',
      );
    return { id: person.id, displayName: person.displayName, role: person.role };
  }

  /** The first person of a new Ecoute. @throws Trouble notAllowed when somebody is here already */
  async makeFirstTeacher(wanted: FirstTeacher): Promise<Me> {
    const connection = await this.pool.getConnection();
    try {
      if (!(await store.lockFirstTeacher(connection)) || (await store.anybody(connection)))
        throw new Trouble('notAllowed', 'This Ecoute has its first teacher already. Sign in instead.');
      return await this.add(connection, { ...wanted, role: 'teacher' });
    } finally {
      await store.unlockFirstTeacher(connection).catch(() => undefined);
      connection.release();
    }
  }

  /** New one-time codes, by person. Each replaces the one before; only its hash is kept. */
  async makeCodes(
    db: Queryable,
    by: Me,
    personIds: readonly string[],
  ): Promise<Map<string, { code: string; expiresAt: string }>> {
    const expiresAt = new Date(Date.now() + CODE_DAYS * 86_400_000);
    const made = new Map<string, { code: string; expiresAt: string }>();
    for (const personId of personIds) {
      const code = newCode().toUpperCase();
      await store.keepCode(db, { personId, codeHash: hashOfCode(code), madeBy: by.id, expiresAt });
      made.set(personId, { code, expiresAt: expiresAt.toISOString() });
    }
    return made;
  }

  /** Whom a code is for. @throws Trouble invalid, in the same words for one that never was and one that is used */
  async lookAtCode(code: string): Promise<{ displayName: string; signInName: string }> {
    const found = await store.findByCode(this.pool, hashOfCode(code));
    if (!found) throw badCode();
    return { displayName: found.displayName, signInName: found.signInName };
  }

  /** A first sign-in: the code is used up, the password is the person's own. @throws Trouble invalid */
  async useCode(code: string, password: string): Promise<Me> {
    const passwordHash = await hashPassword(password);
    return transaction(this.pool, async db => {
      const found = await store.findByCode(db, hashOfCode(code), true);
      if (!found) throw badCode();
      await store.setPassword(db, found.id, passwordHash);
      await store.removeCode(db, found.id);
      return { id: found.id, displayName: found.displayName, role: found.role };
    });
  }

  private async freeSignInName(db: Queryable, displayName: string): Promise<string> {
    const first = signInNameFor(displayName, () => false);
    const taken = await store.signInNamesLike(db, first.replace(/1$/, ''));
    return signInNameFor(displayName, name => taken.has(name));
  }

  /** @throws Trouble invalid when the sign-in name is taken */
  async add(db: Queryable, { displayName, signInName, password, email, role }: NewPerson): Promise<Me> {
    const id = randomUUID();
    const name = signInName?.trim() || (await this.freeSignInName(db, displayName));
    try {
      await store.insertPerson(db, {
        id,
        signInName: name,
        displayName: displayName.trim(),
        role,
        passwordHash: password ? await hashPassword(password) : null,
        email: email?.trim() || null,
      });
    } catch (error) {
      if (!isDuplicate(error)) throw error;
      const message = 'Somebody has this sign-in name already. Choose another.';
      throw new Trouble('invalid', message, { fields: { signInName: message } });
    }
    return { id, displayName: displayName.trim(), role };
  }
}
