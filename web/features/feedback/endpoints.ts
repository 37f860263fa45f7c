import type { FeedbackEntry, FeedbackView } from '@ecoute/contract/marking';
import type { NewReply, Reply } from '@ecoute/contract/replies';
import { api } from '../../base/api';

export const { useFeedbackListQuery, useFeedbackQuery, useReplyMutation, useHeardMutation } =
  api.injectEndpoints({
    endpoints: build => ({
      feedbackList: build.query<FeedbackEntry[], void>({
        query: () => 'api/feedback',
        providesTags: ['Feedback'],
      }),
      feedback: build.query<FeedbackView, string>({
        query: id => `api/sittings/${id}/feedback`,
        providesTags: (_r, _e, id) => ['Feedback', { type: 'Feedback', id }],
      }),
      reply: build.mutation<Reply[], NewReply & { sittingId: string }>({
        query: ({ sittingId, ...body }) => ({
          url: `api/sittings/${sittingId}/replies`,
          method: 'POST',
          body,
        }),
        invalidatesTags: (_r, _e, { sittingId }) => [{ type: 'Feedback', id: sittingId }, 'Todo', 'Feedback'],
      }),
      heard: build.mutation<null, { sittingId: string; itemId: string }>({
        query: ({ sittingId, itemId }) => ({
          url: `api/sittings/${sittingId}/items/${itemId}/heard`,
          method: 'POST',
        }),
      }),
    }),
  });
