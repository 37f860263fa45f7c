import { NewRelease } from '@ecoute/contract/releases';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Releases } from './service';

export function releaseRoutes(allow: Policies, releases: Releases): Route[] {
  return [
    route('get', '/api/releases', allow.teacher(), ({ person }) => releases.list(person())),
    route(
      'post',
      '/api/releases',
      allow.teacher(),
      ({ person, body }) => releases.make(person(), body),
      NewRelease,
    ),
    route('get', '/api/releases/:releaseId', allow.teacherOfRelease(), ({ id }) =>
      releases.detail(id('releaseId')),
    ),
  ];
}
