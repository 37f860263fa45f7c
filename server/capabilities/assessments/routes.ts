import { AssessmentContent, PutAway, SaveAssessment } from '@ecoute/contract/assessments';
import { NewPromptRecording } from '@ecoute/contract/recordings';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Assessments } from './service';

export function assessmentRoutes(allow: Policies, assessments: Assessments): Route[] {
  const edits = allow.editorOfAssessment();
  return [
    route('get', '/api/assessments', allow.teacher(), ({ person, req }) =>
      assessments.list(person(), typeof req.query.find === 'string' ? req.query.find : ''),
    ),
    route('get', '/api/put-away', allow.teacher(), ({ person }) => assessments.listAway(person())),
    route(
      'put',
      '/api/assessments/:assessmentId/away',
      allow.ownerOfAssessment(),
      ({ id, body }) => assessments.putAway(id('assessmentId'), body.away ?? null),
      PutAway,
    ),
    route(
      'post',
      '/api/assessments',
      allow.teacher(),
      ({ person, body }) => assessments.make(person(), body),
      AssessmentContent,
    ),
    route('get', '/api/assessments/:assessmentId', allow.readerOfAssessment(), ({ id }) =>
      assessments.find(id('assessmentId')),
    ),
    route(
      'put',
      '/api/assessments/:assessmentId',
      edits,
      ({ person, id, body }) => assessments.save(person(), id('assessmentId'), body),
      SaveAssessment,
    ),
    route(
      'post',
      '/api/assessments/:assessmentId/prompts',
      edits,
      ({ person, id, body }) => assessments.announcePrompt(person(), id('assessmentId'), body),
      NewPromptRecording,
    ),
    route('get', '/api/assessments/:assessmentId/voices', edits, ({ person, id }) =>
      assessments.voices(person(), id('assessmentId')),
    ),
    route('post', '/api/assessments/:assessmentId/copy', allow.readerOfAssessment(), ({ person, id }) =>
      assessments.copy(person(), id('assessmentId')),
    ),
  ];
}
