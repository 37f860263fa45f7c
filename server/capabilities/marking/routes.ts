import { GivePraise } from '@ecoute/contract/commentBank';
import { HideNames } from '@ecoute/contract/decisions';
import { CallOffReturns, ReturnSittings, SaveLevel, SaveMark } from '@ecoute/contract/marking';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Returned } from './returned';
import type { Marking } from './service';

export function markingRoutes(allow: Policies, marking: Marking, returned: Returned): Route[] {
  const ofRelease = allow.teacherOfRelease();
  const ofSitting = allow.teacherOfSitting();
  return [
    route('get', '/api/releases/:releaseId/lanes', ofRelease, ({ id }) => marking.listen(id('releaseId'))),
    route(
      'put',
      '/api/releases/:releaseId/names',
      ofRelease,
      ({ id, body }) => marking.hideNames(id('releaseId'), body.hidden),
      HideNames,
    ),
    route(
      'put',
      '/api/sittings/:sittingId/marks/:itemId',
      ofSitting,
      ({ person, id, body }) => marking.save(person(), id('sittingId'), id('itemId'), body),
      SaveMark,
    ),
    route(
      'put',
      '/api/sittings/:sittingId/level',
      ofSitting,
      ({ person, id, body }) => marking.giveLevel(person(), id('sittingId'), body),
      SaveLevel,
    ),
    route(
      'put',
      '/api/sittings/:sittingId/items/:itemId/praise',
      ofSitting,
      ({ person, id, body }) => marking.praise(person(), id('sittingId'), id('itemId'), body),
      GivePraise,
    ),
    route('get', '/api/sittings/:sittingId/scores', ofSitting, ({ id }) => marking.history(id('sittingId'))),
    route('get', '/api/sittings/:sittingId/items/:itemId/beside', ofSitting, ({ id }) =>
      marking.beside(id('sittingId'), id('itemId')),
    ),
    route(
      'post',
      '/api/releases/:releaseId/returns',
      ofRelease,
      ({ person, id, body }) => marking.giveBack(person(), id('releaseId'), body),
      ReturnSittings,
    ),
    route(
      'post',
      '/api/releases/:releaseId/returns/calling-off',
      ofRelease,
      ({ id, body }) => marking.callOff(id('releaseId'), body.sittingIds),
      CallOffReturns,
    ),
    route('get', '/api/returned', allow.student(), ({ person }) => returned.list(person())),
    route('get', '/api/sittings/:sittingId/returned', allow.studentOfSitting(), ({ id }) =>
      returned.view(id('sittingId')),
    ),
  ];
}
