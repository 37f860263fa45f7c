import { SaveResultsRule } from '@ecoute/contract/results';
import { isDay } from '@ecoute/contract/decorators';
import type { Policies } from '../../platform/access/policies';
import type { Pool } from '../../platform/database';
import { route, type Call, type Route } from '../../platform/routes';
import { notFound, Trouble } from '../../platform/trouble';
import { answersOf } from './answers';
import { canDoOf } from './canDo';
import { comparedOf } from './compared';
import { markbookOf, type Between } from './markbook';
import { numbersOf } from './numbers';
import { keepRule, resultsClasses } from './rule';
import { ownYear, yearOf } from './year';

const DAY_MS = 86_400_000;

/** Days of the query, the last one included; by the calendar of UTC. @throws Trouble invalid */
function betweenIn({ req: { query } }: Call<unknown>): Between {
  const instant = (value: unknown, plusMs: number) => {
    if (value === undefined || value === '') return null;
    if (!isDay(value))
      throw new Trouble('invalid', 'Say which days, for example from=2026-09-01&to=2026-12-20.');
    return new Date(Date.parse(value as string) + plusMs);
  };
  return { from: instant(query.from, 0), to: instant(query.to, DAY_MS) };
}

const UUID = /^[0-9a-f-]{36}$/;

/** An id of the query. @throws Trouble notFound for what is none */
function idIn(value: unknown): string {
  if (typeof value !== 'string' || !UUID.test(value)) throw notFound();
  return value;
}

/** What marks add up to. Nothing is changed here but the rule by which they do. */
export function resultsRoutes(allow: Policies, pool: Pool): Route[] {
  return [
    route('get', '/api/results', allow.teacher(), ({ person }) => resultsClasses(pool, person())),
    route('get', '/api/classes/:classId/markbook', allow.managerOfClass(), call =>
      markbookOf(pool, call.person(), call.id('classId'), betweenIn(call)),
    ),
    route(
      'put',
      '/api/classes/:classId/results-rule',
      allow.teacherOfClass(),
      ({ id, body }) => keepRule(pool, id('classId'), body),
      SaveResultsRule,
    ),
    route('get', '/api/classes/:classId/can-do', allow.teacherOfClass(), call =>
      canDoOf(pool, call.id('classId'), betweenIn(call)),
    ),
    route('get', '/api/classes/:classId/compared', allow.teacherOfClass(), ({ id, req: { query } }) =>
      comparedOf(pool, id('classId'), idIn(query.before), idIn(query.after)),
    ),
    route('get', '/api/classes/:classId/students/:personId/year', allow.teacherOfClass(), ({ id }) =>
      yearOf(pool, id('classId'), id('personId')),
    ),
    route('get', '/api/my-year', allow.student(), ({ person }) => ownYear(pool, person())),
    route('get', '/api/sittings/:sittingId/answers', allow.teacherOfSitting(), ({ id }) =>
      answersOf(pool, id('sittingId')),
    ),
    route('get', '/api/releases/:releaseId/numbers', allow.managerOfRelease(), ({ person, id }) =>
      numbersOf(pool, person(), id('releaseId')),
    ),
  ];
}
