import type { DoorView, GuestWelcome, NewGuest } from '@ecoute/contract/guests';
import { api } from '../../base/api';

export const { useDoorQuery, useEnterMutation, useComeBackMutation } = api.injectEndpoints({
  endpoints: build => ({
    door: build.query<DoorView, string>({
      query: code => `api/links/${code}`,
      providesTags: ['Session'],
      keepUnusedDataFor: 0,
    }),
    enter: build.mutation<GuestWelcome, { code: string } & NewGuest>({
      query: ({ code, ...body }) => ({ url: `api/links/${code}/guests`, method: 'POST', body }),
      invalidatesTags: ['Session', 'Todo'],
    }),
    comeBack: build.mutation<{ releaseId: string }, string>({
      query: token => ({ url: 'api/guest-returns', method: 'POST', body: { token } }),
      invalidatesTags: ['Session', 'Todo'],
    }),
  }),
});
