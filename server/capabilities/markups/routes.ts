import { SaveMarkup } from '@ecoute/contract/markups';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Markups } from './service';

export function markupRoutes(allow: Policies, markups: Markups): Route[] {
  const ofSitting = allow.teacherOfSitting();
  return [
    route('get', '/api/sittings/:sittingId/items/:itemId/markups', ofSitting, ({ id }) =>
      markups.list(id('sittingId'), id('itemId')),
    ),
    route(
      'put',
      '/api/sittings/:sittingId/items/:itemId/markups/:targetId',
      ofSitting,
      ({ person, id, body }) => markups.save(person(), id('sittingId'), id('itemId'), id('targetId'), body),
      SaveMarkup,
    ),
  ];
}
