import { NewSpokenMessage } from '@ecoute/contract/spokenMessages';
import type { Policies } from '../../platform/access/policies';
import { languageAsked, sendPrivatePage } from '../../platform/privatePage';
import { route, type Route } from '../../platform/routes';
import { ALONE, sent } from '../../platform/sent';
import type { SpokenMessages } from './service';

export function spokenMessageRoutes(allow: Policies, messages: SpokenMessages): Route[] {
  const taught = allow.teacherOfMessage();
  const at = '/api/spoken-messages/:messageId';
  const one = `${at}/recipients/:recipientId`;
  return [
    route('get', '/api/classes/:classId/spoken-messages', allow.teacherOfClass(), ({ id }) =>
      messages.list(id('classId')),
    ),
    route(
      'post',
      '/api/classes/:classId/spoken-messages',
      allow.teacherOfClass(),
      ({ person, id, body }) => messages.send(person(), id('classId'), body),
      NewSpokenMessage,
    ),
    route('get', at, taught, ({ id }) => messages.detail(id('messageId'))),
    route('delete', at, taught, ({ id }) => messages.takeBack(id('messageId'), true)),
    route('post', `${at}/restored`, taught, ({ id }) => messages.takeBack(id('messageId'), false)),
    route('delete', one, taught, ({ id }) => messages.end(id('messageId'), id('recipientId'), true)),
    route('post', `${one}/restored`, taught, ({ id }) =>
      messages.end(id('messageId'), id('recipientId'), false),
    ),
    route('post', `${one}/renewed`, taught, ({ id }) => messages.renew(id('messageId'), id('recipientId'))),
    // A student's own side.
    route('get', '/api/spoken-messages', allow.student(), ({ person }) => messages.toMe(person())),
    route('post', `${at}/heard`, allow.student(), ({ person, id }) =>
      messages.heard(person(), id('messageId')),
    ),
    // Whoever has the address: the address itself is the key.
    route('get', '/spoken/:code', allow.anyone(), async ({ req, res }) =>
      sendPrivatePage(
        res,
        await messages.page(
          String(req.params.code).toLowerCase(),
          languageAsked(req),
          String(res.locals.nonce),
        ),
      ),
    ),
    route('get', '/spoken/:recipientId/sound', allow.anyone(), async ({ id, req, res }) => {
      // A program that looks at links asks for no sound; one that goes on in the middle has begun before.
      const isPlayed = req.method === 'GET' && /^(bytes=0-.*)?$/.test(req.get('range') ?? '');
      const { path, type } = await messages.sound(id('recipientId'), isPlayed);
      // Each time it is asked whether it may still be heard.
      res.set('Cache-Control', 'private, no-cache').set('Content-Security-Policy', ALONE);
      await sent(res, path, { 'Content-Type': /^(audio|video)\//.test(type) ? type : 'audio/mpeg' });
    }),
    ...(['stop', 'again'] as const).map(what =>
      route('post', `/spoken/:recipientId/${what}`, allow.anyone(), async ({ id, res }) => {
        await messages.write(id('recipientId'), what === 'again');
        res.redirect(303, `/spoken/${id('recipientId')}`);
      }),
    ),
  ];
}
