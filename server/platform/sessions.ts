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
  }
}

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
