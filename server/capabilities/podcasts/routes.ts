import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import { ALONE, sent } from '../../platform/sent';
import type { Podcasts } from './service';
import type { TalkFeeds } from './talkFeeds';

export function podcastRoutes(allow: Policies, podcasts: Podcasts, talks: TalkFeeds): Route[] {
  const leads = allow.teacherOfRelease();
  return [
    route('get', '/api/podcast', allow.student(), ({ person }) => podcasts.address(person())),
    route('post', '/api/podcast', allow.student(), ({ person }) => podcasts.renew(person())),
    route('delete', '/api/podcast', allow.student(), ({ person }) => podcasts.revoke(person())),
    route('get', '/api/releases/:releaseId/feed', leads, ({ person, id }) =>
      talks.address(person(), id('releaseId')),
    ),
    route('post', '/api/releases/:releaseId/feed', leads, ({ person, id }) =>
      talks.renew(person(), id('releaseId')),
    ),
    route('delete', '/api/releases/:releaseId/feed', leads, ({ person, id }) =>
      talks.revoke(person(), id('releaseId')),
    ),
    route('get', '/feeds/:addressId/talk.rss', allow.anyone(), async ({ id, res }) => {
      const text = await talks.feed(id('addressId'));
      res.set('Cache-Control', 'private, max-age=600').type('application/rss+xml').send(text);
    }),
    route('get', '/feeds/:addressId/said/:recordingId', allow.anyone(), async ({ id, res }) => {
      const { path, type } = await talks.sound(id('addressId'), id('recordingId'));
      res.set('Cache-Control', 'private, no-cache').set('Content-Security-Policy', ALONE);
      await sent(res, path, { 'Content-Type': type });
    }),
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
