import { ListenTo } from '@ecoute/contract/marking';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Listeners } from './service';

export function listenerRoutes(allow: Policies, listeners: Listeners): Route[] {
  return [
    route(
      'post',
      '/api/releases/:releaseId/listeners',
      allow.teacherOfRelease(),
      ({ person, id, body }) => listeners.here(person(), id('releaseId'), body),
      ListenTo,
    ),
  ];
}
