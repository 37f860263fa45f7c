import { whole, type BriefView } from '@ecoute/contract/briefLanes';
import type { Ask, NewReply, Reply, SaveAsk } from '@ecoute/contract/replies';
import type { Decision, NewDecision } from '@ecoute/contract/decisions';
import type {
  Beside,
  Listener,
  ListenTo,
  ListenView,
  Mark,
  MarkHistory,
  OverallLevel,
  CalledOff,
  FeedbackResult,
  GiveFeedback,
  SaveLevel,
  SaveMark,
  GivePraise,
} from '@ecoute/contract/marking';
import type { Markup, SaveMarkup } from '@ecoute/contract/markups';
import type { Note, SaveNote } from '@ecoute/contract/notes';
import type { SittingAccount } from '@ecoute/contract/sittings';
import { original, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';
import { api, type Refusal } from '../../base/api';

export interface MarkChange extends SaveMark {
  releaseId: string;
  sittingId: string;
  itemId: string;
}

// The slice does not know the whole state, as little as the library's own thunks do.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
type LanesThunk = ThunkAction<Promise<void>, any, any, UnknownAction>;

/** Which note, and where its lane is. */
export interface NotePlace {
  releaseId: string;
  sittingId: string;
  itemId: string;
  takeId: string;
  noteId: string;
}

export const listenApi = api.injectEndpoints({
  endpoints: build => ({
    lanes: build.query<ListenView, string>({
      // As it stands in the page's head, where a browser asks for it first. Whoever was nobody then, or somebody else, is not told
      // what that was answered with.
      async queryFn(id, _api, _extra, ask) {
        const asked = () => ask(`api/releases/${id}/lanes?packed`);
        const first = await asked();
        const { data, error } = first.error && first.error.status !== 0 ? await asked() : first;
        return error ? { error } : { data: whole(data as BriefView) };
      },
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
        let isOwn = true;
        const data = await queryFulfilled
          .then(done => done.data)
          // Somebody else’s holds: it is shown, so that the next try follows it.
          .catch(({ error }: { error?: Refusal }) => {
            isOwn = false;
            return error?.code === 'stale' ? ((error.current as Mark | null) ?? null) : null;
          });
        if (!data) return;
        await dispatch(
          changeLanes(releaseId, view => {
            const lane = laneIn(view, { sittingId, itemId });
            // One that was asked for later may know more.
            if (!lane || (lane.mark?.revision ?? 0) > data.revision) return;
            lane.mark = data;
            // Whoever scores now has the new recording on the lane. When another's was given, the server knows.
            if (isOwn && lane.again) lane.again.isOfFirst = false;
          }),
        );
      },
      invalidatesTags: (_r, _e, { sittingId }) => ['Release', { type: 'Scores', id: sittingId }],
    }),
    saveNote: build.mutation<Note, NotePlace & { note: SaveNote }>({
      query: ({ takeId, noteId, note: { fromMs, toMs, words, revision, commentId = null } }) => ({
        url: `api/takes/${takeId}/notes/${noteId}`,
        method: 'PUT',
        body: { fromMs, toMs, words, revision, commentId },
      }),
      async onQueryStarted(at, { dispatch, queryFulfilled }) {
        const { data } = await queryFulfilled.catch(() => ({ data: null }));
        if (!data) return;
        await dispatch(
          changeLanes(at.releaseId, view =>
            changeNotes(view, at, notes =>
              [...notes.filter(n => n.id !== data.id), data].sort((a, b) => a.fromMs - b.fromMs),
            ),
          ),
        );
      },
    }),
    removeNote: build.mutation<null, NotePlace & { revision: number }>({
      query: ({ takeId, noteId, revision }) => ({
        url: `api/takes/${takeId}/notes/${noteId}/removal`,
        method: 'POST',
        body: { revision },
      }),
      async onQueryStarted(at, { dispatch, queryFulfilled }) {
        const done = await queryFulfilled.then(
          () => true,
          () => false,
        );
        if (done)
          await dispatch(
            changeLanes(at.releaseId, view =>
              changeNotes(view, at, notes => notes.filter(n => n.id !== at.noteId)),
            ),
          );
      },
    }),
    giveLevel: build.mutation<OverallLevel, SaveLevel & { releaseId: string; sittingId: string }>({
      query: ({ sittingId, releaseId: _, ...body }) => ({
        url: `api/sittings/${sittingId}/level`,
        method: 'PUT',
        body,
      }),
      invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Scores', id: sittingId }],
      async onQueryStarted({ releaseId, sittingId }, { dispatch, queryFulfilled }) {
        const { data } = await queryFulfilled.catch(() => ({ data: null }));
        if (!data) return;
        await dispatch(
          changeLanes(releaseId, view => {
            for (const lane of view.lanes)
              if (lane.sittingId === sittingId) {
                lane.level = data.level;
                lane.levelRevision = data.revision;
              }
          }),
        );
      },
    }),
    scores: build.query<MarkHistory, string>({
      query: id => `api/sittings/${id}/scores`,
      providesTags: (_r, _e, id) => [{ type: 'Scores', id }],
      keepUnusedDataFor: 0,
    }),
    beside: build.query<Beside[], { sittingId: string; itemId: string }>({
      query: ({ sittingId, itemId }) => `api/sittings/${sittingId}/items/${itemId}/beside`,
      keepUnusedDataFor: 300,
    }),
    decisions: build.query<Decision[], string>({
      query: id => `api/releases/${id}/decisions`,
      providesTags: (_r, _e, id) => [{ type: 'Decisions', id }],
    }),
    decide: build.mutation<Decision[], NewDecision & { releaseId: string }>({
      query: ({ releaseId, ...body }) => ({
        url: `api/releases/${releaseId}/decisions`,
        method: 'POST',
        body,
      }),
      invalidatesTags: (_r, _e, { releaseId: id }) => decided(id),
    }),
    undoDecision: build.mutation<Decision[], { releaseId: string; id: string }>({
      query: ({ releaseId, id }) => ({
        url: `api/releases/${releaseId}/decisions/${id}/undo`,
        method: 'POST',
      }),
      invalidatesTags: (_r, _e, { releaseId: id }) => decided(id),
    }),
    /** Scores those who answered as one apart, or alike again. */
    scoreApart: build.mutation<null, { jointId: string; apart: boolean }>({
      query: ({ jointId, apart }) => ({
        url: `api/together/${jointId}/apart`,
        method: 'PUT',
        body: { apart },
      }),
      invalidatesTags: (_r, error) => (error ? [] : ['Lanes', 'Release']),
    }),
    hideNames: build.mutation<null, { releaseId: string; hidden: boolean }>({
      query: ({ releaseId, hidden }) => ({
        url: `api/releases/${releaseId}/names`,
        method: 'PUT',
        body: { hidden },
      }),
      invalidatesTags: (_r, _e, { releaseId: id }) => decided(id),
    }),
    listeners: build.query<Listener[], ListenTo & { releaseId: string }>({
      query: ({ releaseId, ...body }) => ({
        url: `api/releases/${releaseId}/listeners`,
        method: 'POST',
        body,
      }),
      providesTags: (_r, _e, { releaseId: id }) => [{ type: 'Listeners', id }],
      keepUnusedDataFor: 0,
    }),
    saveAsk: build.mutation<Ask[], SaveAsk & { releaseId: string; sittingId: string }>({
      query: ({ releaseId: _, sittingId, ...body }) => ({
        url: `api/sittings/${sittingId}/ask`,
        method: 'PUT',
        body,
      }),
      invalidatesTags: (_r, _e, { releaseId: id }) => [{ type: 'Lanes', id }, 'Release'],
    }),
    praise: build.mutation<string[], GivePraise & { releaseId: string; sittingId: string; itemId: string }>({
      query: ({ releaseId: _, sittingId, itemId, ...body }) => ({
        url: `api/sittings/${sittingId}/items/${itemId}/praise`,
        method: 'PUT',
        body,
      }),
      async onQueryStarted({ releaseId, sittingId, itemId }, { dispatch, queryFulfilled }) {
        const done = await queryFulfilled.catch(() => null);
        if (!done) return;
        await dispatch(
          changeLanes(releaseId, view => {
            const lane = laneIn(view, { sittingId, itemId });
            if (lane) lane.praise = done.data;
          }),
        );
      },
    }),
    markups: build.query<Markup[], { sittingId: string; itemId: string }>({
      query: ({ sittingId, itemId }) => `api/sittings/${sittingId}/items/${itemId}/markups`,
    }),
    saveMarkup: build.mutation<Markup, SaveMarkup & { sittingId: string; itemId: string; targetId: string }>({
      query: ({ sittingId, itemId, targetId, ...body }) => ({
        url: `api/sittings/${sittingId}/items/${itemId}/markups/${targetId}`,
        method: 'PUT',
        body,
      }),
      async onQueryStarted({ sittingId, itemId }, { dispatch, queryFulfilled, getState }) {
        const done = await queryFulfilled.catch(() => null);
        if (!done) return;
        dispatch(
          listenApi.util.updateQueryData('markups', { sittingId, itemId }, all => [
            ...all.filter(m => m.targetId !== done.data.targetId || m.kind !== done.data.kind),
            done.data,
          ]),
        );
        // Rows say that something is marked; nothing is fetched for it.
        const { kind } = done.data;
        const all = listenApi.endpoints.markups.select({ sittingId, itemId })(getState()).data ?? [done.data];
        const isMarked = all.some(m => m.kind === kind && (m.record ?? m.drawing) !== null);
        for (const id of listenApi.util.selectCachedArgsForQuery(getState(), 'lanes'))
          dispatch(
            listenApi.util.updateQueryData('lanes', id, view => {
              const lane = view.lanes.find(l => l.sittingId === sittingId && l.itemId === itemId);
              if (!lane) return;
              lane.marked = lane.marked.filter(k => k !== kind);
              if (isMarked) lane.marked.push(kind);
            }),
          );
      },
    }),
    goOn: build.mutation<Reply[], NewReply & { releaseId: string; sittingId: string }>({
      query: ({ releaseId: _, sittingId, ...body }) => ({
        url: `api/sittings/${sittingId}/exchange`,
        method: 'POST',
        body,
      }),
      invalidatesTags: (_r, _e, { releaseId: id }) => [{ type: 'Lanes', id }],
    }),
    /** What the student said last needs no answer more. */
    settleReplies: build.mutation<Reply[], { releaseId: string; sittingId: string; itemId: string }>({
      query: ({ sittingId, itemId }) => ({
        url: `api/sittings/${sittingId}/items/${itemId}/settled`,
        method: 'POST',
      }),
      invalidatesTags: (_r, _e, { releaseId: id }) => [{ type: 'Lanes', id }, 'Release'],
    }),
    callOffFeedback: build.mutation<CalledOff, { releaseId: string; sittingIds: string[] }>({
      query: ({ releaseId, sittingIds }) => ({
        url: `api/releases/${releaseId}/feedback/calling-off`,
        method: 'POST',
        body: { sittingIds },
      }),
      invalidatesTags: (_r, _e, { releaseId: id }) => decided(id),
    }),
    giveFeedback: build.mutation<FeedbackResult, GiveFeedback & { releaseId: string }>({
      query: ({ releaseId, ...body }) => ({
        url: `api/releases/${releaseId}/feedback`,
        method: 'POST',
        body,
      }),
      invalidatesTags: (_r, _e, { releaseId }) => [{ type: 'Lanes', id: releaseId }, 'Release'],
    }),
  }),
});

/** What is shown anew once something was decided about a sitting. */
function decided(id: string) {
  return [{ type: 'Lanes' as const, id }, { type: 'Decisions' as const, id }, 'Release' as const];
}

/**
 * The lanes take what was stored as it came back. An answer that was asked for before does not know of it yet: once it
 * is there, it is told as well.
 */
function changeLanes(releaseId: string, change: (view: ListenView) => void): LanesThunk {
  return async dispatch => {
    dispatch(listenApi.util.updateQueryData('lanes', releaseId, change));
    const asked = dispatch(listenApi.util.getRunningQueryThunk('lanes', releaseId));
    if (!asked) return;
    await asked;
    dispatch(listenApi.util.updateQueryData('lanes', releaseId, change));
  };
}

/** A lane that may be changed. Looked for in what is stored: a draft of each of thousands would be made only to be read. */
function laneIn(view: ListenView, { sittingId, itemId }: { sittingId: string; itemId: string }) {
  const { lanes } = original(view) ?? view;
  const at = lanes.findIndex(l => l.sittingId === sittingId && l.itemId === itemId);
  return at < 0 ? undefined : view.lanes[at];
}

function changeNotes(view: ListenView, at: NotePlace, change: (notes: Note[]) => Note[]): void {
  const lane = laneIn(view, at);
  if (lane && lane.takeId === at.takeId) lane.notes = change(lane.notes);
}

export const {
  useAccountOfQuery,
  useScoresQuery,
  useBesideQuery,
  useDecisionsQuery,
  useDecideMutation,
  useUndoDecisionMutation,
  useHideNamesMutation,
  useScoreApartMutation,
  useListenersQuery,
  useSaveAskMutation,
  useGoOnMutation,
  useSettleRepliesMutation,
  useMarkupsQuery,
  useSaveMarkupMutation,
  usePraiseMutation,
  useCallOffFeedbackMutation,
  useLanesQuery,
  useSaveMarkMutation,
  useGiveLevelMutation,
  useSaveNoteMutation,
  useRemoveNoteMutation,
  useGiveFeedbackMutation,
} = listenApi;
