import { NewTake, Stretch } from '@ecoute/contract/recordings';
import { NewInk } from '@ecoute/contract/ink';
import { Judgement } from '@ecoute/contract/judgements';
import {
  BeginSitting,
  HandIn,
  HoldSitting,
  NewEvents,
  NewTakePicture,
  TakeWords,
  WriteAnswer,
} from '@ecoute/contract/sittings';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Others } from './others';
import type { OwnTakes } from './ownTakes';
import type { Sittings } from './service';
import type { SpokenSheets } from './sheets';

export function sittingRoutes(
  allow: Policies,
  sittings: Sittings,
  ownTakes: OwnTakes,
  others: Others,
  sheets: SpokenSheets,
): Route[] {
  const own = allow.studentOfSitting();
  return [
    route(
      'post',
      '/api/releases/:releaseId/sitting',
      allow.studentOfRelease(),
      ({ person, id, body }) => sittings.begin(person(), id('releaseId'), body),
      BeginSitting,
    ),
    route(
      'post',
      '/api/releases/:releaseId/another-sitting',
      allow.studentOfRelease(),
      ({ person, id, body }) => sittings.begin(person(), id('releaseId'), body, true),
      BeginSitting,
    ),
    route('get', '/api/releases/:releaseId/others', allow.studentOfRelease(), ({ person, id }) =>
      others.hear(person(), id('releaseId')),
    ),
    route('post', '/api/releases/:releaseId/others', allow.studentOfRelease(), ({ person, id }) =>
      others.hear(person(), id('releaseId'), true),
    ),
    route('get', '/api/sittings/:sittingId', own, ({ id }) => sittings.view(id('sittingId'))),
    route(
      'post',
      '/api/sittings/:sittingId/events',
      own,
      ({ id, body }) => sittings.keepEvents(id('sittingId'), body),
      NewEvents,
    ),
    route(
      'post',
      '/api/sittings/:sittingId/takes',
      own,
      ({ person, id, body }) => sittings.announceTake(person(), id('sittingId'), body),
      NewTake,
    ),
    route(
      'put',
      '/api/sittings/:sittingId/items/:itemId/text',
      own,
      ({ id, body }) => sittings.write(id('sittingId'), id('itemId'), body),
      WriteAnswer,
    ),
    route(
      'put',
      '/api/sittings/:sittingId/judgements/:itemId',
      own,
      ({ id, body }) => sittings.judge(id('sittingId'), id('itemId'), body),
      Judgement,
    ),
    route('post', '/api/takes/:takeId/choice', allow.ownerOfRecording('takeId'), ({ id }) =>
      sittings.choose(id('takeId')),
    ),
    route(
      'put',
      '/api/takes/:takeId/words',
      allow.ownerOfRecording('takeId'),
      ({ id, body }) => ownTakes.describe(id('takeId'), body),
      TakeWords,
    ),
    route(
      'put',
      '/api/takes/:takeId/trim',
      allow.ownerOfRecording('takeId'),
      ({ id, body }) => ownTakes.trim(id('takeId'), body),
      Stretch,
    ),
    route('delete', '/api/takes/:takeId/trim', allow.ownerOfRecording('takeId'), ({ id }) =>
      ownTakes.trim(id('takeId'), null),
    ),
    route(
      'post',
      '/api/takes/:takeId/picture',
      allow.ownerOfRecording('takeId'),
      ({ person, id, body }) => ownTakes.announcePicture(person(), id('takeId'), body),
      NewTakePicture,
    ),
    route(
      'put',
      '/api/takes/:takeId/sheet',
      allow.recorderOf('takeId'),
      ({ id, body }) => sheets.keep(id('takeId'), body),
      NewInk,
    ),
    route('get', '/api/takes/:takeId/sheet', allow.listenerOf('takeId'), async ({ id }) => ({
      sheet: await sheets.view(id('takeId')),
    })),
    route('delete', '/api/takes/:takeId/picture', allow.ownerOfRecording('takeId'), ({ id }) =>
      ownTakes.removePicture(id('takeId')),
    ),
    route(
      'post',
      '/api/sittings/:sittingId/hold',
      own,
      ({ id, body }) => sittings.hold(id('sittingId'), body),
      HoldSitting,
    ),
    route('post', '/api/sittings/:sittingId/items/:itemId/show', own, ({ id }) =>
      sittings.show(id('sittingId'), id('itemId')),
    ),
    route('post', '/api/sittings/:sittingId/open', own, ({ id }) => sittings.open(id('sittingId'))),
    route('post', '/api/sittings/:sittingId/models', own, ({ id }) => sittings.openModels(id('sittingId'))),
    route('post', '/api/takes/:takeId/end', allow.ownerOfRecording('takeId'), ({ id }) =>
      sittings.handIns.endTake(id('takeId')),
    ),
    route('post', '/api/sittings/:sittingId/withdraw', own, ({ id }) =>
      sittings.handIns.withdraw(id('sittingId')),
    ),
    route('get', '/api/sittings/:sittingId/account', allow.teacherOfSitting(), ({ id }) =>
      sittings.account(id('sittingId')),
    ),
    route(
      'post',
      '/api/sittings/:sittingId/hand-in',
      own,
      ({ id, body }) => sittings.handIns.handIn(id('sittingId'), body),
      HandIn,
    ),
  ];
}
