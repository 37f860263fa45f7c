import type { SittingView } from '@ecoute/contract/sittings';
import type { BeginTurns, Companion, GiveTurn, TurnsView } from '@ecoute/contract/together';
import { api } from '../../../base/api';

export const togetherApi = api.injectEndpoints({
  endpoints: build => ({
    /** Whom an item can be answered with. */
    companions: build.query<Companion[], string>({
      query: sittingId => `api/sittings/${sittingId}/companions`,
      providesTags: ['Turns'],
    }),
    /** Who else is heard in a recording, said after it was made. */
    setCompanions: build.mutation<SittingView, { sittingId: string; takeId: string; personIds: string[] }>({
      query: ({ takeId, personIds }) => ({
        url: `api/takes/${takeId}/companions`,
        method: 'PUT',
        body: { personIds },
      }),
      invalidatesTags: (_r, error, { sittingId }) => (error ? [] : [{ type: 'Sitting', id: sittingId }]),
    }),
    turns: build.query<TurnsView[], string>({
      query: sittingId => `api/sittings/${sittingId}/turns`,
      providesTags: ['Turns'],
    }),
    beginTurns: build.mutation<TurnsView[], { sittingId: string; wanted: BeginTurns }>({
      query: ({ sittingId, wanted }) => ({
        url: `api/sittings/${sittingId}/turns`,
        method: 'POST',
        body: wanted,
      }),
      invalidatesTags: (_r, error) => (error ? [] : ['Turns']),
    }),
    giveTurn: build.mutation<TurnsView, { jointId: string; turn: GiveTurn }>({
      query: ({ jointId, turn }) => ({ url: `api/together/${jointId}/turns`, method: 'POST', body: turn }),
      invalidatesTags: ['Turns'],
    }),
    endTurns: build.mutation<void, string>({
      query: jointId => ({ url: `api/together/${jointId}/ended`, method: 'POST' }),
      invalidatesTags: ['Turns', 'Sitting'],
    }),
    notThere: build.mutation<void, { jointId: string; isGone: boolean }>({
      query: ({ jointId, isGone }) => ({
        url: `api/together/${jointId}/me`,
        method: isGone ? 'DELETE' : 'POST',
      }),
      invalidatesTags: ['Sitting', 'Todo', 'Recordings'],
    }),
  }),
});

export const {
  useCompanionsQuery,
  useSetCompanionsMutation,
  useTurnsQuery,
  useBeginTurnsMutation,
  useGiveTurnMutation,
  useEndTurnsMutation,
  useNotThereMutation,
} = togetherApi;
