import type {
  MessageToMe,
  NewSpokenMessage,
  SpokenMessage,
  SpokenMessageDetail,
} from '@ecoute/contract/spokenMessages';
import { api } from '../../base/api';

interface OfRecipient {
  id: string;
  recipientId: string;
}
const one = (id: string) => ({ type: 'Messages' as const, id });
const touched = (_r: unknown, error: unknown, { id }: { id: string }) =>
  error ? [] : (['Messages', one(id)] as const);

export const {
  useMessagesQuery,
  useMessageQuery,
  useTellMutation,
  useTakeMessageBackMutation,
  useEndAddressMutation,
  useRenewAddressMutation,
  useToldMeQuery,
  useMessageHeardMutation,
} = api.injectEndpoints({
  endpoints: build => ({
    /** What was said to a class. */
    messages: build.query<SpokenMessage[], string>({
      query: classId => `api/classes/${classId}/spoken-messages`,
      providesTags: ['Messages'],
    }),
    /** One of them, with everybody whom it went to. */
    message: build.query<SpokenMessageDetail, string>({
      query: id => `api/spoken-messages/${id}`,
      providesTags: (_r, _e, id) => [one(id)],
    }),
    tell: build.mutation<SpokenMessageDetail, { classId: string; wanted: NewSpokenMessage }>({
      query: ({ classId, wanted }) => ({
        url: `api/classes/${classId}/spoken-messages`,
        method: 'POST',
        body: wanted,
      }),
      invalidatesTags: (_r, error) => (error ? [] : ['Messages']),
    }),
    takeMessageBack: build.mutation<SpokenMessageDetail, { id: string; back: boolean }>({
      query: ({ id, back }) => ({
        url: `api/spoken-messages/${id}${back ? '' : '/restored'}`,
        method: back ? 'DELETE' : 'POST',
      }),
      invalidatesTags: touched,
    }),
    endAddress: build.mutation<SpokenMessageDetail, OfRecipient & { ended: boolean }>({
      query: ({ id, recipientId, ended }) => ({
        url: `api/spoken-messages/${id}/recipients/${recipientId}${ended ? '' : '/restored'}`,
        method: ended ? 'DELETE' : 'POST',
      }),
      invalidatesTags: touched,
    }),
    renewAddress: build.mutation<SpokenMessageDetail, OfRecipient>({
      query: ({ id, recipientId }) => ({
        url: `api/spoken-messages/${id}/recipients/${recipientId}/renewed`,
        method: 'POST',
      }),
      invalidatesTags: touched,
    }),
    /** What a student was told. */
    toldMe: build.query<MessageToMe[], void>({
      query: () => 'api/spoken-messages',
      providesTags: ['ToldMe'],
    }),
    messageHeard: build.mutation<void, string>({
      query: id => ({ url: `api/spoken-messages/${id}/heard`, method: 'POST' }),
      invalidatesTags: (_r, error) => (error ? [] : ['ToldMe']),
    }),
  }),
});
