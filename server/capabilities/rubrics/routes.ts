import { NewKeptRubric, TakeRubric } from '@ecoute/contract/rubrics';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Rubrics } from './service';

export function rubricRoutes(allow: Policies, rubrics: Rubrics): Route[] {
  return [
    route('get', '/api/rubrics', allow.teacher(), ({ person }) => rubrics.list(person())),
    route(
      'post',
      '/api/rubrics',
      allow.teacher(),
      ({ person, body }) => rubrics.keep(person(), body),
      NewKeptRubric,
    ),
    route(
      'put',
      '/api/rubrics/:rubricId/taken',
      // One's own: the service asks for it, since a rubric belongs to nobody else.
      allow.teacher(),
      ({ person, id, body }) => rubrics.take(person(), id('rubricId'), body.taken),
      TakeRubric,
    ),
  ];
}
