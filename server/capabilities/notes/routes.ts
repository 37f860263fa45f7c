import { NewSpokenNote, RemoveNote, SaveNote } from '@ecoute/contract/notes';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Notes } from './service';

export function noteRoutes(allow: Policies, notes: Notes): Route[] {
  const hears = allow.teacherWhoHears('takeId');
  return [
    route(
      'put',
      '/api/takes/:takeId/notes/:noteId',
      hears,
      ({ person, id, body }) => notes.save(person(), id('takeId'), id('noteId'), body),
      SaveNote,
    ),
    route(
      'post',
      '/api/takes/:takeId/notes/:noteId/removal',
      hears,
      ({ id, body }) => notes.remove(id('takeId'), id('noteId'), body.revision),
      RemoveNote,
    ),
    route(
      'post',
      '/api/takes/:takeId/spoken-notes',
      hears,
      ({ person, id, body }) => notes.speak(person(), id('takeId'), body),
      NewSpokenNote,
    ),
    route('get', '/api/takes/:takeId/notes.vtt', allow.listenerOf('takeId'), async ({ person, id, res }) => {
      const text = await notes.asVtt(person(), id('takeId'));
      res.attachment('notes.vtt').type('text/vtt; charset=utf-8').send(text);
    }),
  ];
}
