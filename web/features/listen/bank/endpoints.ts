import type {
  BankImport,
  BankLately,
  ChangeTopic,
  KeepInBank,
  KeptInBank,
  NewTopic,
  ReadInBank,
  SaveBankComment,
  Topic,
} from '@ecoute/contract/commentBank';
import { api } from '../../../base/api';

/** Every change answers with the whole bank: it is small, and what is shown is what is stored. */
const bankApi = api.injectEndpoints({
  endpoints: build => {
    const changes = <Arg>(query: (arg: Arg) => { url: string; method: string; body?: object }) =>
      build.mutation<Topic[], Arg>({
        query,
        async onQueryStarted(_arg, { dispatch, queryFulfilled }) {
          const done = await queryFulfilled.catch(() => null);
          if (done) dispatch(bankApi.util.upsertQueryData('bank', undefined, done.data));
        },
        invalidatesTags: ['BankLately'],
      });
    return {
      bank: build.query<Topic[], void>({ query: () => 'api/comment-bank', keepUnusedDataFor: 600 }),
      makeTopics: changes<NewTopic[]>(topics => ({
        url: 'api/comment-bank/topics',
        method: 'POST',
        body: { topics },
      })),
      changeTopic: changes<ChangeTopic & { id: string }>(({ id, ...body }) => ({
        url: `api/comment-bank/topics/${id}`,
        method: 'PUT',
        body,
      })),
      orderTopics: changes<string[]>(topicIds => ({
        url: 'api/comment-bank/order',
        method: 'PUT',
        body: { topicIds },
      })),
      removeTopic: changes<string>(id => ({ url: `api/comment-bank/topics/${id}`, method: 'DELETE' })),
      putTopicBack: changes<string>(id => ({
        url: `api/comment-bank/topics/${id}/putting-back`,
        method: 'POST',
      })),
      saveBankComment: changes<SaveBankComment & { topicId: string; id: string }>(
        ({ topicId, id, ...body }) => ({
          url: `api/comment-bank/topics/${topicId}/comments/${id}`,
          method: 'PUT',
          body,
        }),
      ),
      removeBankComment: changes<{ topicId: string; id: string }>(({ topicId, id }) => ({
        url: `api/comment-bank/topics/${topicId}/comments/${id}`,
        method: 'DELETE',
      })),
      putBankCommentBack: changes<{ topicId: string; id: string }>(({ topicId, id }) => ({
        url: `api/comment-bank/topics/${topicId}/comments/${id}/putting-back`,
        method: 'POST',
      })),
      undoBankImport: changes<string>(id => ({ url: `api/comment-bank/imports/${id}`, method: 'DELETE' })),
      bankLately: build.query<BankLately, void>({
        query: () => 'api/comment-bank/lately',
        providesTags: ['BankLately'],
      }),
      /** What a file would do, or its reading in. */
      readInBank: build.mutation<BankImport, ReadInBank>({
        query: body => ({ url: 'api/comment-bank/imports', method: 'POST', body }),
        async onQueryStarted({ trial }, { dispatch, queryFulfilled }) {
          const done = await queryFulfilled.catch(() => null);
          if (done && !trial)
            void dispatch(bankApi.endpoints.bank.initiate(undefined, { forceRefetch: true }));
        },
        invalidatesTags: (_r, error, { trial }) => (error || trial ? [] : ['BankLately']),
      }),
      keepInBank: build.mutation<KeptInBank, KeepInBank>({
        query: body => ({ url: 'api/comment-bank/kept', method: 'POST', body }),
        async onQueryStarted(_arg, { dispatch, queryFulfilled }) {
          const done = await queryFulfilled.catch(() => null);
          if (done) dispatch(bankApi.util.upsertQueryData('bank', undefined, done.data.topics));
        },
        invalidatesTags: ['BankLately'],
      }),
      commentUsed: build.mutation<null, string>({
        query: id => ({ url: `api/comment-bank/comments/${id}/use`, method: 'POST' }),
        onQueryStarted(id, { dispatch }) {
          dispatch(
            bankApi.util.updateQueryData('bank', undefined, topics => {
              for (const topic of topics) for (const c of topic.comments) if (c.id === id) c.used += 1;
            }),
          );
        },
      }),
    };
  },
});

export const {
  useBankQuery,
  useMakeTopicsMutation,
  useChangeTopicMutation,
  useOrderTopicsMutation,
  useRemoveTopicMutation,
  usePutTopicBackMutation,
  useSaveBankCommentMutation,
  useRemoveBankCommentMutation,
  usePutBankCommentBackMutation,
  useUndoBankImportMutation,
  useBankLatelyQuery,
  useReadInBankMutation,
  useKeepInBankMutation,
  useCommentUsedMutation,
} = bankApi;
