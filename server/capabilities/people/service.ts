import { hash, verify } from '@node-rs/argon2';
import { randomUUID } from 'node:crypto';
import type { FirstTeacher, Me, Role, SignIn } from '@ecoute/contract/people';
import { isDuplicate, type Pool, type Queryable } from '../../platform/database';
import { Trouble } from '../../platform/trouble';
import * as store from './store';

// OWASP's argon2id minimum: 19 MiB, two passes, one lane.
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** A password as it is kept. */
export function hashPassword(password: string): Promise<string> {
  return hash(password, ARGON2);
}

let decoy: string | null = null;

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

  /** @throws Trouble invalid when the sign-in name is taken */
  async add(
    db: Queryable,
    { displayName, signInName, password, role }: FirstTeacher & { role: Role },
  ): Promise<Me> {
    const id = randomUUID();
    try {
      await store.insertPerson(db, {
        id,
        signInName: signInName.trim(),
        displayName: displayName.trim(),
        role,
        passwordHash: await hashPassword(password),
      });
    } catch (error) {
      if (!isDuplicate(error)) throw error;
      const message = 'Somebody has this sign-in name already. Choose another.';
      throw new Trouble('invalid', message, { fields: { signInName: message } });
    }
    return { id, displayName: displayName.trim(), role };
  }
}
