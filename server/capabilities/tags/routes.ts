import { NewTagList } from '@ecoute/contract/tags';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Tags } from './service';

export function tagRoutes(allow: Policies, tags: Tags): Route[] {
  return [
    route('get', '/api/tag-lists', allow.teacher(), ({ person }) => tags.lists(person())),
    route(
      'post',
      '/api/tag-lists',
      allow.teacher(),
      ({ person, body }) => tags.make(person(), body),
      NewTagList,
    ),
    route('delete', '/api/tag-lists/:tagListId', allow.ownerOfTagList(), ({ person, id }) =>
      tags.remove(person(), id('tagListId')),
    ),
  ];
}
