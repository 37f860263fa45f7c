import { BeginTurns, GiveTurn, ScoreApart, SetCompanions } from '@ecoute/contract/together';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Sittings } from '../sittings/service';
import type { Sharing } from './sharing';
import type { Turns } from './turns';

export function togetherRoutes(
  allow: Policies,
  { sittings, sharing, turns }: { sittings: Sittings; sharing: Sharing; turns: Turns },
): Route[] {
  const own = allow.studentOfSitting();
  return [
    route('get', '/api/sittings/:sittingId/companions', own, ({ id }) => turns.companions(id('sittingId'))),
    route(
      'put',
      '/api/takes/:takeId/companions',
      allow.ownerOfRecording('takeId'),
      ({ id, body }) => sittings.setCompanions(id('takeId'), body.personIds),
      SetCompanions,
    ),
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
