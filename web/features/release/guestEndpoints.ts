import type { GuestView, LinkView, NewLink } from '@ecoute/contract/guests';
import type { ReminderResult } from '@ecoute/contract/releases';
import { api } from '../../base/api';

/** What is done about guests, and about those who are missing. */
export const {
  useLinksQuery,
  useMakeLinkMutation,
  useCloseLinkMutation,
  useGuestsQuery,
  useMergeGuestMutation,
  useApartMutation,
  useRemindMutation,
} = api.injectEndpoints({
  endpoints: build => ({
    links: build.query<LinkView[], string>({
      query: id => `api/releases/${id}/links`,
      providesTags: (_r, _e, id) => [{ type: 'Release', id }],
    }),
    makeLink: build.mutation<LinkView[], { releaseId: string } & NewLink>({
      query: ({ releaseId, ...body }) => ({ url: `api/releases/${releaseId}/links`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { releaseId }) => [{ type: 'Release', id: releaseId }],
    }),
    closeLink: build.mutation<LinkView[], { releaseId: string; linkId: string }>({
      query: ({ releaseId, linkId }) => ({
        url: `api/releases/${releaseId}/links/${linkId}`,
        method: 'DELETE',
      }),
      invalidatesTags: (_r, _e, { releaseId }) => [{ type: 'Release', id: releaseId }],
    }),
    guests: build.query<GuestView[], string>({
      query: id => `api/releases/${id}/guests`,
      providesTags: (_r, _e, id) => [{ type: 'Release', id }],
    }),
    mergeGuest: build.mutation<GuestView[], { releaseId: string; guestId: string; into: string }>({
      query: ({ releaseId, guestId, into }) => ({
        url: `api/releases/${releaseId}/guests/${guestId}/merge`,
        method: 'POST',
        body: { into },
      }),
      invalidatesTags: (_r, _e, { releaseId }) => ['Release', { type: 'Release', id: releaseId }],
    }),
    apart: build.mutation<GuestView[], { releaseId: string; guestId: string }>({
      query: ({ releaseId, guestId }) => ({
        url: `api/releases/${releaseId}/guests/${guestId}/apart`,
        method: 'POST',
      }),
      invalidatesTags: (_r, _e, { releaseId }) => ['Release', { type: 'Release', id: releaseId }],
    }),
    remind: build.mutation<ReminderResult, string>({
      query: id => ({ url: `api/releases/${id}/reminders`, method: 'POST' }),
      invalidatesTags: (_r, _e, id) => [{ type: 'Release', id }],
    }),
  }),
});
