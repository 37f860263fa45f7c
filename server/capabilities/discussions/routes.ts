import { Heard, Hide, NewContribution, PutIn, ShareOut } from '@ecoute/contract/discussions';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Leading } from './lead';
import type { Discussions } from './service';

/** The same acts for those who take part and for those who lead: each has its own door, and its own right. */
export function discussionRoutes(allow: Policies, discussions: Discussions, leading: Leading): Route[] {
  const part = '/api/releases/:releaseId/discussion';
  const lead = '/api/releases/:releaseId/lead';
  const takesPart = allow.studentOfRelease();
  const leads = allow.teacherOfRelease();
  return [
    route('get', part, takesPart, ({ person, id }) => discussions.view(person(), id('releaseId'))),
    route(
      'post',
      `${part}/voices`,
      takesPart,
      ({ person, id, body }) => discussions.announce(person(), id('releaseId'), body),
      NewContribution,
    ),
    route(
      'put',
      `${part}/contributions/:contributionId`,
      takesPart,
      ({ person, id, body }) => discussions.putIn(person(), id('releaseId'), id('contributionId'), body),
      PutIn,
    ),
    route('get', `${part}/contributions/:contributionId`, takesPart, ({ person, id }) =>
      discussions.one(person(), id('releaseId'), id('contributionId')),
    ),
    route('delete', `${part}/contributions/:contributionId`, takesPart, ({ person, id }) =>
      discussions.takeBack(person(), id('releaseId'), id('contributionId')),
    ),
    route('post', `${part}/contributions/:contributionId/back`, takesPart, ({ person, id }) =>
      discussions.bringBack(person(), id('releaseId'), id('contributionId')),
    ),
    route(
      'post',
      `${part}/heard`,
      takesPart,
      ({ person, id, body }) => discussions.heard(person(), id('releaseId'), body.ids),
      Heard,
    ),
    route('get', lead, leads, ({ person, id }) => leading.view(person(), id('releaseId'))),
    route(
      'post',
      `${lead}/voices`,
      leads,
      ({ person, id, body }) => leading.announce(person(), id('releaseId'), body),
      NewContribution,
    ),
    route(
      'put',
      `${lead}/contributions/:contributionId`,
      leads,
      ({ person, id, body }) => leading.putIn(person(), id('releaseId'), id('contributionId'), body),
      PutIn,
    ),
    route('get', `${lead}/contributions/:contributionId`, leads, ({ person, id }) =>
      leading.one(person(), id('releaseId'), id('contributionId')),
    ),
    route('delete', `${lead}/contributions/:contributionId`, leads, ({ person, id }) =>
      leading.takeBack(person(), id('releaseId'), id('contributionId')),
    ),
    route('post', `${lead}/contributions/:contributionId/back`, leads, ({ person, id }) =>
      leading.bringBack(person(), id('releaseId'), id('contributionId')),
    ),
    route('post', `${lead}/contributions/:contributionId/let-in`, leads, ({ person, id }) =>
      leading.letIn(person(), id('releaseId'), id('contributionId')),
    ),
    route(
      'put',
      `${lead}/contributions/:contributionId/hidden`,
      leads,
      ({ person, id, body }) => leading.hide(person(), id('releaseId'), id('contributionId'), body),
      Hide,
    ),
    route('delete', `${lead}/contributions/:contributionId/hidden`, leads, ({ person, id }) =>
      leading.show(person(), id('releaseId'), id('contributionId')),
    ),
    route(
      'post',
      `${lead}/heard`,
      leads,
      ({ person, id, body }) => discussions.heard(person(), id('releaseId'), body.ids),
      Heard,
    ),
    route(
      'put',
      `${lead}/circles`,
      leads,
      ({ person, id, body }) => leading.shareOut(person(), id('releaseId'), body),
      ShareOut,
    ),
  ];
}
