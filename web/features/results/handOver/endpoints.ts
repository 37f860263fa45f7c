import type {
  ClassAtSchool,
  ClassMatches,
  HandingView,
  HandOverDifference,
  SaveSchoolMatches,
  SchoolClassChoice,
} from '@ecoute/contract/schoolSystem';
import { api } from '../../../base/api';

const at = (classId: string) => `api/classes/${classId}/school`;

export const {
  useAtSchoolQuery,
  useSchoolClassesQuery,
  useLinkSchoolClassMutation,
  useSchoolMatchesQuery,
  useKeepMatchesMutation,
  useHandOverDifferenceQuery,
  useHandOverMutation,
  useHandingActMutation,
} = api.injectEndpoints({
  endpoints: build => ({
    atSchool: build.query<ClassAtSchool, string>({ query: id => at(id), providesTags: ['School'] }),
    schoolClasses: build.query<SchoolClassChoice[], string>({ query: id => `${at(id)}/classes` }),
    linkSchoolClass: build.mutation<ClassMatches, { classId: string; sourcedId: string }>({
      query: ({ classId, sourcedId }) => ({ url: `${at(classId)}/link`, method: 'PUT', body: { sourcedId } }),
      invalidatesTags: (_r, error) => (error ? [] : ['School']),
    }),
    schoolMatches: build.query<ClassMatches, string>({
      query: id => `${at(id)}/matches`,
      providesTags: ['School'],
    }),
    keepMatches: build.mutation<ClassAtSchool, SaveSchoolMatches & { classId: string }>({
      query: ({ classId, matches }) => ({ url: `${at(classId)}/matches`, method: 'PUT', body: { matches } }),
      invalidatesTags: (_r, error) => (error ? [] : ['School']),
    }),
    handOverDifference: build.query<HandOverDifference, string>({ query: id => `${at(id)}/difference` }),
    handOver: build.mutation<HandingView, { classId: string; digest: string }>({
      query: ({ classId, digest }) => ({ url: `${at(classId)}/handings`, method: 'POST', body: { digest } }),
      invalidatesTags: ['School'],
    }),
    /** Cancels one that is under way, or goes on with one that stopped. */
    handingAct: build.mutation<HandingView, { classId: string; id: string; act: 'cancel' | 'again' }>({
      query: ({ classId, id, act }) => ({ url: `${at(classId)}/handings/${id}/${act}`, method: 'POST' }),
      invalidatesTags: ['School'],
    }),
  }),
});
