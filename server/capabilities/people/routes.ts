import { randomUUID } from 'node:crypto';
import type { Request, Response } from 'express';
import {
  ChangePassword,
  FirstSignIn,
  FirstTeacher,
  ForgottenPassword,
  LookAtCode,
  SetCalled,
  SignIn,
  SlipSignIn,
  type Me,
  type OwnAccount,
  type SessionState,
} from '@ecoute/contract/people';
import type { Policies } from '../../platform/access/policies';
import { insertChange } from '../../platform/changes/store';
import type { Pool } from '../../platform/database';
import { route, type Route } from '../../platform/routes';
import { noteSafety } from '../../platform/safety/store';
import { endSessions, sessionsOf } from '../../platform/sessions';
import { notFound } from '../../platform/trouble';
import type { From, People } from './service';
import type { Slips } from './slips';
import { isByEar } from './slips.store';

/** A new session id at every sign-in, so that one known before it is worth nothing after. */
export function begin(req: Request, me: Me, slip?: string): Promise<void> {
  return new Promise((resolve, reject) =>
    req.session.regenerate(error => {
      if (error) return reject(error as Error);
      Object.assign(req.session, {
        me,
        key: randomUUID(),
        signedInAtMs: Date.now(),
        usedAtMs: Date.now(),
        browser: browserOf(req),
        slip,
      });
      req.session.save(problem => (problem ? reject(problem as Error) : resolve()));
    }),
  );
}

/** A browser in words: enough for a person to know their own again. */
function browserOf(req: Request): string {
  const agent = String(req.get('user-agent') ?? '');
  const name = /(Edg|OPR|Firefox|Chrome|Safari)\//.exec(agent)?.[1] ?? 'A browser';
  const on = /(iPhone|iPad|Android|Windows|Macintosh|CrOS|Linux)/.exec(agent)?.[1];
  const names: Record<string, string> = { Edg: 'Edge', OPR: 'Opera', Macintosh: 'Mac', CrOS: 'Chromebook' };
  return `${names[name] ?? name}${on ? `, ${names[on] ?? on}` : ''}`;
}

const DEVICE_COOKIE = 'ecoute-device';
const MOST_TOKENS = 8;

function tokensOf(req: Request): string[] {
  const text =
    new RegExp(`(?:^|; )${DEVICE_COOKIE}=([\\w.-]{1,400})`).exec(req.get('cookie') ?? '')?.[1] ?? '';
  return text.split('.').filter(Boolean).slice(0, MOST_TOKENS);
}

/** Where a request comes from. */
export function fromOf(req: Request): From {
  return { address: req.ip ?? '', deviceTokens: tokensOf(req) };
}

/** This browser is known for an account from now on: wrong tries elsewhere do not shut its owner out here. */
function rememberDevice(req: Request, res: Response, token: string, secure: boolean): void {
  const tokens = [token, ...tokensOf(req).filter(t => t !== token)].slice(0, MOST_TOKENS);
  const settings = {
    httpOnly: true,
    sameSite: 'lax',
    secure,
    maxAge: 365 * 86_400_000,
    path: '/api',
  } as const;
  res.cookie(DEVICE_COOKIE, tokens.join('.'), settings);
}

/**
 * @param about what the first page of everybody is told
 * @param roomOf how much somebody keeps, and may
 */
export function peopleRoutes(
  allow: Policies,
  people: People,
  slips: Slips,
  pool: Pool,
  about: { showsMailbox: boolean; sendsMail: boolean; isSecure: boolean },
  roomOf: (personId: string) => Promise<{ usedBytes: number; quotaBytes: number }>,
): Route[] {
  const { isSecure, ...told } = about;
  const state = async (req: Request): Promise<SessionState> => ({
    me: req.session?.me ?? null,
    ...told,
    byEar: req.session?.me?.role === 'student' && (await isByEar(pool, req.session.me.id)),
    needsFirstTeacher: req.session?.me ? false : await people.needsFirstTeacher(),
    now: new Date().toISOString(),
  });
  /** All other sessions of somebody end, and the pages that are open in them. */
  const endOthers = async (req: Request, personId: string, by: Me, only: string | null = null) => {
    const ended = await endSessions(pool, personId, { only, but: only ? null : (req.session.key ?? null) });
    if (ended === 0) return;
    await insertChange(pool, { kind: 'session', subjectId: null, classId: null, personId });
    await noteSafety(pool, { kind: 'sessionsEnded', personId, byId: by.id });
  };
  const account = async (req: Request, me: Me): Promise<OwnAccount> => ({
    ...(await people.account(me)),
    ...(await roomOf(me.id)),
    sessions: (await sessionsOf(pool, me.id)).map(s => ({
      id: s.key,
      browser: s.browser,
      signedInAt: new Date(s.signedInAtMs).toISOString(),
      usedAt: new Date(s.usedAtMs).toISOString(),
      isThis: s.key === req.session.key,
    })),
  });
  return [
    route('get', '/api/session', allow.anyone(), ({ req }) => state(req)),
    route(
      'post',
      '/api/session',
      allow.anyone(),
      async ({ req, res, body }) => {
        const me = await people.signIn(body, fromOf(req));
        await begin(req, me);
        rememberDevice(req, res, people.deviceToken(me.id), isSecure);
        return state(req);
      },
      SignIn,
    ),
    route('delete', '/api/session', allow.anyone(), async ({ req }) => {
      const personId = req.session.me?.id ?? null;
      await new Promise<void>((resolve, reject) =>
        req.session.destroy(error => (error ? reject(error as Error) : resolve())),
      );
      if (personId) await insertChange(pool, { kind: 'session', subjectId: null, classId: null, personId });
    }),
    route(
      'post',
      '/api/first-sign-in/code',
      allow.anyone(),
      ({ req, body }) => people.lookAtCode(body.code, fromOf(req)),
      LookAtCode,
    ),
    route(
      'post',
      '/api/first-sign-in',
      allow.anyone(),
      async ({ req, res, body }) => {
        const me = await people.useCode(body.code, body.password, fromOf(req));
        await begin(req, me);
        // Whoever knew the password before is out.
        await endOthers(req, me.id, me);
        rememberDevice(req, res, people.deviceToken(me.id), isSecure);
        return state(req);
      },
      FirstSignIn,
    ),
    route(
      'post',
      '/api/slip-sign-in',
      allow.anyone(),
      async ({ req, body }) => {
        const { me, slip } = await slips.signIn(body.token, fromOf(req));
        await begin(req, me, slip);
        return state(req);
      },
      SlipSignIn,
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
    route(
      'post',
      '/api/forgotten-password',
      allow.anyone(),
      ({ req, body }) => people.forgotten(body.signInName, fromOf(req)),
      ForgottenPassword,
    ),
    route('get', '/api/me', allow.someone(), ({ req, person }) => account(req, person())),
    route(
      'post',
      '/api/me/password',
      allow.someone(),
      async ({ req, person, body }) => {
        await people.changePassword(person(), body, fromOf(req));
        await endOthers(req, person().id, person());
        return account(req, person());
      },
      ChangePassword,
    ),
    route(
      'put',
      '/api/me/called',
      allow.someone(),
      async ({ req, person, body }) => {
        await people.call(person(), body.called);
        return account(req, person());
      },
      SetCalled,
    ),
    route('delete', '/api/me/sessions', allow.someone(), async ({ req, person }) => {
      await endOthers(req, person().id, person());
      return account(req, person());
    }),
    route('delete', '/api/me/sessions/:sessionKey', allow.someone(), async ({ req, person, id }) => {
      const key = id('sessionKey');
      if (!(await sessionsOf(pool, person().id)).some(s => s.key === key)) throw notFound();
      await endOthers(req, person().id, person(), key);
      return account(req, person());
    }),
  ];
}
