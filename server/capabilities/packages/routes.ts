import { pipeline } from 'node:stream/promises';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Packages } from './service';

export function packageRoutes(allow: Policies, packages: Packages): Route[] {
  return [
    route('get', '/api/assessments/:assessmentId/package', allow.ownerOfAssessment(), async ({ id, res }) => {
      const { name, stream } = await packages.out(id('assessmentId'));
      res.attachment(name).type('application/zip');
      await pipeline(stream, res);
    }),
    route('post', '/api/packages', allow.teacher(), ({ person, req }) => packages.in(person(), req)),
  ];
}
