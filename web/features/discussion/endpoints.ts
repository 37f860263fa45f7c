import type { DiscussionView, Hide, LeadView, PutIn, ShareOut } from '@ecoute/contract/discussions';
import { api } from '../../base/api';

/** Those who take part and those who lead come through doors of their own. */
export type Door = 'discussion' | 'lead';

/** A contribution of a release, by the door that somebody came through. */
export interface At {
  door: Door;
  releaseId: string;
  id: string;
}

export const doorUrl = ({ door, releaseId }: Pick<At, 'door' | 'releaseId'>) =>
  `api/releases/${releaseId}/${door}`;
const urlOf = (at: At) => `${doorUrl(at)}/contributions/${at.id}`;
const told = (_r: unknown, error: unknown, { releaseId }: { releaseId: string }) =>
  error ? [] : [{ type: 'Discussion' as const, id: releaseId }, 'Todo' as const];

export const discussionApi = api.injectEndpoints({
  endpoints: build => ({
    discussion: build.query<DiscussionView, string>({
      query: releaseId => doorUrl({ door: 'discussion', releaseId }),
      providesTags: (_r, _e, id) => [{ type: 'Discussion', id }],
    }),
    lead: build.query<LeadView, string>({
      query: releaseId => doorUrl({ door: 'lead', releaseId }),
      providesTags: (_r, _e, id) => [{ type: 'Discussion', id }],
    }),
    putIn: build.mutation<DiscussionView | LeadView, At & { said: PutIn }>({
      query: ({ said, ...at }) => ({ url: urlOf(at), method: 'PUT', body: said }),
      invalidatesTags: told,
    }),
    takeContributionBack: build.mutation<DiscussionView | LeadView, At>({
      query: at => ({ url: urlOf(at), method: 'DELETE' }),
      invalidatesTags: told,
    }),
    bringBack: build.mutation<DiscussionView | LeadView, At>({
      query: at => ({ url: `${urlOf(at)}/back`, method: 'POST' }),
      invalidatesTags: told,
    }),
    contributionsHeard: build.mutation<void, Omit<At, 'id'> & { ids: string[] }>({
      query: ({ ids, ...at }) => ({ url: `${doorUrl(at)}/heard`, method: 'POST', body: { ids } }),
      invalidatesTags: (_r, error) => (error ? [] : ['Todo']),
      // Known here already: nothing of a long discussion is asked for again because somebody listens to it.
      async onQueryStarted({ door, releaseId, ids }, { dispatch, queryFulfilled }) {
        const mark = () =>
          dispatch(
            discussionApi.util.updateQueryData(door, releaseId, ({ contributions }) => {
              for (const c of contributions) if (ids.includes(c.id)) c.heard = true;
            }),
          );
        await queryFulfilled.then(mark, () => undefined);
      },
    }),
    letIn: build.mutation<LeadView, At>({
      query: at => ({ url: `${urlOf(at)}/let-in`, method: 'POST' }),
      invalidatesTags: told,
    }),
    hide: build.mutation<LeadView, At & Hide>({
      query: ({ reason, ...at }) => ({ url: `${urlOf(at)}/hidden`, method: 'PUT', body: { reason } }),
      invalidatesTags: told,
    }),
    showAgain: build.mutation<LeadView, At>({
      query: at => ({ url: `${urlOf(at)}/hidden`, method: 'DELETE' }),
      invalidatesTags: told,
    }),
    talkFeed: build.query<{ url: string | null }, string>({
      query: id => `api/releases/${id}/feed`,
      providesTags: (_r, _e, id) => [{ type: 'Feed', id: `talk ${id}` }],
    }),
    renewTalkFeed: build.mutation<{ url: string | null }, string>({
      query: id => ({ url: `api/releases/${id}/feed`, method: 'POST' }),
      invalidatesTags: (_r, _e, id) => [{ type: 'Feed', id: `talk ${id}` }],
    }),
    revokeTalkFeed: build.mutation<{ url: string | null }, string>({
      query: id => ({ url: `api/releases/${id}/feed`, method: 'DELETE' }),
      invalidatesTags: (_r, _e, id) => [{ type: 'Feed', id: `talk ${id}` }],
    }),
    shareOut: build.mutation<LeadView, { releaseId: string } & ShareOut>({
      query: ({ releaseId, ...body }) => ({
        url: `${doorUrl({ door: 'lead', releaseId })}/circles`,
        method: 'PUT',
        body,
      }),
      invalidatesTags: told,
    }),
  }),
});

export const {
  useDiscussionQuery,
  useLeadQuery,
  usePutInMutation,
  useTakeContributionBackMutation,
  useBringBackMutation,
  useContributionsHeardMutation,
  useLetInMutation,
  useHideMutation,
  useShowAgainMutation,
  useShareOutMutation,
  useTalkFeedQuery,
  useRenewTalkFeedMutation,
  useRevokeTalkFeedMutation,
} = discussionApi;
