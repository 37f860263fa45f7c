import { statfs } from 'node:fs/promises';
import type {
  AccountList,
  Administration,
  GivenUpJobView,
  JobsAgain,
  NewAccount,
  SafetyEntry,
} from '@ecoute/contract/administration';
import type { FirstCode } from '@ecoute/contract/classes';
import type { Me } from '@ecoute/contract/people';
import { insertChange } from '../../platform/changes/store';
import type { Config } from '../../platform/config';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { dismissJob, givenUpJobs, jobCounts, longestWaitMs, tryAgain } from '../../platform/jobs/store';
import { addressOf, type Mailer } from '../../platform/mail/mailer';
import { forgetSafety, noteSafety, safetyLog } from '../../platform/safety/store';
import { endSessions } from '../../platform/sessions';
import { notFound, Trouble } from '../../platform/trouble';
import type { People } from '../people/service';
import { findPerson, makersOf, type PersonRow } from '../people/store';
import * as store from './store';
import * as sums from './sums.store';

const PAGE = 50;

/** What a kind of job does, in words. */
const KINDS: Record<string, string> = {
  inspectRecording: 'look at a recording',
  makePlayable: 'make the copy that plays everywhere',
  makePages: 'draw pages',
  measureTake: 'measure a take',
  sendMail: 'send a mail',
  timeUp: 'hand in when the time is up',
  announceRelease: 'tell that a release is open',
  tellFeedback: 'tell that feedback is there',
  runImport: 'bring in a list',
  forgetGuests: 'forget guests',
  removeFiles: 'remove files',
  runExport: 'make what a teacher takes along',
  handOver: 'hand scores over to the school’s system',
};

/** Looking after an Ecoute: people, roles, passwords, what failed, room. Nothing here lets anybody hear a student. */
export class AdministrationDesk {
  constructor(
    private readonly pool: Pool,
    private readonly people: People,
    private readonly mailer: Mailer,
    private readonly config: Pick<Config, 'dataDir' | 'quotas' | 'baseUrl'>,
  ) {}

  async overview(): Promise<Administration> {
    const disk = await statfs(this.config.dataDir);
    const counts = await jobCounts(this.pool);
    await forgetSafety(this.pool);
    await sums.addUp(this.pool);
    return {
      people: await sums.peopleCounts(this.pool),
      room: {
        disk: disk.blocks * disk.bsize,
        free: disk.bavail * disk.bsize,
        byPurpose: await sums.bytesByPurpose(this.pool),
      },
      quotas: this.config.quotas,
      largest: await sums.largestKeepers(this.pool, 10),
      jobs: {
        waiting: counts.waiting ?? 0,
        running: counts.running ?? 0,
        failed: counts.failed ?? 0,
        longestWaitMs: await longestWaitMs(this.pool),
      },
      sendsMail: this.mailer.isSetUp,
      quietTakes: await store.countQuietTakes(this.pool),
    };
  }

  async accounts(by: Me, find: string, after: string | null): Promise<AccountList> {
    const found = await store.accounts(this.pool, { by: by.id, find: find.trim(), after, most: PAGE + 1 });
    return { people: found.slice(0, PAGE), after: found.length > PAGE ? found[PAGE - 1]!.signInName : null };
  }

  /** A new account; it begins with a one-time code. @throws Trouble invalid when the sign-in name is taken */
  async make(by: Me, wanted: NewAccount): Promise<AccountList> {
    await transaction(this.pool, async db => {
      const made = await this.people.add(db, wanted, by.id);
      await noteSafety(db, { kind: 'accountMade', personId: made.id, byId: by.id });
    });
    return this.accounts(by, wanted.signInName, null);
  }

  /**
   * A new one-time code. It is shown only for an account that this administrator made and that is not in use yet; any
   * other goes to the person's own address alone: otherwise whoever looks after an Ecoute could become somebody who
   * hears students.
   * @throws Trouble noAddress, byMailOnly; noMail
   */
  async code(by: Me, personId: string, byMail: boolean): Promise<FirstCode> {
    if (byMail) this.mailer.needed();
    return transaction(this.pool, async db => {
      const person = await this.personOf(db, personId);
      const to = byMail ? addressOf(person) : null;
      if (byMail && !to)
        throw new Trouble(
          'noAddress',
          'This account has no mail address. Print the code, or ask their teacher.',
        );
      const isOwn = (await makersOf(db, [personId])).get(personId) === by.id;
      if (!to && (person.passwordHash !== null || !isOwn))
        throw new Trouble(
          'byMailOnly',
          `${isOwn ? 'This account is in use' : 'Somebody else made this account'}, so its code goes by mail to its own address. Where there is none, a student’s teacher makes a code, and on the server itself \`./ecoute code NAME\` does.`,
        );
      const { code, expiresAt } = (await this.people.makeCodes(db, by, [personId])).get(personId)!;
      await noteSafety(db, { kind: 'codeMade', personId, byId: by.id });
      if (to)
        await this.mailer.send(db, {
          to,
          subject: 'A new password for Ecoute',
          text: [
            `${person.displayName},`,
            `open ${this.config.baseUrl}/first and type this code: ${code}`,
            `Then choose a password that nobody else knows. The code works once, until ${expiresAt.slice(0, 10)}.`,
          ].join('\n\n'),
        });
      const { displayName, signInName } = person;
      const address = `${this.config.baseUrl}/first`;
      return { personId, displayName, signInName, code: to ? null : code, address, expiresAt };
    });
  }

  /** @throws Trouble lastOne for the last administrator; invalid for a student */
  async nameAdmin(by: Me, personId: string, isAdmin: boolean): Promise<void> {
    await transaction(this.pool, async db => {
      const person = await this.personOf(db, personId);
      if (person.role !== 'teacher')
        throw new Trouble('invalid', 'Only a teacher’s account can look after Ecoute.');
      if (!isAdmin && (await store.countAdmins(db)) === 1)
        throw new Trouble(
          'lastOne',
          'Somebody must look after this Ecoute. Name another administrator first.',
        );
      await store.setAdmin(db, personId, isAdmin);
      await noteSafety(db, { kind: isAdmin ? 'adminNamed' : 'adminUnnamed', personId, byId: by.id });
    });
  }

  /** Closes an account, and every session with it, or opens it again; nothing that it recorded or wrote is touched. */
  async close(by: Me, personId: string, closed: boolean): Promise<void> {
    await transaction(this.pool, async db => {
      const person = await this.personOf(db, personId);
      if (closed && person.id === by.id)
        throw new Trouble('ownAccount', 'This is your own account. Ask another administrator to close it.');
      await store.setClosed(db, personId, closed);
      if (closed) await this.endSessions(db, personId);
      await noteSafety(db, { kind: closed ? 'accountClosed' : 'accountOpened', personId, byId: by.id });
    });
  }

  async signOut(by: Me, personId: string): Promise<void> {
    await transaction(this.pool, async db => {
      await this.personOf(db, personId);
      await this.endSessions(db, personId);
      await noteSafety(db, { kind: 'sessionsEnded', personId, byId: by.id });
    });
  }

  private async endSessions(db: Queryable, personId: string): Promise<void> {
    await endSessions(db, personId);
    await insertChange(db, { kind: 'session', subjectId: null, classId: null, personId });
  }

  /** Jobs that were given up. What they are about is said without names. */
  async failed(): Promise<GivenUpJobView[]> {
    return (await givenUpJobs(this.pool)).map(({ id, kind, error, failures, createdAt, failedAt }) => ({
      id,
      kind,
      about: KINDS[kind] ?? kind,
      error,
      failures,
      askedAt: createdAt.toISOString(),
      failedAt: failedAt?.toISOString() ?? null,
    }));
  }

  async jobsAgain({ what, ids }: JobsAgain): Promise<GivenUpJobView[]> {
    if (what === 'again') for (const id of ids ?? [null]) await tryAgain(this.pool, id);
    else
      for (const id of ids ?? (await givenUpJobs(this.pool)).map(j => j.id)) await dismissJob(this.pool, id);
    return this.failed();
  }

  async log(before: number | null): Promise<SafetyEntry[]> {
    return (await safetyLog(this.pool, before)).map(({ id, at, kind, person, by }) => ({
      id,
      at: at.toISOString(),
      kind,
      person,
      by,
    }));
  }

  private async personOf(db: Queryable, id: string): Promise<PersonRow> {
    const person = await findPerson(db, id);
    if (!person || person.signInName.startsWith('guest ')) throw notFound();
    return person;
  }
}
