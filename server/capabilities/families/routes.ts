import { ChangeFamilyAddress, NewFamilyAddress, SetAdult } from '@ecoute/contract/families';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Families } from './service';

export function familyRoutes(allow: Policies, families: Families): Route[] {
  // How families are written to is for those who teach the student, and not for whoever plans.
  const taught = allow.teacherOfClass();
  const member = '/api/classes/:classId/members/:personId';
  const one = `${member}/families/:familyId`;
  return [
    route('get', `${member}/families`, taught, ({ id }) => families.of(id('classId'), id('personId'))),
    route(
      'post',
      `${member}/families`,
      taught,
      ({ person, id, body }) => families.add(person(), id('classId'), id('personId'), body),
      NewFamilyAddress,
    ),
    route(
      'put',
      one,
      taught,
      ({ id, body }) => families.change(id('classId'), id('personId'), id('familyId'), body),
      ChangeFamilyAddress,
    ),
    route('delete', one, taught, ({ id }) =>
      families.end(id('classId'), id('personId'), id('familyId'), true),
    ),
    route('post', `${one}/restored`, taught, ({ id }) =>
      families.end(id('classId'), id('personId'), id('familyId'), false),
    ),
    route(
      'put',
      `${member}/adult`,
      taught,
      ({ person, id, body }) => families.setAdult(person(), id('classId'), id('personId'), body.isAdult),
      SetAdult,
    ),
    // A student's own side.
    route('get', '/api/me/families', allow.student(), ({ person }) => families.own(person())),
    route('delete', '/api/me/families/:familyId', allow.student(), ({ person, id }) =>
      families.endOwn(person(), id('familyId'), true),
    ),
    route('post', '/api/me/families/:familyId/restored', allow.student(), ({ person, id }) =>
      families.endOwn(person(), id('familyId'), false),
    ),
  ];
}
