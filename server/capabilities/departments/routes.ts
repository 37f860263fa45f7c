import { KeepAsTemplate, NewColleague, NewDepartment, Shares } from '@ecoute/contract/departments';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Departments } from './service';

export function departmentRoutes(allow: Policies, departments: Departments): Route[] {
  return [
    route('get', '/api/departments', allow.teacher(), ({ person }) => departments.list(person())),
    route(
      'post',
      '/api/departments',
      allow.teacher(),
      ({ person, body }) => departments.make(person(), body),
      NewDepartment,
    ),
    route(
      'post',
      '/api/departments/:departmentId/members',
      allow.memberOf(),
      ({ person, id, body }) => departments.add(person(), id('departmentId'), body),
      NewColleague,
    ),
    route('delete', '/api/departments/:departmentId/members', allow.memberOf(), ({ person, id }) =>
      departments.leave(person(), id('departmentId')),
    ),
    route('get', '/api/shelf', allow.teacher(), ({ person }) => departments.shelf(person())),
    route('get', '/api/assessments/:assessmentId/shares', allow.ownerOfAssessment(), ({ id }) =>
      departments.shares(id('assessmentId')),
    ),
    route(
      'put',
      '/api/assessments/:assessmentId/shares',
      allow.ownerOfAssessment(),
      ({ person, id, body }) => departments.share(person(), id('assessmentId'), body),
      Shares,
    ),
    route(
      'put',
      '/api/assessments/:assessmentId/template',
      allow.ownerOfAssessment(),
      ({ id, body }) => departments.keepAsTemplate(id('assessmentId'), body),
      KeepAsTemplate,
    ),
  ];
}
