import { NewHoliday } from '@ecoute/contract/releases';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Holidays } from './service';

export function holidayRoutes(allow: Policies, holidays: Holidays, terms: Holidays): Route[] {
  return [...of('/api/holidays', allow, holidays), ...of('/api/terms', allow, terms)];
}

function of(path: string, allow: Policies, days: Holidays): Route[] {
  return [
    route('get', path, allow.teacher(), () => days.list()),
    route('post', path, allow.teacher(), ({ person, body }) => days.add(person(), body), NewHoliday),
    route('delete', `${path}/:holidayId`, allow.teacher(), ({ person, id }) =>
      days.remove(person(), id('holidayId')),
    ),
  ];
}
