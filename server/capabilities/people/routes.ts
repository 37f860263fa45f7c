import type { Request } from 'express';
import rateLimit from 'express-rate-limit';
import {
  FirstSignIn,
  FirstTeacher,
  LookAtCode,
  SignIn,
  type Me,
  type SessionState,
} from '@ecoute/contract/people';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import { Trouble } from '../../platform/trouble';
import type { People } from './service';

/** A new session id at every sign-in, so that one known before it is worth nothing after. */
export function begin(req: Request, me: Me): Promise<void> {
  return new Promise((resolve, reject) =>
    req.session.regenerate(error => {
      if (error) return reject(error as Error);
      req.session.me = me;
      req.session.save(problem => (problem ? reject(problem as Error) : resolve()));
    }),
  );
}

/** Wrong tries are counted per address and name: one forgetful student does not lock a school out. */
export function signInLimit(relaxed: boolean) {
  return rateLimit({
    windowMs: 10 * 60_000,
    limit: relaxed ? 10_000 : 10,
    skipSuccessfulRequests: true,
    standardHeaders: true,
    legacyHeaders: false,
    keyGenerator: req =>
      `${req.ip ?? ''}|${String((req.body as SignIn | undefined)?.signInName ?? '')
        .toLowerCase()
        .slice(0, 120)}`,
    handler: (_req, _res, next) =>
      next(
        new Trouble(
          'tooManyTries',
          'Too many wrong tries with this name. Wait ten minutes, or ask your teacher for a new password.',
        ),
      ),
    validate: { keyGeneratorIpFallback: false },
  });
}

/** Codes are tried out one address at a time, and slowly. */
export function codeLimit(relaxed: boolean) {
  return rateLimit({
    windowMs: 10 * 60_000,
    limit: relaxed ? 10_000 : 20,
    skipSuccessfulRequests: true,
    standardHeaders: true,
    legacyHeaders: false,
    handler: (_req, _res, next) =>
      next(
        new Trouble('tooManyTries', 'Too many codes that are not good. Wait ten minutes, then try again.'),
      ),
  });
}

export function peopleRoutes(allow: Policies, people: People, showsMailbox: boolean): Route[] {
  const state = async (req: Request): Promise<SessionState> => ({
    me: req.session?.me ?? null,
    showsMailbox,
    needsFirstTeacher: req.session?.me ? false : await people.needsFirstTeacher(),
    now: new Date().toISOString(),
  });
  return [
    route('get', '/api/session', allow.anyone(), ({ req }) => state(req)),
    route(
      'post',
      '/api/session',
      allow.anyone(),
      async ({ req, body }) => {
        await begin(req, await people.signIn(body));
        return state(req);
      },
      SignIn,
    ),
    route('delete', '/api/session', allow.anyone(), async ({ req }) => {
      await new Promise<void>((resolve, reject) =>
        req.session.destroy(error => (error ? reject(error as Error) : resolve())),
      );
    }),
    route(
      'post',
      '/api/first-sign-in/code',
      allow.anyone(),
      ({ body }) => people.lookAtCode(body.code),
      LookAtCode,
    ),
    route(
      'post',
      '/api/first-sign-in',
      allow.anyone(),
      async ({ req, body }) => {
        await begin(req, await people.useCode(body.code, body.password));
        return state(req);
      },
      FirstSignIn,
    ),
    route(
      'post',
      '/api/first-teacher',
      allow.anyone(),
      async ({ req, body }) => {
        await begin(req, await people.makeFirstTeacher(body));
        return state(req);
      },
      FirstTeacher,
    ),
  ];
}
