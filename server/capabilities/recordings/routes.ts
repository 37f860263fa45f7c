import type { Request, Response } from 'express';
import { NewExcerpt } from '@ecoute/contract/recordings';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import { ALONE, sent } from '../../platform/sent';
import { soundHeaders, type QuickSound } from './quickSound';
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

/** A file's name without what people write into names. */
const plainName = (name: string) => name.replace(/^.*?(\.[a-z0-9]{1,8})?$/i, 'file$1');

/** @param isNameless whether the name behind a recording is hidden from somebody */
export function recordingRoutes(
  allow: Policies,
  recordings: Recordings,
  quick: QuickSound,
  isNameless: (personId: string, id: string) => Promise<boolean>,
): Route[] {
  const nameless = async (req: Request, id: string) =>
    req.session.me ? isNameless(req.session.me.id, id) : false;
  return [
    // The open tus protocol: where am I, and here is the next piece. Creation goes by the announcing routes.
    ...(['head', 'patch'] as const).map(method =>
      route(method, '/api/uploads/:recordingId', allow.recorderOf(), async ({ req, res }) => {
        if (method === 'patch')
          await recordings.refuseWhenSettled(String(req.params.recordingId).toLowerCase());
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
      ({ person, id, body }) => recordings.cuts.excerpt(person().id, id('recordingId'), body),
      NewExcerpt,
    ),
    route('get', '/api/recordings/:recordingId/details', allow.listenerOf(), async ({ req, id }) => {
      const view = await recordings.view(id('recordingId'));
      if (!(await nameless(req, view.id))) return view;
      // People put their names into those of their files; how long something has been here is a clock.
      return { ...view, fileName: view.fileName && plainName(view.fileName), quietMs: 0 };
    }),
    // A picture, a score, or one page of several (?page=3).
    route('get', '/api/recordings/:recordingId/shown', allow.listenerOf(), async ({ id, req, res }) => {
      const page = /^\d{1,4}$/.test(String(req.query.page)) ? Number(req.query.page) : null;
      const { path, type } = await recordings.served.showing(id('recordingId'), page);
      res.set('Cache-Control', 'private, max-age=31536000, immutable');
      res.set('Content-Security-Policy', ALONE);
      await sent(res, path, { 'Content-Type': type });
    }),
    // Whatever a student handed in, to be saved: never opened by the browser as a page of ours.
    route('get', '/api/recordings/:recordingId/file', allow.listenerOf(), async ({ req, id, res }) => {
      const { path, name } = await recordings.served.asItCame(id('recordingId'));
      const isHidden = await nameless(req, id('recordingId'));
      res.attachment(isHidden ? plainName(name) : name);
      await sent(res, path, { 'Content-Type': 'application/octet-stream' });
    }),
    route('get', '/api/recordings/:recordingId/peaks', allow.listenerOf(), async ({ id, res }) => {
      const text = await recordings.served.peaks(id('recordingId'));
      // Asked about by its tag: a take that is cut has another shape.
      res.set('Cache-Control', 'private, no-cache').type('json').send(text);
    }),
    route('get', '/api/recordings/:recordingId/sound', allow.listenerOf(), async ({ req, id, res }) => {
      const recordingId = id('recordingId');
      const { path, type } = await recordings.served.playing(recordingId);
      // Whatever somebody handed in is heard or seen in a player, or kept; it is never a page of ours.
      const isMedia = /^(audio|video)\//.test(type);
      if (!isMedia) res.attachment('recording');
      await quick.remember(req, recordingId);
      const personId = req.session.handoverId ? undefined : req.session.me?.id;
      if (personId) quick.watch(res, { sessionId: req.sessionID, personId, soundId: recordingId });
      await sent(res, path, soundHeaders(isMedia ? type : 'application/octet-stream'));
    }),
  ];
}
