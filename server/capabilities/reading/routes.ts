import type { Policies } from '../../platform/access/policies';
import type { Pool } from '../../platform/database';
import { route, type Route } from '../../platform/routes';
import { besideOf } from './beside';
import { lanesOf } from './lanes';
import type { Feedback } from './feedback';
import type { StudentLists } from './studentLists';

/** What pages show of several capabilities at once. Nothing is changed here. */
export function readingRoutes(
  allow: Policies,
  pool: Pool,
  { lists, feedback }: { lists: StudentLists; feedback: Feedback },
): Route[] {
  return [
    route('get', '/api/releases/:releaseId/lanes', allow.teacherOfRelease(), ({ id }) =>
      lanesOf(pool, id('releaseId')),
    ),
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
