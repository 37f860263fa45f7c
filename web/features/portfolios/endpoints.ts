import type {
  NewPortfolioAddress,
  NewPortfolioFile,
  OwnPortfolios,
  PortfolioContent,
  PortfolioView,
  SavePortfolio,
  ShownPortfolio,
  StudentPortfolios,
  SuggestForPortfolio,
} from '@ecoute/contract/portfolios';
import { api } from '../../base/api';

const one = (_r: unknown, error: unknown) => (error ? [] : (['Portfolios'] as const));

export const {
  useOwnPortfoliosQuery,
  usePortfolioQuery,
  useLazyPortfolioQuery,
  useMakePortfolioMutation,
  useSavePortfolioMutation,
  useRemovePortfolioMutation,
  useRestorePortfolioMutation,
  useBringIntoPortfolioMutation,
  useShowPortfolioMutation,
  useMakeAddressMutation,
  useRevokeAddressMutation,
  useDeclineSuggestionMutation,
  useStudentPortfoliosQuery,
  useShownPortfolioQuery,
  useSuggestMutation,
  useTakeBackSuggestionMutation,
} = api.injectEndpoints({
  endpoints: build => ({
    ownPortfolios: build.query<OwnPortfolios, void>({
      query: () => 'api/portfolios',
      providesTags: ['Portfolios'],
    }),
    portfolio: build.query<PortfolioView, string>({
      query: id => `api/portfolios/${id}`,
      providesTags: ['Portfolios'],
    }),
    makePortfolio: build.mutation<PortfolioView, PortfolioContent>({
      query: body => ({ url: 'api/portfolios', method: 'POST', body }),
      invalidatesTags: one,
    }),
    savePortfolio: build.mutation<PortfolioView, SavePortfolio & { id: string }>({
      query: ({ id, ...body }) => ({ url: `api/portfolios/${id}`, method: 'PUT', body }),
      invalidatesTags: one,
    }),
    removePortfolio: build.mutation<OwnPortfolios, string>({
      query: id => ({ url: `api/portfolios/${id}`, method: 'DELETE' }),
      invalidatesTags: one,
    }),
    restorePortfolio: build.mutation<OwnPortfolios, string>({
      query: id => ({ url: `api/portfolios/${id}/restored`, method: 'POST' }),
      invalidatesTags: one,
    }),
    bringIntoPortfolio: build.mutation<void, NewPortfolioFile & { id: string }>({
      query: ({ id, ...body }) => ({ url: `api/portfolios/${id}/files`, method: 'POST', body }),
    }),
    showPortfolio: build.mutation<PortfolioView, { id: string; teacherIds: string[] }>({
      query: ({ id, teacherIds }) => ({
        url: `api/portfolios/${id}/readers`,
        method: 'PUT',
        body: { teacherIds },
      }),
      invalidatesTags: one,
    }),
    makeAddress: build.mutation<PortfolioView, NewPortfolioAddress & { id: string }>({
      query: ({ id, ...body }) => ({ url: `api/portfolios/${id}/addresses`, method: 'POST', body }),
      invalidatesTags: one,
    }),
    revokeAddress: build.mutation<PortfolioView, { id: string; addressId: string }>({
      query: ({ id, addressId }) => ({
        url: `api/portfolios/${id}/addresses/${addressId}`,
        method: 'DELETE',
      }),
      invalidatesTags: one,
    }),
    declineSuggestion: build.mutation<OwnPortfolios, string>({
      query: takeId => ({ url: `api/takes/${takeId}/suggestion/declined`, method: 'POST' }),
      invalidatesTags: one,
    }),
    studentPortfolios: build.query<StudentPortfolios, { classId: string; studentId: string }>({
      query: ({ classId, studentId }) => `api/classes/${classId}/students/${studentId}/portfolios`,
      providesTags: ['Portfolios'],
    }),
    shownPortfolio: build.query<ShownPortfolio, string>({
      query: id => `api/portfolios/${id}/shown`,
      providesTags: ['Portfolios'],
    }),
    suggest: build.mutation<void, SuggestForPortfolio & { sittingId: string }>({
      query: ({ sittingId, ...body }) => ({
        url: `api/sittings/${sittingId}/suggestions`,
        method: 'POST',
        body,
      }),
      invalidatesTags: one,
    }),
    takeBackSuggestion: build.mutation<void, string>({
      query: takeId => ({ url: `api/takes/${takeId}/suggestion`, method: 'DELETE' }),
      invalidatesTags: one,
    }),
  }),
});
