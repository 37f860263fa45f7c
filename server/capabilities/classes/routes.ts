import {
  CodesFor,
  NewClass,
  NewGroup,
  NewMember,
  NewStudent,
  SetArrangement,
} from '@ecoute/contract/classes';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Classes } from './service';

export function classRoutes(allow: Policies, classes: Classes): Route[] {
  const own = allow.managerOfClass();
  // Who teaches, and who signs in as whom, is for teachers: a coordinator would otherwise hear after all.
  const taught = allow.teacherOfClass();
  return [
    route('get', '/api/classes', allow.teacher(), ({ person }) => classes.list(person())),
    route(
      'post',
      '/api/classes',
      allow.teacher(),
      ({ person, body }) => classes.make(person(), body),
      NewClass,
    ),
    route('get', '/api/classes/:classId', own, ({ id }) => classes.detail(id('classId'))),
    route(
      'put',
      '/api/classes/:classId',
      own,
      ({ id, body }) => classes.change(id('classId'), body),
      NewClass,
    ),
    route(
      'post',
      '/api/classes/:classId/students',
      own,
      ({ id, body }) => classes.addStudent(id('classId'), body),
      NewStudent,
    ),
    route(
      'post',
      '/api/classes/:classId/members',
      taught,
      ({ id, body }) => classes.addMember(id('classId'), body),
      NewMember,
    ),
    route('delete', '/api/classes/:classId/members/:personId', taught, ({ id }) =>
      classes.removeMember(id('classId'), id('personId')),
    ),
    route(
      'put',
      '/api/classes/:classId/members/:personId/arrangement',
      own,
      ({ person, id, body }) => classes.arrange(person(), id('classId'), id('personId'), body),
      SetArrangement,
    ),
    route(
      'post',
      '/api/classes/:classId/codes',
      taught,
      ({ person, id, body }) =>
        classes.makeCodes(person(), id('classId'), body.personIds, body.byMail ?? false),
      CodesFor,
    ),
    route(
      'post',
      '/api/classes/:classId/groups',
      own,
      ({ id, body }) => classes.addGroup(id('classId'), body),
      NewGroup,
    ),
    route(
      'put',
      '/api/classes/:classId/groups/:groupId',
      own,
      ({ id, body }) => classes.changeGroup(id('classId'), id('groupId'), body),
      NewGroup,
    ),
    route('delete', '/api/classes/:classId/groups/:groupId', own, ({ id }) =>
      classes.removeGroup(id('classId'), id('groupId')),
    ),
  ];
}
