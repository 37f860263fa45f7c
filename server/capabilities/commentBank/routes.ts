import {
  ChangeTopic,
  KeepInBank,
  NewTopics,
  OrderTopics,
  ReadInBank,
  SaveBankComment,
} from '@ecoute/contract/commentBank';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { CommentBank } from './service';

export function commentBankRoutes(allow: Policies, bank: CommentBank): Route[] {
  const edits = allow.editorOfTopic();
  return [
    route('get', '/api/comment-bank', allow.teacher(), ({ person }) => bank.topics(person())),
    route('get', '/api/comment-bank.csv', allow.teacher(), async ({ person, res }) => {
      const csv = await bank.asCsv(person());
      res.attachment('comment-bank.csv').type('text/csv; charset=utf-8').send(csv);
    }),
    route(
      'post',
      '/api/comment-bank/topics',
      allow.teacher(),
      ({ person, body }) => bank.make(person(), body.topics),
      NewTopics,
    ),
    route(
      'put',
      '/api/comment-bank/order',
      allow.teacher(),
      ({ person, body }) => bank.order(person(), body.topicIds),
      OrderTopics,
    ),
    route(
      'put',
      '/api/comment-bank/topics/:topicId',
      edits,
      ({ person, id, body }) => bank.change(person(), id('topicId'), body),
      ChangeTopic,
    ),
    route('delete', '/api/comment-bank/topics/:topicId', edits, ({ person, id }) =>
      bank.removeTopic(person(), id('topicId'), true),
    ),
    route('post', '/api/comment-bank/topics/:topicId/putting-back', edits, ({ person, id }) =>
      bank.removeTopic(person(), id('topicId'), false),
    ),
    route(
      'put',
      '/api/comment-bank/topics/:topicId/comments/:commentId',
      edits,
      ({ person, id, body }) => bank.save(person(), id('topicId'), id('commentId'), body),
      SaveBankComment,
    ),
    route('delete', '/api/comment-bank/topics/:topicId/comments/:commentId', edits, ({ person, id }) =>
      bank.removeComment(person(), id('topicId'), id('commentId')),
    ),
    route(
      'post',
      '/api/comment-bank/topics/:topicId/comments/:commentId/putting-back',
      edits,
      ({ person, id }) => bank.putCommentBack(person(), id('topicId'), id('commentId')),
    ),
    route(
      'post',
      '/api/comment-bank/kept',
      allow.teacher(),
      ({ person, body }) => bank.keep(person(), body),
      KeepInBank,
    ),
    route(
      'post',
      '/api/comment-bank/imports',
      allow.teacher(),
      ({ person, body }) => bank.readIn(person(), body),
      ReadInBank,
    ),
    route('delete', '/api/comment-bank/imports/:bankImportId', allow.ownerOfBankImport(), ({ person, id }) =>
      bank.undoImport(person(), id('bankImportId')),
    ),
    route('get', '/api/comment-bank/lately', allow.teacher(), ({ person }) => bank.lately(person())),
    route('post', '/api/comment-bank/comments/:commentId/use', allow.teacher(), ({ person, id }) =>
      bank.used(person(), id('commentId')),
    ),
  ];
}
