import type { PhoneView } from '@ecoute/contract/handovers';
import { api } from '../../base/api';

export const { usePhoneQuery, useOpenPhoneMutation, useMovePhoneMutation, useClosePhoneMutation } =
  api.injectEndpoints({
    endpoints: build => ({
      phone: build.query<PhoneView, void>({
        query: () => 'api/phone',
        providesTags: ['Phone'],
        keepUnusedDataFor: 0,
      }),
      openPhone: build.mutation<PhoneView, string>({
        query: code => ({ url: 'api/phone', method: 'POST', body: { code } }),
      }),
      movePhone: build.mutation<PhoneView, string>({
        query: itemId => ({ url: 'api/phone/item', method: 'PUT', body: { itemId } }),
        invalidatesTags: (_r, error) => (error ? [] : ['Phone']),
      }),
      closePhone: build.mutation<void, void>({ query: () => ({ url: 'api/phone', method: 'DELETE' }) }),
    }),
  });
