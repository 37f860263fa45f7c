import { isSpokenWord, sentenceOf, spokenLanguage } from '@ecoute/core/voice/spokenWords';
import { notFound } from '../../platform/trouble';
import type { Policies } from '../../platform/access/policies';
import { route, type Call, type Route } from '../../platform/routes';
import type { StudentLists } from '../reading/studentLists';
import type { Sittings } from '../sittings/service';
import { speak } from './speech';

const WEEK = 'private, max-age=604800';

/** What leads a child through a sitting, and what they are asked, said by the server where a device has no voice. */
export function speechRoutes(allow: Policies, sittings: Sittings, lists: StudentLists): Route[] {
  const words = new Map<string, Promise<Buffer>>();
  const own = allow.studentOfSitting();
  const languageOf = ({ req }: Call<unknown>) => String(req.query.language ?? '').slice(0, 35);
  const send = async ({ res }: Call<unknown>, sound: Promise<Buffer>) => {
    const said = await sound;
    res.setHeader('Cache-Control', WEEK);
    res.type('audio/mpeg').send(said);
  };
  return [
    route('get', '/api/spoken-words/:code', allow.anyone(), async call => {
      const [tag = '', word = ''] = String(call.req.params.code).split('-');
      const language = spokenLanguage(tag);
      if (!language || !isSpokenWord(word)) throw notFound();
      const name = `${language}-${word}`;
      const sound = words.get(name) ?? speak(language, sentenceOf(word, language));
      words.set(name, sound);
      sound.catch(() => words.delete(name));
      await send(call, sound);
    }),
    route('get', '/api/releases/:releaseId/spoken', allow.studentOfRelease(), async call => {
      const entries = await lists.todo(call.person());
      const entry = entries.find(e => e.releaseId === call.id('releaseId'));
      if (!entry) throw notFound();
      await send(call, speak(languageOf(call), entry.title));
    }),
    route('get', '/api/sittings/:sittingId/spoken', own, async call => {
      const { content } = await sittings.view(call.id('sittingId'));
      await send(call, speak(languageOf(call), content.directions));
    }),
    // Of an item that is not shown yet there are no words to say.
    route('get', '/api/sittings/:sittingId/spoken/:itemId', own, async call => {
      const { content } = await sittings.view(call.id('sittingId'));
      const item = content.items.find(i => i.id === call.id('itemId'));
      if (!item) throw notFound();
      await send(call, speak(languageOf(call), item.promptText));
    }),
  ];
}
