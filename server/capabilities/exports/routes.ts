import { createReadStream } from 'node:fs';
import { NewExport, NewTalkExport } from '@ecoute/contract/exports';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Exports } from './service';

export function exportRoutes(allow: Policies, exports: Exports): Route[] {
  const own = allow.ownerOfExport();
  return [
    route(
      'post',
      '/api/classes/:classId/exports',
      allow.teacherOfClass(),
      ({ person, id, body }) => exports.make(person(), id('classId'), body),
      NewExport,
    ),
    route(
      'post',
      '/api/releases/:releaseId/exports',
      allow.teacherOfRelease(),
      ({ person, id, body }) => exports.makeOfTalk(person(), id('releaseId'), body),
      NewTalkExport,
    ),
    route('get', '/api/exports', allow.teacher(), ({ person }) => exports.list(person())),
    route('get', '/api/exports/:exportId/file', own, async ({ person, id, res }) => {
      const { path, name } = await exports.file(person(), id('exportId'));
      res.attachment(name);
      // It is packed already; whoever waits sees how far it is.
      res.set('Content-Encoding', 'identity');
      await new Promise<void>((resolve, reject) => {
        const file = createReadStream(path).on('error', reject);
        res.on('finish', resolve).on('close', resolve);
        file.pipe(res);
      });
    }),
    route('delete', '/api/exports/:exportId', own, ({ person, id }) =>
      exports.letGo(person(), id('exportId')),
    ),
  ];
}
