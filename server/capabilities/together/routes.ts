import { BeginTurns, GiveTurn, ScoreApart } from '@ecoute/contract/together';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Sharing } from './sharing';
import type { Turns } from './turns';

export function togetherRoutes(allow: Policies, sharing: Sharing, turns: Turns): Route[] {
  const own = allow.studentOfSitting();
  return [
    route('get', '/api/sittings/:sittingId/companions', own, ({ id }) => turns.companions(id('sittingId'))),
    route('get', '/api/sittings/:sittingId/turns', own, ({ person, id }) =>
      turns.list(person(), id('sittingId')),
    ),
    route(
      'post',
      '/api/sittings/:sittingId/turns',
      own,
      ({ person, id, body }) => turns.begin(person(), id('sittingId'), body),
      BeginTurns,
    ),
    route(
      'post',
      '/api/together/:jointId/turns',
      allow.student(),
      ({ person, id, body }) => turns.give(person(), id('jointId'), body),
      GiveTurn,
    ),
    route('post', '/api/together/:jointId/ended', allow.student(), ({ person, id }) =>
      turns.end(person(), id('jointId')),
    ),
    route('delete', '/api/together/:jointId/me', allow.student(), ({ person, id }) =>
      sharing.sayNotThere(person(), id('jointId'), true),
    ),
    route('post', '/api/together/:jointId/me', allow.student(), ({ person, id }) =>
      sharing.sayNotThere(person(), id('jointId'), false),
    ),
    route(
      'put',
      '/api/together/:jointId/apart',
      allow.teacherOfJoint(),
      ({ id, body }) => sharing.scoreApart(id('jointId'), body.apart),
      ScoreApart,
    ),
  ];
}
