import type { ReturnedEntry, ReturnedView } from '@ecoute/contract/marking';
import type { NewReply, Reply } from '@ecoute/contract/replies';
import { api } from '../../base/api';

export const { useReturnedListQuery, useReturnedQuery, useReplyMutation, useHeardMutation } =
  api.injectEndpoints({
    endpoints: build => ({
      returnedList: build.query<ReturnedEntry[], void>({
        query: () => 'api/returned',
        providesTags: ['Returned'],
      }),
      returned: build.query<ReturnedView, string>({
        query: id => `api/sittings/${id}/returned`,
        providesTags: (_r, _e, id) => ['Returned', { type: 'Returned', id }],
      }),
      reply: build.mutation<Reply[], NewReply & { sittingId: string }>({
        query: ({ sittingId, ...body }) => ({
          url: `api/sittings/${sittingId}/replies`,
          method: 'POST',
          body,
        }),
        invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Returned', id: sittingId }, 'Todo', 'Returned'],
      }),
      heard: build.mutation<null, { sittingId: string; itemId: string }>({
        query: ({ sittingId, itemId }) => ({
          url: `api/sittings/${sittingId}/items/${itemId}/heard`,
          method: 'POST',
        }),
      }),
    }),
  });
