import type { Request } from 'express';
import rateLimit from 'express-rate-limit';
import { GuestReturn, MergeGuest, NewGuest, NewLink } from '@ecoute/contract/guests';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import { Trouble } from '../../platform/trouble';
import { begin } from '../people/routes';
import type { Guests } from './service';

/** Links are tried out one address at a time, and slowly; a class behind one address comes through. */
export function linkLimit(relaxed: boolean) {
  return rateLimit({
    windowMs: 10 * 60_000,
    limit: relaxed ? 100_000 : 30,
    skipSuccessfulRequests: true,
    standardHeaders: true,
    legacyHeaders: false,
    handler: (_req, _res, next) =>
      next(
        new Trouble('tooManyTries', 'Too many links that lead nowhere. Wait ten minutes, then try again.'),
      ),
  });
}

export function guestRoutes(allow: Policies, guests: Guests): Route[] {
  const own = allow.managerOfRelease();
  const code = (req: Request) => String(req.params.code).toLowerCase();
  return [
    route('get', '/api/links/:code', allow.anyone(), ({ req }) =>
      guests.door(code(req), req.session?.me ?? null),
    ),
    route(
      'post',
      '/api/links/:code/guests',
      allow.anyone(),
      async ({ req, body }) => {
        const { me, ...welcome } = await guests.enter(code(req), body);
        await begin(req, me);
        return welcome;
      },
      NewGuest,
    ),
    route(
      'post',
      '/api/guest-returns',
      allow.anyone(),
      async ({ req, body }) => {
        const { me, releaseId } = await guests.comeBack(body.token);
        await begin(req, me);
        return { releaseId };
      },
      GuestReturn,
    ),
    route('get', '/api/releases/:releaseId/links', own, ({ id }) => guests.links(id('releaseId'))),
    route(
      'post',
      '/api/releases/:releaseId/links',
      own,
      ({ person, id, body }) => guests.makeLink(person(), id('releaseId'), body),
      NewLink,
    ),
    route('delete', '/api/releases/:releaseId/links/:linkId', own, ({ id }) =>
      guests.closeLink(id('releaseId'), id('linkId')),
    ),
    route('get', '/api/releases/:releaseId/links/:linkId/poster', own, async ({ id, res }) => {
      const pdf = await guests.poster(id('releaseId'), id('linkId'));
      res.attachment('poster.pdf').type('application/pdf').send(pdf);
    }),
    route('get', '/api/releases/:releaseId/guests', own, ({ id }) => guests.guests(id('releaseId'))),
    route(
      'post',
      '/api/releases/:releaseId/guests/:personId/merge',
      own,
      ({ id, body }) => guests.merge(id('releaseId'), id('personId'), body.into),
      MergeGuest,
    ),
    route('post', '/api/releases/:releaseId/guests/:personId/apart', own, ({ id }) =>
      guests.apart(id('releaseId'), id('personId')),
    ),
  ];
}
