import type { Response } from 'express';
import { NewExcerpt } from '@ecoute/contract/recordings';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Recordings } from './service';

/**
 * The tus server ends its answers with a callback alone, `end(done)`; the session layer takes the first argument
 * of `end` for data. This turns the one into the other.
 */
function withPlainEnd(res: Response): Response {
  const end = res.end.bind(res) as (...args: unknown[]) => Response;
  res.end = ((...args: unknown[]) => {
    if (typeof args[0] !== 'function') return end(...args);
    res.once('finish', args[0] as () => void);
    return end();
  }) as Response['end'];
  return res;
}

/** Answers ranges, and says 304 when the browser has it. */
function sent(res: Response, path: string, headers: Record<string, string>): Promise<void> {
  return new Promise((resolve, reject) =>
    res.sendFile(path, { headers, cacheControl: false, dotfiles: 'allow' }, error => {
      // A listener who goes on to the next lane closes this one: not an error.
      if (error && (error as { code?: string }).code !== 'ECONNABORTED' && !res.headersSent) reject(error);
      else resolve();
    }),
  );
}

export function recordingRoutes(allow: Policies, recordings: Recordings): Route[] {
  return [
    // The open tus protocol: where am I, and here is the next piece. Creation goes by the announcing routes.
    ...(['head', 'patch'] as const).map(method =>
      route(method, '/api/uploads/:recordingId', allow.recorderOf(), async ({ req, res }) => {
        await recordings.tus.handle(req, withPlainEnd(res));
      }),
    ),
    route('get', '/api/recordings/:recordingId', allow.recorderOf(), ({ id }) =>
      recordings.view(id('recordingId')),
    ),
    // What announced it has told of it already (a reply, a clip): its bytes follow.
    route('post', '/api/recordings/:recordingId/announced', allow.recorderOf(), ({ id }) =>
      recordings.view(id('recordingId')),
    ),
    route('post', '/api/recordings/:recordingId/cancel', allow.recorderOf(), ({ id }) =>
      recordings.cancel(id('recordingId')),
    ),
    route(
      'post',
      '/api/recordings/:recordingId/excerpts',
      allow.teacherWhoHears(),
      ({ person, id, body }) => recordings.excerpt(person().id, id('recordingId'), body),
      NewExcerpt,
    ),
    route('get', '/api/recordings/:recordingId/details', allow.listenerOf(), ({ id }) =>
      recordings.view(id('recordingId')),
    ),
    // A picture, a score, or one page of several (?page=3).
    route('get', '/api/recordings/:recordingId/shown', allow.listenerOf(), async ({ id, req, res }) => {
      const page = /^\d{1,4}$/.test(String(req.query.page)) ? Number(req.query.page) : null;
      const { path, type } = await recordings.showing(id('recordingId'), page);
      res.set('Cache-Control', 'private, max-age=31536000, immutable');
      await sent(res, path, { 'Content-Type': type });
    }),
    // Whatever a student handed in, to be saved: never opened by the browser as a page of ours.
    route('get', '/api/recordings/:recordingId/file', allow.listenerOf(), async ({ id, res }) => {
      const { path, name } = await recordings.asItCame(id('recordingId'));
      res.attachment(name);
      await sent(res, path, { 'Content-Type': 'application/octet-stream' });
    }),
    route('get', '/api/recordings/:recordingId/peaks', allow.listenerOf(), async ({ id, res }) => {
      const text = await recordings.peaks(id('recordingId'));
      // A sound never changes once it is looked at.
      res.set('Cache-Control', 'private, max-age=31536000, immutable').type('json').send(text);
    }),
    route('get', '/api/recordings/:recordingId/sound', allow.listenerOf(), async ({ id, res }) => {
      const { path, type } = await recordings.playing(id('recordingId'));
      // Kept by the browser, asked about by its tag: the playable copy may have come since.
      res.set('Cache-Control', 'private, no-cache');
      await sent(res, path, { 'Content-Type': type });
    }),
  ];
}
