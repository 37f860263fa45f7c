import {
  ChangeSeries,
  FollowAssessment,
  MoveReleases,
  NewException,
  NewRelease,
  NewSeries,
  REACHES,
  ReleaseTerms,
  type CalendarView,
  type Reach,
  type ReleaseDetail,
  type ReleaseSummary,
} from '@ecoute/contract/releases';
import type { Me } from '@ecoute/contract/people';
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

/** How far, of the query; one alone where nothing is said. @throws Trouble invalid */
function reachIn(value: unknown): Reach {
  const reach = REACHES.find(r => r === (value ?? 'this'));
  if (!reach) throw new Trouble('invalid', 'Say how far it reaches: this, later or all.');
  return reach;
}

/** @param reads what is known of releases beyond themselves: where everybody stands */
export function releaseRoutes(
  allow: Policies,
  releases: Releases,
  reads: {
    list(teacher: Me): Promise<ReleaseSummary[]>;
    before(teacher: Me, id: string): Promise<ReleaseSummary[]>;
    calendar(person: Me, from: string, to: string): Promise<CalendarView>;
    detail(viewer: Me, id: string): Promise<ReleaseDetail>;
  },
): Route[] {
  const own = allow.managerOfRelease();
  return [
    route('get', '/api/releases', allow.teacher(), ({ person }) => reads.list(person())),
    route(
      'post',
      '/api/releases',
      allow.teacher(),
      async ({ person, body }) => reads.detail(person(), await releases.make(person(), body)),
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
      reads.before(person(), id('releaseId')),
    ),
    route('get', '/api/releases/:releaseId', own, ({ person, id }) =>
      reads.detail(person(), id('releaseId')),
    ),
    route(
      'put',
      '/api/releases/:releaseId',
      own,
      async ({ person, id, body }) => {
        await releases.change(id('releaseId'), body);
        return reads.detail(person(), id('releaseId'));
      },
      ReleaseTerms,
    ),
    route(
      'put',
      '/api/releases/:releaseId/series',
      own,
      ({ person, id, body }) => releases.changeSeries(person(), id('releaseId'), body),
      ChangeSeries,
    ),
    route('delete', '/api/releases/:releaseId/series', own, ({ person, id, req }) =>
      releases.takeBackSeries(person(), id('releaseId'), reachIn(req.query.reach)),
    ),
    route(
      'put',
      '/api/releases/:releaseId/follows',
      own,
      async ({ person, id, body }) => {
        await releases.setFollows(id('releaseId'), body.follows);
        return reads.detail(person(), id('releaseId'));
      },
      FollowAssessment,
    ),
    route('post', '/api/releases/:releaseId/closing', own, async ({ person, id }) => {
      await releases.close(id('releaseId'));
      return reads.detail(person(), id('releaseId'));
    }),
    route('delete', '/api/releases/:releaseId', own, ({ id }) => releases.takeBack(id('releaseId'))),
    route(
      'put',
      '/api/releases/:releaseId/exceptions/:personId',
      own,
      async ({ person, id, body }) => {
        await releases.grant(person(), id('releaseId'), id('personId'), body);
        return reads.detail(person(), id('releaseId'));
      },
      NewException,
    ),
    route('post', '/api/releases/:releaseId/reminders', own, ({ id }) => releases.remind(id('releaseId'))),
    route('get', '/api/calendar', allow.someone(), ({ req, person }) =>
      reads.calendar(person(), dayIn(req.query.from), dayIn(req.query.to)),
    ),
  ];
}
