import type { Response } from 'express';
import { studentLanguage } from '@ecoute/contract/languages';
import type { Policies } from '../../platform/access/policies';
import { sendZip } from '../../platform/packing';
import { route, type Route } from '../../platform/routes';
import type { Keeping } from './service';

function sendPdf(res: Response, { pdf, name }: { pdf: Buffer; name: string }): void {
  res.attachment(name).type('application/pdf').send(pdf);
}

export function keepingRoutes(allow: Policies, keeping: Keeping): Route[] {
  return [
    route('get', '/api/sittings/:sittingId/sheet.pdf', allow.teacherOfSitting(), async ({ id, res }) =>
      sendPdf(res, await keeping.sheet(id('sittingId'), true)),
    ),
    route(
      'get',
      '/api/sittings/:sittingId/feedback.pdf',
      allow.studentOfSitting(),
      async ({ id, req, res }) =>
        sendPdf(res, await keeping.sheet(id('sittingId'), false, studentLanguage(req.query.language))),
    ),
    route('get', '/api/releases/:releaseId/recordings.zip', allow.teacherOfRelease(), async ({ id, res }) => {
      await sendZip(res, await keeping.recordingsOf(id('releaseId')));
    }),
  ];
}
