import {
  MoveReleases,
  NewException,
  NewHoliday,
  NewRelease,
  NewSeries,
  ReleaseTerms,
} from '@ecoute/contract/releases';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import { Trouble } from '../../platform/trouble';
import type { Releases } from './service';

const DAY = /^\d{4}-\d{2}-\d{2}$/;

/** A day of the query. @throws Trouble invalid */
function dayIn(value: unknown): string {
  const day = String(value);
  if (!DAY.test(day) || Number.isNaN(Date.parse(day)))
    throw new Trouble('invalid', 'Say which days, for example from=2026-11-01&to=2026-12-01.');
  return day;
}

export function releaseRoutes(allow: Policies, releases: Releases): Route[] {
  const own = allow.managerOfRelease();
  return [
    route('get', '/api/releases', allow.teacher(), ({ person }) => releases.list(person())),
    route(
      'post',
      '/api/releases',
      allow.teacher(),
      ({ person, body }) => releases.make(person(), body),
      NewRelease,
    ),
    route(
      'post',
      '/api/release-series',
      allow.teacher(),
      ({ person, body }) => releases.makeSeries(person(), body),
      NewSeries,
    ),
    route(
      'post',
      '/api/release-moves',
      allow.teacher(),
      ({ person, body }) => releases.move(person(), body),
      MoveReleases,
    ),
    route('get', '/api/releases/:releaseId/before', own, ({ person, id }) =>
      releases.before(person(), id('releaseId')),
    ),
    route('get', '/api/releases/:releaseId', own, ({ id }) => releases.detail(id('releaseId'))),
    route(
      'put',
      '/api/releases/:releaseId',
      own,
      ({ id, body }) => releases.change(id('releaseId'), body),
      ReleaseTerms,
    ),
    route('delete', '/api/releases/:releaseId', own, ({ id }) => releases.takeBack(id('releaseId'))),
    route(
      'put',
      '/api/releases/:releaseId/exceptions/:personId',
      own,
      ({ person, id, body }) => releases.grant(person(), id('releaseId'), id('personId'), body),
      NewException,
    ),
    route('post', '/api/releases/:releaseId/reminders', own, ({ id }) => releases.remind(id('releaseId'))),
    route('get', '/api/calendar', allow.someone(), ({ req, person }) =>
      releases.calendar(person(), dayIn(req.query.from), dayIn(req.query.to)),
    ),
    route('get', '/api/holidays', allow.teacher(), () => releases.holidays()),
    route(
      'post',
      '/api/holidays',
      allow.teacher(),
      ({ person, body }) => releases.addHoliday(person(), body),
      NewHoliday,
    ),
    route('delete', '/api/holidays/:holidayId', allow.teacher(), ({ person, id }) =>
      releases.removeHoliday(person(), id('holidayId')),
    ),
  ];
}
