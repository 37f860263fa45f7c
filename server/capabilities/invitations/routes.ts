import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Invitations } from './service';

export function invitationRoutes(allow: Policies, invitations: Invitations): Route[] {
  return [
    route('get', '/api/invitations', allow.someone(), ({ person }) => invitations.list(person())),
    route('post', '/api/invitations/:invitationId', allow.someone(), ({ person, id }) =>
      invitations.accept(person(), id('invitationId')),
    ),
    route('delete', '/api/invitations/:invitationId', allow.someone(), ({ person, id }) =>
      invitations.decline(person(), id('invitationId')),
    ),
    route(
      'delete',
      '/api/classes/:classId/invitations/:invitationId',
      allow.teacherOfClass(),
      async ({ id }) => invitations.takeBack(id('classId'), id('invitationId')),
    ),
  ];
}
