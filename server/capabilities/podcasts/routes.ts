import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import { ALONE, sent } from '../../platform/sent';
import type { Podcasts } from './service';

export function podcastRoutes(allow: Policies, podcasts: Podcasts): Route[] {
  return [
    route('get', '/api/podcast', allow.student(), ({ person }) => podcasts.address(person())),
    route('post', '/api/podcast', allow.student(), ({ person }) => podcasts.renew(person())),
    route('delete', '/api/podcast', allow.student(), ({ person }) => podcasts.revoke(person())),
    // Programs that play feeds sign in nowhere: the address itself is the key.
    route('get', '/feeds/:addressId/work.rss', allow.anyone(), async ({ id, res }) => {
      const text = await podcasts.feed(id('addressId'));
      res.set('Cache-Control', 'private, max-age=600').type('application/rss+xml').send(text);
    }),
    route('get', '/feeds/:addressId/sounds/:recordingId', allow.anyone(), async ({ id, res }) => {
      const { path, type } = await podcasts.sound(id('addressId'), id('recordingId'));
      res.set('Cache-Control', 'private, no-cache').set('Content-Security-Policy', ALONE);
      await sent(res, path, { 'Content-Type': type });
    }),
  ];
}
