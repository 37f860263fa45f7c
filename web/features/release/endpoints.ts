import type { NewRelease, ReleaseDetail, ReleaseSummary } from '@ecoute/contract/releases';
import { api } from '../../app/api';

export const { useReleasesQuery, useReleaseQuery, useMakeReleaseMutation } = api.injectEndpoints({
  endpoints: build => ({
    releases: build.query<ReleaseSummary[], void>({ query: () => 'api/releases', providesTags: ['Release'] }),
    release: build.query<ReleaseDetail, string>({
      query: id => `api/releases/${id}`,
      providesTags: (_r, _e, id) => [{ type: 'Release', id }],
    }),
    makeRelease: build.mutation<ReleaseDetail, NewRelease>({
      query: body => ({ url: 'api/releases', method: 'POST', body }),
      invalidatesTags: ['Release', 'Assessment'],
    }),
  }),
});
