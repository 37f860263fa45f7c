import type { ReturnedEntry, ReturnedView } from '@ecoute/contract/marking';
import { api } from '../../app/api';

export const { useReturnedListQuery, useReturnedQuery } = api.injectEndpoints({
  endpoints: build => ({
    returnedList: build.query<ReturnedEntry[], void>({
      query: () => 'api/returned',
      providesTags: ['Returned'],
    }),
    returned: build.query<ReturnedView, string>({
      query: id => `api/sittings/${id}/returned`,
      providesTags: (_r, _e, id) => [{ type: 'Returned', id }],
    }),
  }),
});
