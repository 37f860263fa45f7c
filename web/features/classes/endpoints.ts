import type { ClassDetail, ClassSummary, NewClass, NewStudent } from '@ecoute/contract/classes';
import { api } from '../../app/api';

export const { useClassesQuery, useClassQuery, useMakeClassMutation, useAddStudentMutation } =
  api.injectEndpoints({
    endpoints: build => ({
      classes: build.query<ClassSummary[], void>({ query: () => 'api/classes', providesTags: ['Class'] }),
      class: build.query<ClassDetail, string>({
        query: id => `api/classes/${id}`,
        providesTags: (_r, _e, id) => [{ type: 'Class', id }],
      }),
      makeClass: build.mutation<ClassDetail, NewClass>({
        query: body => ({ url: 'api/classes', method: 'POST', body }),
        invalidatesTags: ['Class'],
      }),
      addStudent: build.mutation<ClassDetail, { id: string } & NewStudent>({
        query: ({ id, ...body }) => ({ url: `api/classes/${id}/students`, method: 'POST', body }),
        invalidatesTags: ['Class', 'Release'],
      }),
    }),
  });
