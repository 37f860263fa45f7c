import type { FirstTeacher, SessionState, SignIn } from '@ecoute/contract/people';
import { api } from '../../app/api';

export const { useSessionQuery, useSignInMutation, useSignOutMutation, useFirstTeacherMutation } =
  api.injectEndpoints({
    endpoints: build => ({
      session: build.query<SessionState, void>({ query: () => 'api/session', providesTags: ['Session'] }),
      signIn: build.mutation<SessionState, SignIn>({
        query: body => ({ url: 'api/session', method: 'POST', body }),
        invalidatesTags: ['Session'],
      }),
      signOut: build.mutation<void, void>({ query: () => ({ url: 'api/session', method: 'DELETE' }) }),
      firstTeacher: build.mutation<SessionState, FirstTeacher>({
        query: body => ({ url: 'api/first-teacher', method: 'POST', body }),
        invalidatesTags: ['Session'],
      }),
    }),
  });
