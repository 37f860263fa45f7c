import { NewReply, SaveAsk } from '@ecoute/contract/answers';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Answers } from './service';

export function answerRoutes(allow: Policies, answers: Answers): Route[] {
  return [
    route(
      'put',
      '/api/sittings/:sittingId/ask',
      allow.teacherOfSitting(),
      ({ person, id, body }) => answers.ask(person(), id('sittingId'), body),
      SaveAsk,
    ),
    route(
      'post',
      '/api/sittings/:sittingId/exchange',
      allow.teacherOfSitting(),
      ({ person, id, body }) => answers.reply(person(), id('sittingId'), body),
      NewReply,
    ),
    route(
      'post',
      '/api/sittings/:sittingId/replies',
      allow.studentOfSitting(),
      ({ person, id, body }) => answers.reply(person(), id('sittingId'), body),
      NewReply,
    ),
    route('post', '/api/sittings/:sittingId/items/:itemId/heard', allow.studentOfSitting(), ({ id }) =>
      answers.heard(id('sittingId'), id('itemId')),
    ),
  ];
}
