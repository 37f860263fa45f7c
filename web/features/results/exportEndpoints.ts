import type { ExportView, NewExport, NewTalkExport } from '@ecoute/contract/exports';
import { api } from '../../base/api';

const exportApi = api.injectEndpoints({
  endpoints: build => ({
    exports: build.query<ExportView[], void>({ query: () => 'api/exports', providesTags: ['Exports'] }),
    makeExport: build.mutation<ExportView, NewExport & { classId: string }>({
      query: ({ classId, ...body }) => ({ url: `api/classes/${classId}/exports`, method: 'POST', body }),
      invalidatesTags: ['Exports'],
    }),
    makeTalkExport: build.mutation<ExportView, NewTalkExport & { releaseId: string }>({
      query: ({ releaseId, ...body }) => ({ url: `api/releases/${releaseId}/exports`, method: 'POST', body }),
      invalidatesTags: ['Exports'],
    }),
    letExportGo: build.mutation<ExportView[], string>({
      query: id => ({ url: `api/exports/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Exports'],
    }),
  }),
});

export const { useExportsQuery, useMakeExportMutation, useMakeTalkExportMutation, useLetExportGoMutation } =
  exportApi;
