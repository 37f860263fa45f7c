import type { HandoverView } from '@ecoute/contract/handovers';
import type {
  HandIn,
  MyRecording,
  OthersView,
  Receipt,
  BeginSitting,
  BegunSitting,
  SittingView,
  TakeView,
  TodoEntry,
} from '@ecoute/contract/sittings';
import type { Judgement } from '@ecoute/contract/judgements';
import { api } from '../../base/api';
import { forgetOne } from '../../base/offline';

export const sitApi = api.injectEndpoints({
  endpoints: build => ({
    todo: build.query<TodoEntry[], void>({ query: () => 'api/todo', providesTags: ['Todo'] }),
    myRecordings: build.query<MyRecording[], void>({
      query: () => 'api/my-recordings',
      providesTags: ['Recordings'],
    }),
    others: build.query<OthersView, string>({
      query: id => `api/releases/${id}/others`,
      providesTags: ['Todo'],
    }),
    openOthers: build.mutation<OthersView, string>({
      query: id => ({ url: `api/releases/${id}/others`, method: 'POST' }),
      invalidatesTags: ['Todo', 'Sitting'],
    }),
    openSitting: build.mutation<SittingView, string>({
      query: id => ({ url: `api/sittings/${id}/open`, method: 'POST' }),
      invalidatesTags: (_r, error, id) => (error ? [] : [{ type: 'Sitting', id }]),
    }),
    /** Shows an item whose time is part of what is asked. */
    showItem: build.mutation<SittingView, { sittingId: string; itemId: string }>({
      query: ({ sittingId, itemId }) => ({
        url: `api/sittings/${sittingId}/items/${itemId}/show`,
        method: 'POST',
      }),
      // At once: its time begins when it is on the page.
      async onQueryStarted({ sittingId }, { dispatch, queryFulfilled }) {
        const shown = await queryFulfilled.catch(() => null);
        if (shown) dispatch(sitApi.util.updateQueryData('sitting', sittingId, () => shown.data));
      },
      // And asked for again, so that what this device remembers without a network has it as well.
      invalidatesTags: (_r, error, { sittingId }) => (error ? [] : [{ type: 'Sitting', id: sittingId }]),
    }),
    /** The same on a phone that has this item. */
    showOnPhone: build.mutation<unknown, void>({
      query: () => ({ url: 'api/phone/show', method: 'POST' }),
      invalidatesTags: (_r, error) => (error ? [] : ['Phone']),
    }),
    openModels: build.mutation<SittingView, string>({
      query: id => ({ url: `api/sittings/${id}/models`, method: 'POST' }),
      invalidatesTags: (_r, _e, id) => [{ type: 'Sitting', id }],
    }),
    endTake: build.mutation<SittingView, { sittingId: string; takeId: string }>({
      query: ({ takeId }) => ({ url: `api/takes/${takeId}/end`, method: 'POST' }),
      invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Sitting', id: sittingId }],
    }),
    beginSitting: build.mutation<BegunSitting, { releaseId: string; another: boolean } & BeginSitting>({
      query: ({ releaseId, another, ...body }) => ({
        url: `api/releases/${releaseId}/${another ? 'another-sitting' : 'sitting'}`,
        method: 'POST',
        body,
      }),
      invalidatesTags: ['Todo'],
    }),
    sitting: build.query<SittingView, string>({
      query: id => `api/sittings/${id}`,
      // What this device remembers of a sitting may be of an earlier Ecoute.
      transformResponse: (
        view: SittingView & Partial<Pick<SittingView, 'hidden' | 'openItemIds' | 'againFor' | 'notThere'>>,
      ) => ({
        ...view,
        hidden: view.hidden ?? [],
        openItemIds: view.openItemIds ?? null,
        againFor: view.againFor ?? null,
        notThere: view.notThere ?? [],
        takes: view.takes.map(take => ({ ...take, missingMs: take.missingMs ?? null })),
      }),
      providesTags: (_r, _e, id) => [{ type: 'Sitting', id }],
      keepUnusedDataFor: 0,
    }),
    chooseTake: build.mutation<SittingView, { sittingId: string; takeId: string }>({
      query: ({ takeId }) => ({ url: `api/takes/${takeId}/choice`, method: 'POST' }),
      invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Sitting', id: sittingId }],
    }),
    writeAnswer: build.mutation<
      { updatedAt: string; revision: number },
      { sittingId: string; itemId: string; text: string; revision: number }
    >({
      query: ({ sittingId, itemId, text, revision }) => ({
        url: `api/sittings/${sittingId}/items/${itemId}/text`,
        method: 'PUT',
        body: { text, revision },
      }),
      invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Sitting', id: sittingId }],
    }),
    judge: build.mutation<Judgement, { sittingId: string; itemId: string; judgement: Judgement }>({
      query: ({ sittingId, itemId, judgement }) => ({
        url: `api/sittings/${sittingId}/judgements/${itemId}`,
        method: 'PUT',
        body: judgement,
      }),
      invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Sitting', id: sittingId }],
    }),
    describeTake: build.mutation<
      TakeView,
      { sittingId: string; takeId: string; title: string; note: string }
    >({
      query: ({ takeId, title, note }) => ({
        url: `api/takes/${takeId}/words`,
        method: 'PUT',
        body: { title, note },
      }),
      invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Sitting', id: sittingId }, 'Recordings'],
    }),
    removePicture: build.mutation<TakeView, { sittingId: string; takeId: string }>({
      query: ({ takeId }) => ({ url: `api/takes/${takeId}/picture`, method: 'DELETE' }),
      invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Sitting', id: sittingId }, 'Recordings'],
    }),
    trimTake: build.mutation<
      TakeView,
      { sittingId: string; takeId: string; stretch: { fromMs: number; toMs: number } | null }
    >({
      query: ({ takeId, stretch }) => ({
        url: `api/takes/${takeId}/trim`,
        method: stretch ? 'PUT' : 'DELETE',
        ...(stretch && { body: stretch }),
      }),
      invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Sitting', id: sittingId }, 'Recordings'],
    }),
    offerItem: build.mutation<HandoverView, { sittingId: string; itemId: string }>({
      query: ({ sittingId, itemId }) => ({
        url: `api/sittings/${sittingId}/items/${itemId}/handover`,
        method: 'POST',
      }),
    }),
    /** Brings the phone that records for a sitting to an item; null sends it away. */
    bringPhone: build.mutation<null, { sittingId: string; itemId: string | null }>({
      query: ({ sittingId, itemId }) => ({
        url: `api/sittings/${sittingId}/phone`,
        method: itemId ? 'PUT' : 'DELETE',
        ...(itemId && { body: { itemId } }),
      }),
      invalidatesTags: (_r, error, { sittingId }) => (error ? [] : [{ type: 'Sitting', id: sittingId }]),
    }),
    withdraw: build.mutation<SittingView, string>({
      query: id => ({ url: `api/sittings/${id}/withdraw`, method: 'POST' }),
      invalidatesTags: (_r, _e, id) => [{ type: 'Sitting', id }, 'Todo', 'Recordings'],
    }),
    handIn: build.mutation<Receipt, HandIn & { sittingId: string }>({
      query: ({ sittingId, ...body }) => ({
        url: `api/sittings/${sittingId}/hand-in`,
        method: 'POST',
        body,
      }),
      // The receipt is shown as it came: asking for the sitting again may fail just now, on a line that is barely back.
      async onQueryStarted({ sittingId }, { dispatch, queryFulfilled }) {
        const done = await queryFulfilled.catch(() => null);
        if (!done) return;
        forgetOne(`/api/sittings/${sittingId}`);
        dispatch(
          sitApi.util.updateQueryData('sitting', sittingId, view => {
            view.receipt = done.data;
          }),
        );
      },
      invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Sitting', id: sittingId }, 'Todo', 'Recordings'],
    }),
  }),
});

export const {
  useBringPhoneMutation,
  useTodoQuery,
  useMyRecordingsQuery,
  useOthersQuery,
  useSittingQuery,
  useBeginSittingMutation,
  useChooseTakeMutation,
  useHandInMutation,
  useDescribeTakeMutation,
  useEndTakeMutation,
  useOpenModelsMutation,
  useOpenOthersMutation,
  useOpenSittingMutation,
  useShowItemMutation,
  useShowOnPhoneMutation,
  useJudgeMutation,
  useOfferItemMutation,
  useRemovePictureMutation,
  useTrimTakeMutation,
  useWithdrawMutation,
  useWriteAnswerMutation,
} = sitApi;
