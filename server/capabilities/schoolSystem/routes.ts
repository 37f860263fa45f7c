import {
  HandOver,
  LinkSchoolClass,
  SaveSchoolMatches,
  SaveSchoolSystem,
} from '@ecoute/contract/schoolSystem';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { SchoolHandOver } from './service';

export function schoolSystemRoutes(allow: Policies, school: SchoolHandOver): Route[] {
  const admin = allow.administrator();
  const teacher = allow.teacherOfClass();
  const at = '/api/classes/:classId/school';
  const handing = `${at}/handings/:handingId`;
  return [
    route('get', '/api/administration/school-system', admin, () => school.system()),
    route(
      'put',
      '/api/administration/school-system',
      admin,
      ({ person, body }) => school.keepSystem(person(), body),
      SaveSchoolSystem,
    ),
    route('delete', '/api/administration/school-system', admin, () => school.removeSystem()),
    route('post', '/api/administration/school-system/try', admin, () => school.tryIt()),
    route('get', at, teacher, ({ id }) => school.ofClass(id('classId'))),
    route('get', `${at}/classes`, teacher, ({ person }) => school.classes(person())),
    route(
      'put',
      `${at}/link`,
      teacher,
      ({ person, id, body }) => school.link(person(), id('classId'), body.sourcedId),
      LinkSchoolClass,
    ),
    route('get', `${at}/matches`, teacher, ({ id }) => school.matches(id('classId'))),
    route(
      'put',
      `${at}/matches`,
      teacher,
      ({ id, body }) => school.keepMatches(id('classId'), body),
      SaveSchoolMatches,
    ),
    route('get', `${at}/difference`, teacher, ({ person, id }) => school.difference(person(), id('classId'))),
    route(
      'post',
      `${at}/handings`,
      teacher,
      ({ person, id, body }) => school.begin(person(), id('classId'), body.digest),
      HandOver,
    ),
    route('get', handing, teacher, ({ id }) => school.handing(id('classId'), id('handingId'))),
    route('post', `${handing}/cancel`, teacher, ({ id }) => school.cancel(id('classId'), id('handingId'))),
    route('post', `${handing}/again`, teacher, ({ person, id }) =>
      school.goOn(person(), id('classId'), id('handingId')),
    ),
  ];
}
