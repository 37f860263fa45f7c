import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Feeds } from './service';

export function feedRoutes(allow: Policies, feeds: Feeds): Route[] {
  return [
    route('get', '/api/calendar-feed', allow.someone(), ({ person }) => feeds.address(person())),
    route('post', '/api/calendar-feed', allow.someone(), ({ person }) => feeds.renew(person())),
    route('delete', '/api/calendar-feed', allow.someone(), ({ person }) => feeds.revoke(person())),
    // Calendar programs sign in nowhere: the address itself is the key.
    route('get', '/feeds/:feedId/due.ics', allow.anyone(), async ({ id, res }) => {
      const text = await feeds.calendar(id('feedId'));
      res.set('Cache-Control', 'private, max-age=600').type('text/calendar').send(text);
    }),
  ];
}
