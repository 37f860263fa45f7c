import type { Request } from 'express';
import { GuestReturn, MergeGuest, NewGuest, NewLink } from '@ecoute/contract/guests';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import { begin } from '../people/routes';
import type { Guests } from './service';

export function guestRoutes(allow: Policies, guests: Guests): Route[] {
  const own = allow.managerOfRelease();
  // Who a guest is decides whose recordings they hear: that is for those who may hear them themselves.
  const heard = allow.teacherOfRelease();
  const code = (req: Request) => String(req.params.code).toLowerCase();
  return [
    route('get', '/api/links/:code', allow.anyone(), ({ req }) =>
      guests.door(code(req), req.session?.me ?? null, req.ip ?? ''),
    ),
    route(
      'post',
      '/api/links/:code/guests',
      allow.anyone(),
      async ({ req, body }) => {
        const { me, ...welcome } = await guests.enter(code(req), body, req.ip ?? '');
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
        const { me, releaseId } = await guests.comeBack(body.token, req.ip ?? '');
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
      heard,
      ({ id, body }) => guests.merge(id('releaseId'), id('personId'), body.into),
      MergeGuest,
    ),
    route('post', '/api/releases/:releaseId/guests/:personId/apart', heard, ({ id }) =>
      guests.apart(id('releaseId'), id('personId')),
    ),
  ];
}
