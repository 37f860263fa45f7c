import { NewHoliday } from '@ecoute/contract/releases';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Holidays } from './service';

export function holidayRoutes(allow: Policies, holidays: Holidays): Route[] {
  return [
    route('get', '/api/holidays', allow.teacher(), () => holidays.list()),
    route(
      'post',
      '/api/holidays',
      allow.teacher(),
      ({ person, body }) => holidays.add(person(), body),
      NewHoliday,
    ),
    route('delete', '/api/holidays/:holidayId', allow.teacher(), ({ person, id }) =>
      holidays.remove(person(), id('holidayId')),
    ),
  ];
}
