import type {
  AssessmentContent,
  AssessmentDraft,
  AssessmentSummary,
  SaveAssessment,
} from '@ecoute/contract/assessments';
import { api } from '../../app/api';

export const {
  useAssessmentsQuery,
  useAssessmentQuery,
  useMakeAssessmentMutation,
  useSaveAssessmentMutation,
} = api.injectEndpoints({
  endpoints: build => ({
    assessments: build.query<AssessmentSummary[], void>({
      query: () => 'api/assessments',
      providesTags: ['Assessment'],
    }),
    assessment: build.query<AssessmentDraft, string>({
      query: id => `api/assessments/${id}`,
      providesTags: (_r, _e, id) => [{ type: 'Assessment', id }],
      // The editor holds its own copy: a stale one from the cache would look like lost work.
      keepUnusedDataFor: 0,
    }),
    makeAssessment: build.mutation<AssessmentDraft, AssessmentContent>({
      query: body => ({ url: 'api/assessments', method: 'POST', body }),
      invalidatesTags: ['Assessment'],
    }),
    saveAssessment: build.mutation<AssessmentDraft, { id: string } & SaveAssessment>({
      query: ({ id, ...body }) => ({ url: `api/assessments/${id}`, method: 'PUT', body }),
    }),
  }),
});
