import { CloseAccount, JobsAgain, NameAdmin, NewAccount, SendCode } from '@ecoute/contract/administration';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { AdministrationDesk } from './service';

export function administrationRoutes(allow: Policies, desk: AdministrationDesk): Route[] {
  const own = allow.administrator();
  const text = (value: unknown) => (typeof value === 'string' ? value.slice(0, 200) : '');
  return [
    route('get', '/api/administration', own, () => desk.overview()),
    route('get', '/api/administration/people', own, ({ person, req }) =>
      desk.accounts(person(), text(req.query.find), text(req.query.after) || null),
    ),
    route(
      'post',
      '/api/administration/people',
      own,
      ({ person, body }) => desk.make(person(), body),
      NewAccount,
    ),
    route(
      'post',
      '/api/administration/people/:personId/code',
      own,
      ({ person, id, body }) => desk.code(person(), id('personId'), body.byMail ?? false),
      SendCode,
    ),
    route(
      'put',
      '/api/administration/people/:personId/admin',
      own,
      ({ person, id, body }) => desk.nameAdmin(person(), id('personId'), body.isAdmin),
      NameAdmin,
    ),
    route(
      'put',
      '/api/administration/people/:personId/closed',
      own,
      ({ person, id, body }) => desk.close(person(), id('personId'), body.closed),
      CloseAccount,
    ),
    route('delete', '/api/administration/people/:personId/sessions', own, ({ person, id }) =>
      desk.signOut(person(), id('personId')),
    ),
    route('get', '/api/administration/jobs', own, () => desk.failed()),
    route('post', '/api/administration/jobs', own, ({ body }) => desk.jobsAgain(body), JobsAgain),
    route('get', '/api/administration/log', own, ({ req }) =>
      desk.log(/^\d{1,15}$/.test(text(req.query.before)) ? Number(req.query.before) : null),
    ),
  ];
}
