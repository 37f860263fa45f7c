/**
 * Tries that failed, counted for a while: whoever guesses is slowed down, and a class behind one address, in which
 * everybody mistypes something once, is not. Counted in the database, so that it does not matter which server is asked.
 */
import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import { RateLimiterMemory, RateLimiterMySQL, RateLimiterRes } from 'rate-limiter-flexible';
import type { Pool } from './database';
import { Trouble } from './trouble';

/** How many failures one key may have in a time. */
export interface Limit {
  /** What is counted, and for whom: `sign-in/account`. */
  name: string;
  most: number;
  withinSec: number;
}

const MINUTES = 60;
const HOUR = 3_600;

export const LIMITS_OF_TRIES = {
  /** One account from a browser that has signed in to it before: others cannot shut its owner out. */
  knownDevice: { name: 'sign-in/device', most: 20, withinSec: 10 * MINUTES },
  /** One account from one address. */
  accountHere: { name: 'sign-in/account-here', most: 10, withinSec: 10 * MINUTES },
  /** One account from anywhere. */
  account: { name: 'sign-in/account', most: 100, withinSec: HOUR },
  /** All accounts from one address: a school has one. */
  address: { name: 'sign-in/address', most: 1_000, withinSec: 10 * MINUTES },
  /** Codes of 59 bits need no tight limit. */
  codes: { name: 'code/address', most: 400, withinSec: 10 * MINUTES },
  links: { name: 'link/address', most: 400, withinSec: 10 * MINUTES },
  /** A class code is a word: at one door, from one address, and from anywhere. */
  doorHere: { name: 'door/here', most: 80, withinSec: 10 * MINUTES },
  door: { name: 'door', most: 1_000, withinSec: HOUR },
  phones: { name: 'phone/address', most: 200, withinSec: 10 * MINUTES },
  /** New passwords by mail. */
  forgotten: { name: 'forgotten/account', most: 5, withinSec: HOUR },
  forgottenHere: { name: 'forgotten/address', most: 100, withinSec: HOUR },
  /** Guests who come in by one door: a school, not a machine. */
  guests: { name: 'guests/door', most: 1_000, withinSec: 10 * MINUTES },
} as const satisfies Record<string, Limit>;
export type LimitName = keyof typeof LIMITS_OF_TRIES;

/** Whose tries are counted, by limit. */
export type Counted = Partial<Record<LimitName, string>>;

export class Tries {
  private readonly limiters: Record<LimitName, RateLimiterMySQL>;

  /** @param factor tests turn all limits up by it */
  constructor(
    pool: Pool,
    database: string,
    private readonly secret: string,
    factor = 1,
  ) {
    const make = ({ name, most, withinSec }: Limit) => {
      const options = { keyPrefix: name, points: most * factor, duration: withinSec };
      return new RateLimiterMySQL({
        ...options,
        storeClient: pool.pool,
        storeType: 'pool',
        dbName: database,
        tableName: 'tries',
        tableCreated: true,
        // While the database is away, each server counts for itself.
        insuranceLimiter: new RateLimiterMemory(options),
      });
    };
    this.limiters = Object.fromEntries(
      Object.entries(LIMITS_OF_TRIES).map(([name, limit]) => [name, make(limit)]),
    ) as Record<LimitName, RateLimiterMySQL>;
  }

  /** Keys are kept as their hashes: no names and addresses lie in the table. */
  private keysOf(counted: Counted): [RateLimiterMySQL, string][] {
    return Object.entries(counted).map(([name, whose]) => [
      this.limiters[name as LimitName],
      createHash('sha256').update(whose).digest('base64url').slice(0, 32),
    ]);
  }

  /**
   * Does something that may fail, and counts that. Tries under way count as failed until they are done, so that many at
   * once are no way around it.
   * @param isFailure which errors count
   * @throws Trouble tooManyTries, in the given words, without doing anything
   */
  async counted<T>(
    counted: Counted,
    words: string,
    isFailure: (error: unknown) => boolean,
    work: () => Promise<T>,
  ): Promise<T> {
    const keys = this.keysOf(counted);
    const taken: typeof keys = [];
    const refund = () =>
      Promise.all(taken.map(([limiter, key]) => limiter.reward(key).catch(() => undefined)));
    // Most tries of somebody who guesses end here, and write nothing: they cost others no time.
    const known = await Promise.all(
      keys.map(async ([limiter, key]) => ({ limiter, tries: await limiter.get(key) })),
    );
    if (known.some(({ limiter, tries }) => tries !== null && tries.consumedPoints >= limiter.points))
      throw new Trouble('tooManyTries', words);
    for (const [limiter, key] of keys)
      try {
        await limiter.consume(key);
        taken.push([limiter, key]);
      } catch (error) {
        await refund();
        if (!(error instanceof RateLimiterRes)) throw error;
        // What was refused is not one try more.
        await limiter.reward(key).catch(() => undefined);
        throw new Trouble('tooManyTries', words);
      }
    try {
      const result = await work();
      await refund();
      return result;
    } catch (error) {
      if (!isFailure(error)) await refund();
      throw error;
    }
  }

  /** Counts something that is limited although nothing is wrong with it. @throws Trouble tooManyTries */
  async limited(counted: Counted, words: string): Promise<void> {
    for (const [limiter, key] of this.keysOf(counted))
      await limiter.consume(key).catch((error: unknown) => {
        if (!(error instanceof RateLimiterRes)) throw error;
        throw new Trouble('tooManyTries', words);
      });
  }

  /** What a browser keeps of an account that was signed in to on it; it says nothing of the account. */
  deviceToken(account: string): string {
    return createHmac('sha256', this.secret).update(`device ${account}`).digest('base64url').slice(0, 22);
  }

  /** Whether a browser's tokens hold the one of an account. */
  isKnownDevice(tokens: readonly string[], account: string): boolean {
    const own = Buffer.from(this.deviceToken(account));
    return tokens.some(t => {
      const given = Buffer.from(t);
      return given.length === own.length && timingSafeEqual(given, own);
    });
  }
}
