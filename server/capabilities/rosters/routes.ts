import express, { type Request } from 'express';
import { pipeline } from 'node:stream/promises';
import { ImportChoices } from '@ecoute/contract/classes';
import { LIMITS } from '@ecoute/contract/limits';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import { Trouble } from '../../platform/trouble';
import type { Rosters } from './service';

/** The bytes of an uploaded list. @throws Trouble tooLarge */
async function bytesOf(req: Request): Promise<Buffer> {
  await new Promise<void>((resolve, reject) =>
    express.raw({ type: () => true, limit: LIMITS.importBytes })(req, req.res!, (error: unknown) =>
      error
        ? reject(
            new Trouble(
              'tooLarge',
              'A list has at most 20 MB. Save it as CSV without pictures, or split it in two.',
            ),
          )
        : resolve(),
    ),
  );
  const bytes = req.body as unknown;
  if (!Buffer.isBuffer(bytes) || bytes.length === 0)
    throw new Trouble('invalid', 'This file is empty. Choose another.');
  return bytes;
}

/** The name of the file, as the browser says it. */
function nameOf(req: Request): string {
  try {
    return decodeURIComponent(String(req.get('x-file-name') ?? 'list.csv'));
  } catch {
    return 'list.csv';
  }
}

export function rosterRoutes(allow: Policies, rosters: Rosters): Route[] {
  const own = allow.ownerOfImport();
  return [
    route('post', '/api/imports', allow.teacher(), async ({ person, req }) =>
      rosters.bring(person(), null, nameOf(req), await bytesOf(req)),
    ),
    route('post', '/api/classes/:classId/imports', allow.managerOfClass(), async ({ person, id, req }) =>
      rosters.bring(person(), id('classId'), nameOf(req), await bytesOf(req)),
    ),
    route('get', '/api/imports/:importId', own, ({ id }) => rosters.view(id('importId'))),
    route(
      'put',
      '/api/imports/:importId',
      own,
      ({ id, body }) => rosters.choose(id('importId'), body),
      ImportChoices,
    ),
    route('post', '/api/imports/:importId/confirm', own, ({ id }) => rosters.confirm(id('importId'))),
    route('post', '/api/imports/:importId/cancel', own, ({ id }) => rosters.cancel(id('importId'))),
    route('get', '/api/classes/:classId/list', allow.managerOfClass(), async ({ person, id, res }) => {
      const { name, text } = await rosters.listOf(person(), id('classId'));
      res.attachment(name).type('text/csv').send(text);
    }),
    route('get', '/api/one-roster', allow.teacher(), async ({ person, req, res }) => {
      const version = req.query.version === '1.2' ? '1.2' : '1.1';
      res.attachment(`classes-oneroster-${version}.zip`).type('application/zip');
      await pipeline(await rosters.oneRoster(person(), version), res);
    }),
  ];
}
