import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { TakeMeasures } from './service';

export function evidenceRoutes(allow: Policies, measures: TakeMeasures): Route[] {
  return [
    route('get', '/api/takes/:takeId/evidence', allow.evidenceReaderOf(), async ({ id, person, res }) => {
      res.type('json').send(await measures.evidence(id('takeId'), person().role === 'teacher'));
    }),
    route('get', '/api/releases/:releaseId/evidence', allow.teacherOfRelease(), ({ id }) =>
      measures.ofRelease(id('releaseId')),
    ),
  ];
}
