import { NewReply, SaveAsk } from '@ecoute/contract/replies';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Replies } from './service';

export function replyRoutes(allow: Policies, replies: Replies): Route[] {
  return [
    route(
      'put',
      '/api/sittings/:sittingId/ask',
      allow.teacherOfSitting(),
      ({ person, id, body }) => replies.ask(person(), id('sittingId'), body),
      SaveAsk,
    ),
    route(
      'post',
      '/api/sittings/:sittingId/exchange',
      allow.teacherOfSitting(),
      ({ person, id, body }) => replies.reply(person(), id('sittingId'), body),
      NewReply,
    ),
    route(
      'post',
      '/api/sittings/:sittingId/replies',
      allow.studentOfSitting(),
      ({ person, id, body }) => replies.reply(person(), id('sittingId'), body),
      NewReply,
    ),
    route('post', '/api/sittings/:sittingId/items/:itemId/settled', allow.teacherOfSitting(), ({ id }) =>
      replies.settle(id('sittingId'), id('itemId')),
    ),
    route('post', '/api/sittings/:sittingId/items/:itemId/heard', allow.studentOfSitting(), ({ id }) =>
      replies.heard(id('sittingId'), id('itemId')),
    ),
  ];
}
