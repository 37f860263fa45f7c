import type { PhoneView } from '@ecoute/contract/handovers';
import { api } from '../../base/api';

export const { usePhoneQuery, useOpenItemMutation, useClosePhoneMutation } = api.injectEndpoints({
  endpoints: build => ({
    phone: build.query<PhoneView, void>({
      query: () => 'api/phone',
      providesTags: ['Phone'],
      keepUnusedDataFor: 0,
    }),
    openItem: build.mutation<PhoneView, string>({
      query: code => ({ url: 'api/phone', method: 'POST', body: { code } }),
    }),
    closePhone: build.mutation<void, void>({ query: () => ({ url: 'api/phone', method: 'DELETE' }) }),
  }),
});
