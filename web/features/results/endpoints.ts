import type { HolidayView, NewHoliday } from '@ecoute/contract/releases';
import type {
  CanDo,
  CellAnswers,
  Compared,
  Markbook,
  ReleaseNumbers,
  ResultsClass,
  SaveResultsRule,
  StudentYear,
} from '@ecoute/contract/results';
import { api } from '../../base/api';

/** Days from and to which something is due, as `YYYY-MM-DD`; empty for no limit. */
export interface Days {
  from: string;
  to: string;
}

const within = ({ from, to }: Days) =>
  `?${new URLSearchParams({ ...(from && { from }), ...(to && { to }) }).toString()}`;

export const resultsApi = api.injectEndpoints({
  endpoints: build => ({
    resultsClasses: build.query<ResultsClass[], void>({
      query: () => 'api/results',
      providesTags: ['Class', 'Release'],
    }),
    markbook: build.query<Markbook, { classId: string } & Days>({
      query: ({ classId, ...days }) => `api/classes/${classId}/markbook${within(days)}`,
      providesTags: (_r, _e, { classId }) => ['Release', { type: 'Class', id: classId }],
    }),
    saveRule: build.mutation<null, SaveResultsRule & { classId: string }>({
      query: ({ classId, ...body }) => ({
        url: `api/classes/${classId}/results-rule`,
        method: 'PUT',
        body,
      }),
      invalidatesTags: (_r, _e, { classId }) => ['Class', { type: 'Class', id: classId }],
    }),
    cellAnswers: build.query<CellAnswers, string>({
      query: id => `api/sittings/${id}/answers`,
      providesTags: (_r, _e, id) => ['Release', { type: 'Scores', id }],
    }),
    canDo: build.query<CanDo, { classId: string } & Days>({
      query: ({ classId, ...days }) => `api/classes/${classId}/can-do${within(days)}`,
      providesTags: ['Release'],
    }),
    numbers: build.query<ReleaseNumbers, string>({
      query: id => `api/releases/${id}/numbers`,
      providesTags: (_r, _e, id) => [{ type: 'Release', id }],
    }),
    studentYear: build.query<StudentYear, { classId: string; studentId: string }>({
      query: ({ classId, studentId }) => `api/classes/${classId}/students/${studentId}/year`,
      providesTags: ['Release'],
    }),
    ownYear: build.query<StudentYear, void>({
      query: () => 'api/my-year',
      providesTags: ['Feedback'],
    }),
    compared: build.query<Compared, { classId: string; before: string; after: string }>({
      query: ({ classId, before, after }) =>
        `api/classes/${classId}/compared?before=${before}&after=${after}`,
      providesTags: ['Release'],
    }),
    terms: build.query<HolidayView[], void>({ query: () => 'api/terms', providesTags: ['Terms'] }),
    addTerm: build.mutation<HolidayView[], NewHoliday>({
      query: body => ({ url: 'api/terms', method: 'POST', body }),
      invalidatesTags: ['Terms'],
    }),
    removeTerm: build.mutation<HolidayView[], string>({
      query: id => ({ url: `api/terms/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Terms'],
    }),
  }),
});

export const {
  useResultsClassesQuery,
  useMarkbookQuery,
  useSaveRuleMutation,
  useCellAnswersQuery,
  useCanDoQuery,
  useNumbersQuery,
  useStudentYearQuery,
  useOwnYearQuery,
  useComparedQuery,
  useTermsQuery,
  useAddTermMutation,
  useRemoveTermMutation,
} = resultsApi;
