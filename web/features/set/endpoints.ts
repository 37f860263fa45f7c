import type {
  AssessmentContent,
  AssessmentDraft,
  AssessmentSummary,
  Away,
  EarlierVoice,
  SaveAssessment,
} from '@ecoute/contract/assessments';
import type { KeptRubric, NewKeptRubric } from '@ecoute/contract/rubrics';
import type {
  Department,
  KeepAsTemplate,
  NewColleague,
  NewDepartment,
  Share,
  SharedAssessment,
} from '@ecoute/contract/departments';
import type { NewTagList, TagList } from '@ecoute/contract/tags';
import { api } from '../../base/api';

export const {
  useAssessmentsQuery,
  useEarlierVoicesQuery,
  usePutAwayAssessmentsQuery,
  usePutAwayMutation,
  useRubricsQuery,
  useKeepRubricMutation,
  useTakeRubricMutation,
  useAssessmentQuery,
  useMakeAssessmentMutation,
  useSaveAssessmentMutation,
  useCopyAssessmentMutation,
  useKeepAsTemplateMutation,
  useShelfQuery,
  useDepartmentsQuery,
  useMakeDepartmentMutation,
  useAddColleagueMutation,
  useLeaveDepartmentMutation,
  useSharesQuery,
  useShareMutation,
  useTagListsQuery,
  useMakeTagListMutation,
  useRemoveTagListMutation,
} = api.injectEndpoints({
  endpoints: build => ({
    assessments: build.query<AssessmentSummary[], string | void>({
      query: find => `api/assessments${find ? `?find=${encodeURIComponent(find)}` : ''}`,
      providesTags: ['Assessment'],
    }),
    earlierVoices: build.query<EarlierVoice[], string>({
      query: id => `api/assessments/${id}/voices`,
      keepUnusedDataFor: 0,
    }),
    putAwayAssessments: build.query<AssessmentSummary[], void>({
      query: () => 'api/put-away',
      providesTags: ['Assessment'],
    }),
    putAway: build.mutation<AssessmentDraft, { id: string; away: Away | null }>({
      query: ({ id, away }) => ({ url: `api/assessments/${id}/away`, method: 'PUT', body: { away } }),
      invalidatesTags: ['Assessment', 'Shelf'],
    }),
    rubrics: build.query<KeptRubric[], void>({ query: () => 'api/rubrics', providesTags: ['Rubrics'] }),
    keepRubric: build.mutation<KeptRubric[], NewKeptRubric>({
      query: body => ({ url: 'api/rubrics', method: 'POST', body }),
      invalidatesTags: ['Rubrics'],
    }),
    takeRubric: build.mutation<KeptRubric[], { id: string; taken: boolean }>({
      query: ({ id, taken }) => ({ url: `api/rubrics/${id}/taken`, method: 'PUT', body: { taken } }),
      invalidatesTags: ['Rubrics'],
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
    copyAssessment: build.mutation<AssessmentDraft, string>({
      query: id => ({ url: `api/assessments/${id}/copy`, method: 'POST' }),
      invalidatesTags: ['Assessment'],
    }),
    keepAsTemplate: build.mutation<KeepAsTemplate, { id: string } & KeepAsTemplate>({
      query: ({ id, ...body }) => ({ url: `api/assessments/${id}/template`, method: 'PUT', body }),
      invalidatesTags: ['Assessment'],
    }),
    shelf: build.query<SharedAssessment[], void>({ query: () => 'api/shelf', providesTags: ['Shelf'] }),
    departments: build.query<Department[], void>({
      query: () => 'api/departments',
      providesTags: ['Department'],
    }),
    makeDepartment: build.mutation<Department[], NewDepartment>({
      query: body => ({ url: 'api/departments', method: 'POST', body }),
      invalidatesTags: ['Department'],
    }),
    addColleague: build.mutation<{ displayName: string; asked: boolean }, { id: string } & NewColleague>({
      query: ({ id, ...body }) => ({ url: `api/departments/${id}/members`, method: 'POST', body }),
      invalidatesTags: ['Department'],
    }),
    leaveDepartment: build.mutation<Department[], string>({
      query: id => ({ url: `api/departments/${id}/members`, method: 'DELETE' }),
      invalidatesTags: ['Department', 'Shelf'],
    }),
    shares: build.query<Share[], string>({
      query: id => `api/assessments/${id}/shares`,
      providesTags: (_r, _e, id) => [{ type: 'Shelf', id }],
    }),
    share: build.mutation<Share[], { id: string; shares: Share[] }>({
      query: ({ id, shares }) => ({ url: `api/assessments/${id}/shares`, method: 'PUT', body: { shares } }),
      invalidatesTags: (_r, _e, { id }) => [{ type: 'Shelf', id }],
    }),
    tagLists: build.query<TagList[], void>({ query: () => 'api/tag-lists', providesTags: ['Tags'] }),
    makeTagList: build.mutation<TagList[], NewTagList>({
      query: body => ({ url: 'api/tag-lists', method: 'POST', body }),
      invalidatesTags: ['Tags'],
    }),
    removeTagList: build.mutation<TagList[], string>({
      query: id => ({ url: `api/tag-lists/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Tags'],
    }),
    saveAssessment: build.mutation<AssessmentDraft, { id: string } & SaveAssessment>({
      query: ({ id, ...body }) => ({ url: `api/assessments/${id}`, method: 'PUT', body }),
    }),
  }),
});
