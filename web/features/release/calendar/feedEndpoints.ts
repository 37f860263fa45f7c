import { api } from '../../../base/api';

interface FeedAddress {
  url: string | null;
}

export const { useFeedQuery, useRenewFeedMutation, useRevokeFeedMutation } = api.injectEndpoints({
  endpoints: build => ({
    feed: build.query<FeedAddress, void>({ query: () => 'api/calendar-feed', providesTags: ['Feed'] }),
    renewFeed: build.mutation<FeedAddress, void>({
      query: () => ({ url: 'api/calendar-feed', method: 'POST' }),
      invalidatesTags: ['Feed'],
    }),
    revokeFeed: build.mutation<FeedAddress, void>({
      query: () => ({ url: 'api/calendar-feed', method: 'DELETE' }),
      invalidatesTags: ['Feed'],
    }),
  }),
});
