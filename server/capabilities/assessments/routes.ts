import { AssessmentContent, SaveAssessment } from '@ecoute/contract/assessments';
import { NewPromptRecording } from '@ecoute/contract/recordings';
import type { Policies } from '../../platform/access/policies';
import { route, type Route } from '../../platform/routes';
import type { Assessments } from './service';

export function assessmentRoutes(allow: Policies, assessments: Assessments): Route[] {
  const own = allow.ownerOfAssessment();
  return [
    route('get', '/api/assessments', allow.teacher(), ({ person }) => assessments.list(person())),
    route(
      'post',
      '/api/assessments',
      allow.teacher(),
      ({ person, body }) => assessments.make(person(), body),
      AssessmentContent,
    ),
    route('get', '/api/assessments/:assessmentId', own, ({ id }) => assessments.find(id('assessmentId'))),
    route(
      'put',
      '/api/assessments/:assessmentId',
      own,
      ({ person, id, body }) => assessments.save(person(), id('assessmentId'), body),
      SaveAssessment,
    ),
    route(
      'post',
      '/api/assessments/:assessmentId/prompts',
      own,
      ({ person, id, body }) => assessments.announcePrompt(person(), id('assessmentId'), body),
      NewPromptRecording,
    ),
  ];
}
