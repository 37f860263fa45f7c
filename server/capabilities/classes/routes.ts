import {
  CodesFor,
  CorrectStudent,
  MoveStudent,
  NewClass,
  NewGroup,
  NewMember,
  NewStudent,
  PutClassAway,
  SetArrangement,
  SlipsFor,
} from '@ecoute/contract/classes';
import { SetCalled } from '@ecoute/contract/people';
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
    route('get', '/api/classes/:classId', own, ({ person, id }) => classes.detail(person(), id('classId'))),
    route(
      'put',
      '/api/classes/:classId',
      own,
      ({ person, id, body }) => classes.change(person(), id('classId'), body),
      NewClass,
    ),
    route('get', '/api/put-away-classes', allow.teacher(), ({ person }) => classes.list(person(), true)),
    route(
      'put',
      '/api/classes/:classId/away',
      taught,
      ({ person, id, body }) => classes.putAway(person(), id('classId'), body.away),
      PutClassAway,
    ),
    route(
      'put',
      '/api/classes/:classId/members/:personId',
      taught,
      ({ person, id, body }) => classes.correct(person(), id('classId'), id('personId'), body),
      CorrectStudent,
    ),
    route(
      'post',
      '/api/classes/:classId/members/:personId/move',
      taught,
      ({ person, id, body }) => classes.move(person(), id('classId'), id('personId'), body.toClassId),
      MoveStudent,
    ),
    route(
      'post',
      '/api/classes/:classId/students',
      own,
      ({ person, id, body }) => classes.addStudent(person(), id('classId'), body),
      NewStudent,
    ),
    route(
      'post',
      '/api/classes/:classId/members',
      taught,
      ({ person, id, body }) => classes.addMember(person(), id('classId'), body),
      NewMember,
    ),
    route('delete', '/api/classes/:classId/members/:personId', taught, ({ person, id }) =>
      classes.removeMember(person(), id('classId'), id('personId')),
    ),
    route(
      'put',
      '/api/classes/:classId/members/:personId/arrangement',
      taught,
      ({ person, id, body }) => classes.arrange(person(), id('classId'), id('personId'), body),
      SetArrangement,
    ),
    route(
      'put',
      '/api/classes/:classId/members/:personId/called',
      taught,
      ({ person, id, body }) => classes.call(person(), id('classId'), id('personId'), body.called),
      SetCalled,
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
      '/api/classes/:classId/slips',
      taught,
      ({ person, id, body }) => classes.makeSlips(person(), id('classId'), body.personIds),
      SlipsFor,
    ),
    route('delete', '/api/classes/:classId/members/:personId/slip', taught, ({ person, id }) =>
      classes.endSlip(person(), id('classId'), id('personId')),
    ),
    route(
      'post',
      '/api/classes/:classId/groups',
      own,
      ({ person, id, body }) => classes.addGroup(person(), id('classId'), body),
      NewGroup,
    ),
    route(
      'put',
      '/api/classes/:classId/groups/:groupId',
      own,
      ({ person, id, body }) => classes.changeGroup(person(), id('classId'), id('groupId'), body),
      NewGroup,
    ),
    route('delete', '/api/classes/:classId/groups/:groupId', own, ({ person, id }) =>
      classes.removeGroup(person(), id('classId'), id('groupId')),
    ),
  ];
}
