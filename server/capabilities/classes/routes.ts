import { NewClass, NewStudent } from '@ecoute/contract/classes';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Classes } from './service';

export function classRoutes(allow: Policies, classes: Classes): Route[] {
  return [
    route('get', '/api/classes', allow.teacher(), ({ person }) => classes.list(person())),
    route(
      'post',
      '/api/classes',
      allow.teacher(),
      ({ person, body }) => classes.make(person(), body),
      NewClass,
    ),
    route('get', '/api/classes/:classId', allow.teacherOfClass(), ({ id }) => classes.detail(id('classId'))),
    route(
      'post',
      '/api/classes/:classId/students',
      allow.teacherOfClass(),
      ({ id, body }) => classes.addStudent(id('classId'), body),
      NewStudent,
    ),
  ];
}
