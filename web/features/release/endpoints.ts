import type {
  CalendarView,
  ChangeSeries,
  HolidayView,
  MoveReleases,
  NewException,
  NewHoliday,
  NewRelease,
  NewSeries,
  Reach,
  ReleaseDetail,
  ReleaseEntry,
  ReleaseSummary,
  ReleaseTerms,
  SeriesChanged,
} from '@ecoute/contract/releases';
import { api } from '../../base/api';

const ALL = ['Release', 'Calendar', 'Assessment'] as const;

export const {
  useReleasesQuery,
  useReleasesBeforeQuery,
  useReleaseQuery,
  useMakeReleaseMutation,
  useMakeSeriesMutation,
  useChangeReleaseMutation,
  useMoveReleasesMutation,
  useTakeBackMutation,
  useChangeSeriesMutation,
  useTakeBackSeriesMutation,
  useFollowAssessmentMutation,
  useCloseReleaseMutation,
  useGrantMutation,
  useCalendarQuery,
  useHolidaysQuery,
  useAddHolidayMutation,
  useRemoveHolidayMutation,
} = api.injectEndpoints({
  endpoints: build => ({
    releases: build.query<ReleaseSummary[], void>({ query: () => 'api/releases', providesTags: ['Release'] }),
    releasesBefore: build.query<ReleaseSummary[], string>({
      query: id => `api/releases/${id}/before`,
      providesTags: ['Release'],
    }),
    release: build.query<ReleaseDetail, string>({
      query: id => `api/releases/${id}`,
      providesTags: (_r, _e, id) => [{ type: 'Release', id }],
    }),
    makeRelease: build.mutation<ReleaseDetail, NewRelease>({
      query: body => ({ url: 'api/releases', method: 'POST', body }),
      invalidatesTags: [...ALL],
    }),
    makeSeries: build.mutation<ReleaseEntry[], NewSeries>({
      query: body => ({ url: 'api/release-series', method: 'POST', body }),
      invalidatesTags: [...ALL],
    }),
    changeRelease: build.mutation<ReleaseDetail, { id: string } & ReleaseTerms>({
      query: ({ id, ...body }) => ({ url: `api/releases/${id}`, method: 'PUT', body }),
      invalidatesTags: (_r, _e, { id }) => [...ALL, { type: 'Release', id }],
    }),
    moveReleases: build.mutation<ReleaseEntry[], MoveReleases>({
      query: body => ({ url: 'api/release-moves', method: 'POST', body }),
      invalidatesTags: [...ALL],
    }),
    changeSeries: build.mutation<SeriesChanged, { id: string } & ChangeSeries>({
      query: ({ id, ...body }) => ({ url: `api/releases/${id}/series`, method: 'PUT', body }),
      invalidatesTags: (_r, _e, { id }) => [...ALL, { type: 'Release', id }],
    }),
    takeBackSeries: build.mutation<{ taken: number; stayed: number }, { id: string; reach: Reach }>({
      query: ({ id, reach }) => ({ url: `api/releases/${id}/series?reach=${reach}`, method: 'DELETE' }),
      invalidatesTags: [...ALL],
    }),
    followAssessment: build.mutation<ReleaseDetail, { id: string; follows: boolean }>({
      query: ({ id, follows }) => ({ url: `api/releases/${id}/follows`, method: 'PUT', body: { follows } }),
      invalidatesTags: (_r, _e, { id }) => [...ALL, { type: 'Release', id }],
    }),
    closeRelease: build.mutation<ReleaseDetail, string>({
      query: id => ({ url: `api/releases/${id}/closing`, method: 'POST' }),
      invalidatesTags: (_r, _e, id) => [...ALL, { type: 'Release', id }],
    }),
    takeBack: build.mutation<void, string>({
      query: id => ({ url: `api/releases/${id}`, method: 'DELETE' }),
      invalidatesTags: [...ALL],
    }),
    grant: build.mutation<ReleaseDetail, { releaseId: string; personId: string } & NewException>({
      query: ({ releaseId, personId, ...body }) => ({
        url: `api/releases/${releaseId}/exceptions/${personId}`,
        method: 'PUT',
        body,
      }),
      invalidatesTags: (_r, _e, { releaseId }) => [
        'Release',
        { type: 'Release', id: releaseId },
        { type: 'Lanes', id: releaseId },
      ],
    }),
    calendar: build.query<CalendarView, { from: string; to: string }>({
      query: ({ from, to }) => `api/calendar?from=${from}&to=${to}`,
      providesTags: ['Calendar'],
    }),
    holidays: build.query<HolidayView[], void>({
      query: () => 'api/holidays',
      providesTags: ['Calendar'],
    }),
    addHoliday: build.mutation<HolidayView[], NewHoliday>({
      query: body => ({ url: 'api/holidays', method: 'POST', body }),
      invalidatesTags: ['Calendar'],
    }),
    removeHoliday: build.mutation<HolidayView[], string>({
      query: id => ({ url: `api/holidays/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Calendar'],
    }),
  }),
});
