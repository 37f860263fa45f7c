import { ReturnSittings, SaveLevel, SaveMark } from '@ecoute/contract/marking';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Marking } from './service';

export function markingRoutes(allow: Policies, marking: Marking): Route[] {
  return [
    route('get', '/api/releases/:releaseId/lanes', allow.teacherOfRelease(), ({ id }) =>
      marking.listen(id('releaseId')),
    ),
    route(
      'put',
      '/api/sittings/:sittingId/marks/:itemId',
      allow.teacherOfSitting(),
      ({ person, id, body }) => marking.save(person(), id('sittingId'), id('itemId'), body),
      SaveMark,
    ),
    route(
      'put',
      '/api/sittings/:sittingId/level',
      allow.teacherOfSitting(),
      ({ person, id, body }) => marking.giveLevel(person(), id('sittingId'), body.level ?? null),
      SaveLevel,
    ),
    route(
      'post',
      '/api/releases/:releaseId/returns',
      allow.teacherOfRelease(),
      ({ person, id, body }) => marking.giveBack(person(), id('releaseId'), body.sittingIds),
      ReturnSittings,
    ),
    route('get', '/api/returned', allow.student(), ({ person }) => marking.returnedTo(person())),
    route('get', '/api/sittings/:sittingId/returned', allow.studentOfSitting(), ({ id }) =>
      marking.returned(id('sittingId')),
    ),
  ];
}
