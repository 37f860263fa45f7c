import { HideNames } from '@ecoute/contract/decisions';
import { CallOffFeedback, GiveFeedback, GivePraise, SaveLevel, SaveMark } from '@ecoute/contract/marking';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Marks } from './service';

export function markRoutes(allow: Policies, marks: Marks): Route[] {
  const ofRelease = allow.teacherOfRelease();
  const ofSitting = allow.teacherOfSitting();
  return [
    route(
      'put',
      '/api/releases/:releaseId/names',
      ofRelease,
      ({ person, id, body }) => marks.hideNames(person(), id('releaseId'), body.hidden),
      HideNames,
    ),
    route(
      'put',
      '/api/sittings/:sittingId/marks/:itemId',
      ofSitting,
      ({ person, id, body }) => marks.save(person(), id('sittingId'), id('itemId'), body),
      SaveMark,
    ),
    route(
      'put',
      '/api/sittings/:sittingId/level',
      ofSitting,
      ({ person, id, body }) => marks.giveLevel(person(), id('sittingId'), body),
      SaveLevel,
    ),
    route(
      'put',
      '/api/sittings/:sittingId/items/:itemId/praise',
      ofSitting,
      ({ person, id, body }) => marks.praise(person(), id('sittingId'), id('itemId'), body),
      GivePraise,
    ),
    route('get', '/api/sittings/:sittingId/scores', ofSitting, ({ id }) => marks.history(id('sittingId'))),
    route(
      'post',
      '/api/releases/:releaseId/feedback',
      ofRelease,
      ({ person, id, body }) => marks.giveFeedback(person(), id('releaseId'), body),
      GiveFeedback,
    ),
    route(
      'post',
      '/api/releases/:releaseId/feedback/calling-off',
      ofRelease,
      ({ id, body }) => marks.callOff(id('releaseId'), body.sittingIds),
      CallOffFeedback,
    ),
  ];
}
