import session from 'express-session';
import mysqlStore from 'express-mysql-session';
import type { RequestHandler } from 'express';
import type { Me } from '@ecoute/contract/people';
import type { Config } from './config';
import { rows, execute, type Pool, type Queryable } from './database';

declare module 'express-session' {
  interface SessionData {
    me?: Me;
    /** This browser is a phone that continues one item of somebody's sitting. */
    handoverId?: string;
    /** Begun by a slip, of which this is kept: it ends with it. */
    slip?: string;
    /** When the session was last written for no other reason than that it is still used. ms since 1970. */
    usedAtMs?: number;
    /** What a person calls this session by, when they end it; it opens nothing. */
    key?: string;
    signedInAtMs?: number;
    /** As the browser calls itself. */
    browser?: string;
  }
}

/** A session that is used is written anew this often; each second of a recording is a request. */
const WRITE_EVERY_MS = 3_600_000;
/** Of the cookie that holds the number of a session. */
export const SESSION_COOKIE = 'ecoute';
const WEEK_MS = 7 * 24 * 3_600_000;
/** However often it is used: after this long, somebody signs in again. */
const LONGEST_MS = 60 * 24 * 3_600_000;

/** Server-side sessions in MariaDB; the cookie holds nothing but their id. */
export function sessions(config: Config, pool: Pool): RequestHandler {
  const Store = mysqlStore(session as never);
  const store = new Store(
    {
      createDatabaseTable: false,
      // Its own clearing answers for no error: a database that is away at that moment would end the server. See `forgetExpired`.
      clearExpired: false,
      expiration: WEEK_MS,
      // Not at each request: see `keepUsed`.
      disableTouch: true,
      schema: {
        tableName: 'sessions',
        columnNames: { session_id: 'session_id', expires: 'expires', data: 'data' },
      },
    },
    pool as never,
  );
  return session({
    store,
    name: SESSION_COOKIE,
    secret: config.sessionSecret,
    resave: false,
    saveUninitialized: false,
    rolling: true,
    // Behind a proxy that speaks HTTPS the browser's own line is secure, whatever ours is.
    proxy: config.proxies !== null,
    cookie: { httpOnly: true, sameSite: 'lax', secure: isSecure(config), maxAge: WEEK_MS, path: '/' },
  });
}

/** Sweep: sessions that are over. */
export async function forgetExpired(db: Queryable): Promise<void> {
  await execute(db, 'DELETE FROM sessions WHERE expires < UNIX_TIMESTAMP()');
}

/** People reach this Ecoute by HTTPS: its own, or that of a proxy before it. */
export function isSecure(config: Pick<Config, 'tls' | 'baseUrl' | 'proxies'>): boolean {
  return config.tls !== null || (config.proxies !== null && config.baseUrl.startsWith('https:'));
}

/** Keeps the session of somebody who is here from ending, with one write an hour, and ends one that is too old. */
export const keepUsed: RequestHandler = (req, _res, next) => {
  const now = Date.now();
  if (req.session?.me && now - (req.session.signedInAtMs ?? now) > LONGEST_MS) {
    req.session.destroy(() => next());
    return;
  }
  if (req.session?.me && now - (req.session.usedAtMs ?? 0) > WRITE_EVERY_MS) req.session.usedAtMs = now;
  next();
};

export interface SessionRow {
  key: string;
  browser: string;
  signedInAtMs: number;
  usedAtMs: number;
}

/** Where somebody is signed in, what was used last first. Sessions from before they were told apart are left out. */
export async function sessionsOf(db: Queryable, personId: string): Promise<SessionRow[]> {
  const found = await rows<{ data: string }>(
    db,
    'SELECT data FROM sessions WHERE person_id = :personId AND expires > UNIX_TIMESTAMP() LIMIT 200',
    { personId },
  );
  return found
    .map(
      f => JSON.parse(f.data) as { key?: string; browser?: string; signedInAtMs?: number; usedAtMs?: number },
    )
    .flatMap(({ key, browser = '', signedInAtMs = 0, usedAtMs = signedInAtMs }) =>
      key ? [{ key, browser, signedInAtMs, usedAtMs }] : [],
    )
    .sort((a, b) => b.usedAtMs - a.usedAtMs);
}

/**
 * Ends sessions of somebody: one of them, or all but one.
 * @returns how many there were
 */
export async function endSessions(
  db: Queryable,
  personId: string,
  { only = null, but = null }: { only?: string | null; but?: string | null } = {},
): Promise<number> {
  return execute(
    db,
    `DELETE FROM sessions WHERE person_id = :personId
       AND (:only IS NULL OR JSON_VALUE(data, '$.key') = :only)
       AND (:but IS NULL OR COALESCE(JSON_VALUE(data, '$.key'), '') <> :but)`,
    { personId, only, but },
  );
}

/** Those of some sessions that are still good. */
export async function livingSessions(db: Queryable, ids: readonly string[]): Promise<Set<string>> {
  if (ids.length === 0) return new Set();
  const found = await rows<{ id: string }>(
    db,
    'SELECT session_id AS id FROM sessions WHERE session_id IN (:ids) AND expires > UNIX_TIMESTAMP()',
    { ids },
  );
  return new Set(found.map(f => f.id));
}
