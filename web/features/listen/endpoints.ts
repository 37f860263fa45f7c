import type { ListenView, Mark, ReturnResult, SaveMark } from '@ecoute/contract/marking';
import type { SittingAccount } from '@ecoute/contract/sittings';
import { api } from '../../app/api';

export interface MarkChange extends SaveMark {
  releaseId: string;
  sittingId: string;
  itemId: string;
}

const listenApi = api.injectEndpoints({
  endpoints: build => ({
    lanes: build.query<ListenView, string>({
      query: id => `api/releases/${id}/lanes`,
      providesTags: (_r, _e, id) => [{ type: 'Lanes', id }],
    }),
    accountOf: build.query<SittingAccount, string>({
      query: id => `api/sittings/${id}/account`,
      keepUnusedDataFor: 0,
    }),
    saveMark: build.mutation<Mark, MarkChange>({
      query: ({ releaseId: _, sittingId, itemId, ...body }) => ({
        url: `api/sittings/${sittingId}/marks/${itemId}`,
        method: 'PUT',
        body,
      }),
      // The lane takes the stored mark as it came back: nothing is fetched again while somebody listens.
      async onQueryStarted({ releaseId, sittingId, itemId }, { dispatch, queryFulfilled }) {
        const { data } = await queryFulfilled.catch(() => ({ data: null }));
        if (!data) return;
        dispatch(
          listenApi.util.updateQueryData('lanes', releaseId, view => {
            const lane = view.lanes.find(l => l.sittingId === sittingId && l.itemId === itemId);
            if (lane) lane.mark = data;
          }),
        );
      },
      invalidatesTags: ['Release'],
    }),
    giveLevel: build.mutation<
      { level: number | null },
      { releaseId: string; sittingId: string; level: number | null }
    >({
      query: ({ sittingId, level }) => ({
        url: `api/sittings/${sittingId}/level`,
        method: 'PUT',
        body: { level },
      }),
      async onQueryStarted({ releaseId, sittingId }, { dispatch, queryFulfilled }) {
        const { data } = await queryFulfilled.catch(() => ({ data: null }));
        if (!data) return;
        dispatch(
          listenApi.util.updateQueryData('lanes', releaseId, view => {
            for (const lane of view.lanes) if (lane.sittingId === sittingId) lane.level = data.level;
          }),
        );
      },
    }),
    returnSittings: build.mutation<ReturnResult, { releaseId: string; sittingIds: string[] }>({
      query: ({ releaseId, sittingIds }) => ({
        url: `api/releases/${releaseId}/returns`,
        method: 'POST',
        body: { sittingIds },
      }),
      invalidatesTags: (_r, _e, { releaseId }) => [{ type: 'Lanes', id: releaseId }, 'Release'],
    }),
  }),
});

export const {
  useAccountOfQuery,
  useLanesQuery,
  useSaveMarkMutation,
  useGiveLevelMutation,
  useReturnSittingsMutation,
} = listenApi;
