import { verify } from '@node-rs/argon2';
import { createHash, randomUUID } from 'node:crypto';
import { signInKey, signInNameFor } from '@ecoute/core/formats/roster';
import type { ChangePassword, FirstTeacher, Me, OwnAccount, Role, SignIn } from '@ecoute/contract/people';
import { isDuplicate, transaction, type Pool, type Queryable } from '../../platform/database';
import { newCode } from '../../platform/codes';
import { addressOf, type Mailer } from '../../platform/mail/mailer';
import { doneTo, noteSafety } from '../../platform/safety/store';
import type { Counted, Tries } from '../../platform/tries';
import { notFound, Trouble } from '../../platform/trouble';
import { hashPassword, refuseCommon } from './passwords';
import * as store from './store';

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
  return new Trouble('badCode', message, { fields: { code: message } });
}

/** Where a try comes from. */
export interface From {
  address: string;
  /** Of accounts that were signed in to in this browser. */
  deviceTokens: readonly string[];
}

const isCode = (code: string) => (error: unknown) => error instanceof Trouble && error.code === code;

export class People {
  constructor(
    private readonly pool: Pool,
    private readonly tries: Tries,
    private readonly mailer: Mailer,
    private readonly baseUrl: string,
  ) {}

  async needsFirstTeacher(): Promise<boolean> {
    return !(await store.anybody(this.pool));
  }

  /**
   * @throws Trouble wrongPassword, in the same words and time whether the name or the password is wrong; tooManyTries;
   * accountClosed
   */
  async signIn({ signInName, password }: SignIn, { address, deviceTokens }: From): Promise<Me> {
    const person = await store.findBySignInName(this.pool, signInName.trim());
    // However a name is spelt that the database takes for the same, it is one account.
    const account = person?.id ?? signInKey(signInName).normalize('NFKD').replace(/\p{M}/gu, '');
    const counted: Counted = this.tries.isKnownDevice(deviceTokens, account)
      ? { knownDevice: account, address }
      : { accountHere: `${account} ${address}`, account, address };
    const me = await this.tries.counted(
      counted,
      'Too many wrong tries with this name. Wait ten minutes, or ask your teacher for a new password.',
      isCode('wrongPassword'),
      async () => {
        decoy ??= await hashPassword(randomUUID());
        const right = await verify(person?.passwordHash ?? decoy, password);
        if (!person || !right)
          throw new Trouble(
            'wrongPassword',
            'That name and password do not belong together. Check both and try again.',
          );
        if (person.closedAt)
          throw new Trouble(
            'accountClosed',
            'This account is closed. What you recorded is kept; ask whoever looks after this Ecoute.',
          );
        return meOf(person);
      },
    );
    await noteSafety(this.pool, { kind: 'signedIn', personId: me.id });
    return me;
  }

  /** What a browser keeps of an account that was signed in to in it. */
  deviceToken(personId: string): string {
    return this.tries.deviceToken(personId);
  }

  /**
   * Changes one's own password.
   * @throws Trouble wrongPassword; invalid for one that many people use
   */
  async changePassword(me: Me, { current, password }: ChangePassword, { address }: From): Promise<void> {
    const person = await store.findPerson(this.pool, me.id);
    if (!person?.passwordHash)
      throw new Trouble('notAllowed', 'You came without a password, so there is none to change.');
    await this.tries.counted(
      { accountHere: `${me.id} ${address}` },
      'Too many wrong tries. Wait ten minutes, then try again.',
      isCode('wrongPassword'),
      async () => {
        if (!(await verify(person.passwordHash!, current))) {
          const message = 'That is not the password that you have now.';
          throw new Trouble('wrongPassword', message, { fields: { current: message } });
        }
      },
    );
    refuseCommon(password, [person.displayName, person.signInName]);
    const passwordHash = await hashPassword(password);
    await transaction(this.pool, async db => {
      await store.setPassword(db, me.id, passwordHash);
      await noteSafety(db, { kind: 'passwordChanged', personId: me.id });
      await this.tellOfNewPassword(db, person);
    });
  }

  /** Whoever's password is another now hears of it at their own address: it may not have been them. */
  private async tellOfNewPassword(
    db: Queryable,
    person: { displayName: string; email: string | null; signInName: string },
  ): Promise<void> {
    const to = addressOf(person);
    if (!to || !this.mailer.isSetUp) return;
    await this.mailer.send(db, {
      to,
      subject: 'Your password for Ecoute is a new one',
      text: [
        `${person.displayName},`,
        'your password was changed just now, and every other browser was signed out.',
        `If it was not you, press "I forgot my password" at ${this.baseUrl}, and tell whoever looks after this Ecoute.`,
      ].join('\n\n'),
    });
  }

  /** Sends whoever forgot their password a code to their own address; says the same whether there is one or not. */
  async forgotten(signInName: string, { address }: From): Promise<void> {
    this.mailer.needed();
    const person = await store.findBySignInName(this.pool, signInName.trim());
    const account = person?.id ?? signInKey(signInName);
    await this.tries.limited(
      { forgotten: account, forgottenHere: address },
      'So many codes were sent that it is enough for now. Look into your mail, or wait an hour.',
    );
    const to = person && !person.closedAt ? addressOf(person) : null;
    if (!person || !to) return;
    await transaction(this.pool, async db => {
      const codes = await this.makeCodes(db, { id: person.id }, [person.id]);
      const { code, expiresAt } = codes.get(person.id)!;
      await noteSafety(db, { kind: 'codeMade', personId: person.id });
      await this.mailer.send(db, {
        to,
        subject: 'A new password for Ecoute',
        text: [
          `${person.displayName},`,
          `somebody, you perhaps, asked for a new password. Open ${this.baseUrl}/first and type this code: ${code}`,
          `It works once, until ${expiresAt.slice(0, 10)}. If it was not you, nothing has changed: leave this mail.`,
        ].join('\n\n'),
      });
    });
  }

  /** One's own account, beside the sessions. */
  async account(
    me: Me,
  ): Promise<Pick<OwnAccount, 'signInName' | 'email' | 'called' | 'hasPassword' | 'doneByOthers'>> {
    const person = await store.findPerson(this.pool, me.id);
    if (!person) throw notFound();
    const since = new Date(Date.now() - 90 * 86_400_000);
    const done = await doneTo(this.pool, me.id, since);
    return {
      signInName: me.isGuest ? '' : person.signInName,
      email: person.email,
      called: person.called ?? '',
      hasPassword: person.passwordHash !== null,
      doneByOthers: done.map(({ at, kind, by }) => ({ at: at.toISOString(), kind, by })),
    };
  }

  /** What comments are to call whoever asks. */
  async call(me: Me, called: string): Promise<void> {
    await store.setCalled(this.pool, me.id, called);
  }

  /** The first person of a new Ecoute. @throws Trouble notAllowed when somebody is here already */
  async makeFirstTeacher(wanted: FirstTeacher): Promise<Me> {
    const connection = await this.pool.getConnection();
    try {
      if (!(await store.lockFirstTeacher(connection)) || (await store.anybody(connection)))
        throw new Trouble('notAllowed', 'This Ecoute has its first teacher already. Sign in instead.');
      // Whoever comes first looks after this Ecoute, until they name others.
      return await this.add(connection, { ...wanted, role: 'teacher' }, null, true);
    } finally {
      await store.unlockFirstTeacher(connection).catch(() => undefined);
      connection.release();
    }
  }

  /** New one-time codes, by person. Each replaces the one before; only its hash is kept. */
  async makeCodes(
    db: Queryable,
    by: Pick<Me, 'id'>,
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

  /** Where a code is typed. */
  get firstAddress(): string {
    return `${this.baseUrl}/first`;
  }

  /** A one-time code asked for on the server itself, in whose own name it is kept. */
  codeFromServer(personId: string): Promise<{ code: string; expiresAt: string }> {
    return transaction(this.pool, async db => {
      const codes = await this.makeCodes(db, { id: personId }, [personId]);
      await noteSafety(db, { kind: 'codeMade', personId });
      return codes.get(personId)!;
    });
  }

  /** Whom a code is for. @throws Trouble invalid, in the same words for one that never was and one that is used */
  lookAtCode(code: string, from: From): Promise<{ displayName: string; signInName: string }> {
    return this.withCode(from, async () => {
      const found = await store.findByCode(this.pool, hashOfCode(code));
      if (!found) throw badCode();
      return { displayName: found.displayName, signInName: found.signInName };
    });
  }

  /** Only codes that are not good count as tries: neither a password that is too short, nor a class that comes at once. */
  private withCode<T>({ address }: From, work: () => Promise<T>): Promise<T> {
    return this.tries.counted(
      { codes: address },
      'Too many codes that are not good. Wait ten minutes, then try again.',
      isCode('badCode'),
      work,
    );
  }

  /**
   * A first sign-in, or a new password: the code is used up, the password is the person's own. Sessions from before are
   * for the caller to end.
   * @throws Trouble badCode; invalid for a password that many people use
   */
  useCode(code: string, password: string, from: From): Promise<Me> {
    return this.withCode(from, () => this.takeCode(code, password));
  }

  private takeCode(code: string, password: string): Promise<Me> {
    return transaction(this.pool, async db => {
      const found = await store.findByCode(db, hashOfCode(code), true);
      if (!found) throw badCode();
      refuseCommon(password, [found.displayName, found.signInName]);
      const before = await store.findPerson(db, found.id);
      const passwordHash = await hashPassword(password);
      await store.setPassword(db, found.id, passwordHash);
      await store.removeCode(db, found.id);
      await noteSafety(db, { kind: 'codeUsed', personId: found.id });
      if (before?.passwordHash) await this.tellOfNewPassword(db, before);
      return meOf(found);
    });
  }

  private async freeSignInName(db: Queryable, displayName: string): Promise<string> {
    const first = signInNameFor(displayName, () => false);
    const taken = await store.signInNamesLike(db, first.replace(/1$/, ''));
    return signInNameFor(displayName, name => taken.has(name));
  }

  /**
   * @param by whoever makes the account; null for the first of all
   * @throws Trouble invalid when the sign-in name is taken, or the password is one that many use
   */
  async add(
    db: Queryable,
    { displayName, signInName, password, email, role }: NewPerson,
    by: string | null,
    isAdmin = false,
  ): Promise<Me> {
    if (password) refuseCommon(password, [displayName, signInName ?? '', email ?? '']);
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
        madeBy: by,
        isAdmin,
      });
    } catch (error) {
      if (!isDuplicate(error)) throw error;
      const message = 'Somebody has this sign-in name already. Choose another.';
      throw new Trouble('invalid', message, { fields: { signInName: message } });
    }
    return { id, displayName: displayName.trim(), role, ...(isAdmin && { isAdmin }) };
  }
}

function meOf({ id, displayName, role, isAdmin }: store.PersonRow | (Me & { signInName: string })): Me {
  return { id, displayName, role, ...(isAdmin && { isAdmin: true }) };
}
