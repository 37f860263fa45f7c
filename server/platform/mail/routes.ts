import type { Policies } from '../access/policies';
import type { Pool } from '../database';
import { route, type Route } from '../routes';
import { notFound } from '../trouble';
import { letterOf, messages } from './store';

/** Pictures that came with it, and its own style: nothing else is fetched or run. It is shown inside the mailbox. */
const LETTER =
  "default-src 'none'; img-src data:; style-src 'unsafe-inline'; frame-ancestors 'self'; sandbox allow-popups allow-popups-to-escape-sandbox";

/** The simulated mailbox of the demo. */
export function mailboxRoutes(allow: Policies, pool: Pool): Route[] {
  return [
    route('get', '/api/mailbox', allow.teacher(), () => messages(pool)),
    route('get', '/api/mailbox/:code/letter', allow.teacher(), async ({ req, res }) => {
      const letter = await letterOf(pool, Number(req.params.code) || 0);
      if (letter === null) throw notFound();
      res.set('Content-Security-Policy', LETTER).removeHeader('X-Frame-Options');
      // Whatever is pressed in it opens beside it.
      res.type('html').send(letter.replace('<head>', '<head><base target="_blank">'));
    }),
  ];
}
