import { MovePhone, OpenHandover } from '@ecoute/contract/handovers';
import { NewTake } from '@ecoute/contract/recordings';
import { NewEvents } from '@ecoute/contract/sittings';
import { handedTo, type Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Handovers } from './service';

export function handoverRoutes(allow: Policies, handovers: Handovers): Route[] {
  return [
    route('post', '/api/sittings/:sittingId/items/:itemId/handover', allow.studentOfSitting(), ({ id }) =>
      handovers.offer(id('sittingId'), id('itemId')),
    ),
    route(
      'post',
      '/api/phone',
      allow.anyone(),
      async ({ req, body }) => {
        const handoverId = await handovers.open(body.code.trim().toLowerCase(), req.ip ?? '');
        // Whoever is signed in on this phone stays so; the item is one thing more that it may do.
        req.session.handoverId = handoverId;
        return handovers.view(handoverId);
      },
      OpenHandover,
    ),
    route(
      'put',
      '/api/sittings/:sittingId/phone',
      allow.studentOfSitting(),
      ({ id, body }) => handovers.moveAll(id('sittingId'), body.itemId),
      MovePhone,
    ),
    route('delete', '/api/sittings/:sittingId/phone', allow.studentOfSitting(), ({ id }) =>
      handovers.closeAll(id('sittingId')),
    ),
    route(
      'put',
      '/api/phone/item',
      allow.phone(),
      ({ req, body }) => handovers.move(handedTo(req)!, body.itemId),
      MovePhone,
    ),
    route('get', '/api/phone', allow.phone(), ({ req }) => handovers.view(handedTo(req)!)),
    route('post', '/api/phone/show', allow.phone(), ({ req }) => handovers.show(handedTo(req)!)),
    route(
      'post',
      '/api/phone/takes',
      allow.phone(),
      ({ req, body }) => handovers.announceTake(handedTo(req)!, body),
      NewTake,
    ),
    route(
      'post',
      '/api/phone/events',
      allow.phone(),
      ({ req, body }) => handovers.keepEvents(handedTo(req)!, body),
      NewEvents,
    ),
    route('delete', '/api/phone', allow.phone(), async ({ req }) => {
      await handovers.close(handedTo(req)!);
      delete req.session.handoverId;
    }),
  ];
}
