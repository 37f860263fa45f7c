import { NewDecision } from '@ecoute/contract/decisions';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Decisions } from './service';

export function decisionRoutes(allow: Policies, decisions: Decisions): Route[] {
  const teaches = allow.teacherOfRelease();
  return [
    route('get', '/api/releases/:releaseId/decisions', teaches, ({ id }) => decisions.list(id('releaseId'))),
    route(
      'post',
      '/api/releases/:releaseId/decisions',
      teaches,
      ({ person, id, body }) => decisions.decide(person(), id('releaseId'), body),
      NewDecision,
    ),
    route('post', '/api/releases/:releaseId/decisions/:decisionId/undo', teaches, ({ person, id }) =>
      decisions.undo(person(), id('releaseId'), id('decisionId')),
    ),
  ];
}
