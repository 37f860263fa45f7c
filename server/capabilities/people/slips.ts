import { createHash, randomBytes } from 'node:crypto';
import type { RequestHandler } from 'express';
import type { Me } from '@ecoute/contract/people';
import { alsoElsewhere, teachesStudent } from '../../platform/access/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { noteSafety } from '../../platform/safety/store';
import { endSessions } from '../../platform/sessions';
import type { Tries } from '../../platform/tries';
import { Trouble } from '../../platform/trouble';
import type { From } from './service';
import * as store from './slips.store';

/** 192 bits: as much as a drawing of a hand's breadth holds well. */
const TOKEN_BYTES = 24;

/** Each second of a recording is a request: it is not asked at each. */
const ASKED_EVERY_MS = 5_000;
const MOST_REMEMBERED = 10_000;

const hashOf = (token: string) => createHash('sha256').update(token).digest('hex');

/** Paper that signs in a child who cannot read: it holds a picture code, and is as good as a password. */
export class Slips {
  /** When a session was last asked about, ms since 1970. */
  private readonly asked = new Map<string, number>();

  constructor(
    private readonly pool: Pool,
    private readonly tries: Tries,
    private readonly baseUrl: string,
  ) {}

  /**
   * New slips, by person. Each replaces the one before, and ends what was signed in with it. What stands behind the # of an
   * address is told to no server and kept in no log.
   * @returns addresses
   */
  async make(db: Queryable, by: Pick<Me, 'id'>, personIds: readonly string[]): Promise<Map<string, string>> {
    const made = new Map<string, string>();
    for (const personId of personIds) {
      const token = randomBytes(TOKEN_BYTES).toString('base64url');
      await store.keepSlip(db, { personId, tokenHash: hashOf(token), madeBy: by.id });
      await endSessions(db, personId);
      made.set(personId, `${this.baseUrl}/in#${token}`);
    }
    return made;
  }

  /** A slip that is no longer good; whoever came by it is signed out. */
  async end(db: Queryable, personId: string): Promise<void> {
    if ((await store.removeSlip(db, personId)) > 0) await endSessions(db, personId);
  }

  /** @throws Trouble badCode, in the same words for one that never was, one that was replaced, and one of a teacher who left */
  signIn(token: string, { address }: From): Promise<{ me: Me; slip: string }> {
    const slip = hashOf(token);
    return this.tries.counted(
      { codes: address },
      'Too many codes that are not good. Wait ten minutes, then try again.',
      error => error instanceof Trouble && error.code === 'badCode',
      () =>
        transaction(this.pool, async db => {
          const me = await this.childOf(db, slip);
          if (!me)
            throw new Trouble('badCode', 'This slip is not good any more. Ask your teacher for a new one.');
          await store.noteSlipUsed(db, me.id);
          await noteSafety(db, { kind: 'signedIn', personId: me.id, detail: 'by slip' });
          return { me, slip };
        }),
    );
  }

  /**
   * A session that was begun by a slip is good for as long as the slip is, also where nobody ended it: the child has another
   * teacher now, or this one no longer.
   */
  readonly watch: RequestHandler = (req, _res, next) => {
    const { slip, me } = req.session ?? {};
    const asked = this.asked.get(req.sessionID) ?? 0;
    if (!slip || !me || Date.now() - asked < ASKED_EVERY_MS) return next();
    this.childOf(this.pool, slip).then(child => {
      if (child?.id === me.id) {
        if (this.asked.size > MOST_REMEMBERED) this.asked.clear();
        this.asked.set(req.sessionID, Date.now());
        return next();
      }
      this.asked.delete(req.sessionID);
      req.session.destroy(() => next());
    }, next);
  };

  /** Whose slip it is, while it is good: its maker teaches the child, and nobody else does. It opens nothing else. */
  private async childOf(db: Queryable, slip: string): Promise<Me | null> {
    const found = await store.findBySlip(db, slip);
    if (!found) return null;
    const { child, madeBy } = found;
    const isAlone = (await alsoElsewhere(db, [child.id], madeBy)).size === 0;
    return isAlone && (await teachesStudent(db, madeBy, child.id)) ? child : null;
  }
}
