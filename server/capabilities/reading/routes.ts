import { whole } from '@ecoute/contract/briefLanes';
import type { Policies } from '../../platform/access/policies';
import type { Pool } from '../../platform/database';
import { log } from '../../platform/log';
import { route, type Route } from '../../platform/routes';
import { besideOf } from './beside';
import { lanesOf } from './lanes';
import type { Feedback } from './feedback';
import type { QuickSound } from '../recordings/quickSound';
import type { StudentLists } from './studentLists';

/** So long after its lanes came a page of them is drawn. */
const PAGE_DRAWN_MS = 600;

/** What pages show of several capabilities at once. Nothing is changed here. */
export function readingRoutes(
  allow: Policies,
  pool: Pool,
  { lists, feedback, quick }: { lists: StudentLists; feedback: Feedback; quick: QuickSound },
): Route[] {
  return [
    route('get', '/api/releases/:releaseId/lanes', allow.teacherOfRelease(), async ({ req, res, id }) => {
      const view = await lanesOf(pool, id('releaseId'));
      const remember = () =>
        quick.rememberRelease(req, id('releaseId')).catch((err: unknown) => log.warn({ err }, 'rights'));
      // Not before the page has its lanes and has drawn them: until then each of its first sounds is asked about by itself.
      res.once('finish', () => setTimeout(() => void remember(), PAGE_DRAWN_MS).unref());
      // Not under the name that it once had: a page of before knows how to read the whole.
      return req.query.packed === undefined ? whole(view) : view;
    }),
    route('get', '/api/sittings/:sittingId/items/:itemId/beside', allow.teacherOfSitting(), ({ id }) =>
      besideOf(pool, id('sittingId'), id('itemId')),
    ),
    route('get', '/api/todo', allow.student(), ({ person }) => lists.todo(person())),
    route('get', '/api/my-recordings', allow.student(), ({ person }) => lists.myRecordings(person())),
    route('get', '/api/feedback', allow.student(), ({ person }) => feedback.list(person())),
    route('get', '/api/sittings/:sittingId/feedback', allow.studentOfSitting(), ({ id }) =>
      feedback.view(id('sittingId')),
    ),
  ];
}
