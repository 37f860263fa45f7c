import { api } from '../../../base/api';

interface PodcastAddress {
  url: string | null;
}

export const { usePodcastQuery, useRenewPodcastMutation, useRevokePodcastMutation } = api.injectEndpoints({
  endpoints: build => ({
    podcast: build.query<PodcastAddress, void>({ query: () => 'api/podcast', providesTags: ['Feed'] }),
    renewPodcast: build.mutation<PodcastAddress, void>({
      query: () => ({ url: 'api/podcast', method: 'POST' }),
      invalidatesTags: ['Feed'],
    }),
    revokePodcast: build.mutation<PodcastAddress, void>({
      query: () => ({ url: 'api/podcast', method: 'DELETE' }),
      invalidatesTags: ['Feed'],
    }),
  }),
});
