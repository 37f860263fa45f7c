import type { FirstSignIn, FirstTeacher, SessionState, SignIn, SlipSignIn } from '@ecoute/contract/people';
import { api } from '../../base/api';

export const {
  useSessionQuery,
  useSignInMutation,
  useSignOutMutation,
  useFirstTeacherMutation,
  useLookAtCodeMutation,
  useFirstSignInMutation,
  useSlipSignInMutation,
  useForgottenPasswordMutation,
} = api.injectEndpoints({
  endpoints: build => ({
    session: build.query<SessionState, void>({ query: () => 'api/session', providesTags: ['Session'] }),
    signIn: build.mutation<SessionState, SignIn>({
      query: body => ({ url: 'api/session', method: 'POST', body }),
      invalidatesTags: ['Session'],
    }),
    signOut: build.mutation<void, void>({ query: () => ({ url: 'api/session', method: 'DELETE' }) }),
    lookAtCode: build.mutation<{ displayName: string; signInName: string }, string>({
      query: code => ({ url: 'api/first-sign-in/code', method: 'POST', body: { code } }),
    }),
    firstSignIn: build.mutation<SessionState, FirstSignIn>({
      query: body => ({ url: 'api/first-sign-in', method: 'POST', body }),
      invalidatesTags: ['Session'],
    }),
    slipSignIn: build.mutation<SessionState, SlipSignIn>({
      query: body => ({ url: 'api/slip-sign-in', method: 'POST', body }),
      invalidatesTags: ['Session'],
    }),
    forgottenPassword: build.mutation<void, string>({
      query: signInName => ({ url: 'api/forgotten-password', method: 'POST', body: { signInName } }),
    }),
    firstTeacher: build.mutation<SessionState, FirstTeacher>({
      query: body => ({ url: 'api/first-teacher', method: 'POST', body }),
      invalidatesTags: ['Session'],
    }),
  }),
});
