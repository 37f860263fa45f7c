import session from 'express-session';
import mysqlStore from 'express-mysql-session';
import type { RequestHandler } from 'express';
import type { Me } from '@ecoute/contract/people';
import type { Config } from './config';
import type { Pool } from './database';

declare module 'express-session' {
  interface SessionData {
    me?: Me;
    /** This browser is a phone that continues one item of somebody's sitting. */
    handoverId?: string;
    /** When the session was last written for no other reason than that it is still used. ms since 1970. */
    usedAtMs?: number;
  }
}

/** A session that is used is written anew this often; each second of a recording is a request. */
const WRITE_EVERY_MS = 3_600_000;
const WEEK_MS = 7 * 24 * 3_600_000;

/** Server-side sessions in MariaDB; the cookie holds nothing but their id. */
export function sessions(config: Config, pool: Pool): RequestHandler {
  const Store = mysqlStore(session as never);
  const store = new Store(
    {
      createDatabaseTable: false,
      clearExpired: true,
      checkExpirationInterval: 15 * 60_000,
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
    name: 'ecoute',
    secret: config.sessionSecret,
    resave: false,
    saveUninitialized: false,
    rolling: true,
    cookie: { httpOnly: true, sameSite: 'lax', secure: config.tls !== null, maxAge: WEEK_MS, path: '/' },
  });
}

/** Keeps the session of somebody who is here from ending, with one write an hour. */
export const keepUsed: RequestHandler = (req, _res, next) => {
  const now = Date.now();
  if (req.session?.me && now - (req.session.usedAtMs ?? 0) > WRITE_EVERY_MS) req.session.usedAtMs = now;
  next();
};
