import type {
  AccountList,
  Administration,
  GivenUpJobView,
  JobsAgain,
  NewAccount,
  SafetyEntry,
} from '@ecoute/contract/administration';
import type { FirstCode } from '@ecoute/contract/classes';
import type { SaveSchoolSystem, SchoolSystemView, SchoolTried } from '@ecoute/contract/schoolSystem';
import { api } from '../../base/api';

const PEOPLE = 'api/administration/people';
const SCHOOL = 'api/administration/school-system';

export const {
  useAdministrationQuery,
  useAccountsQuery,
  useFailedJobsQuery,
  useSafetyLogQuery,
  useMakeAccountMutation,
  useSendCodeMutation,
  useNameAdminMutation,
  useCloseAccountMutation,
  useSignOutPersonMutation,
  useJobsAgainMutation,
  useSchoolSystemQuery,
  useKeepSchoolSystemMutation,
  useRemoveSchoolSystemMutation,
  useTrySchoolSystemMutation,
} = api.injectEndpoints({
  endpoints: build => ({
    schoolSystem: build.query<SchoolSystemView, void>({ query: () => SCHOOL, providesTags: ['School'] }),
    keepSchoolSystem: build.mutation<SchoolSystemView, SaveSchoolSystem>({
      query: body => ({ url: SCHOOL, method: 'PUT', body }),
      invalidatesTags: (_r, error) => (error ? [] : ['School']),
    }),
    removeSchoolSystem: build.mutation<SchoolSystemView, void>({
      query: () => ({ url: SCHOOL, method: 'DELETE' }),
      invalidatesTags: ['School'],
    }),
    trySchoolSystem: build.mutation<SchoolTried, void>({
      query: () => ({ url: `${SCHOOL}/try`, method: 'POST' }),
    }),
    administration: build.query<Administration, void>({
      query: () => 'api/administration',
      providesTags: ['Administration'],
    }),
    accounts: build.query<AccountList, { find: string; after: string | null }>({
      query: ({ find, after }) =>
        `${PEOPLE}?find=${encodeURIComponent(find)}${after ? `&after=${encodeURIComponent(after)}` : ''}`,
      providesTags: ['Administration'],
    }),
    failedJobs: build.query<GivenUpJobView[], void>({
      query: () => 'api/administration/jobs',
      providesTags: ['Administration'],
    }),
    safetyLog: build.query<SafetyEntry[], number | null>({
      query: before => `api/administration/log${before === null ? '' : `?before=${before}`}`,
      providesTags: ['Administration'],
    }),
    makeAccount: build.mutation<AccountList, NewAccount>({
      query: body => ({ url: PEOPLE, method: 'POST', body }),
      invalidatesTags: (_r, error) => (error ? [] : ['Administration']),
    }),
    sendCode: build.mutation<FirstCode, { id: string; byMail: boolean }>({
      query: ({ id, byMail }) => ({ url: `${PEOPLE}/${id}/code`, method: 'POST', body: { byMail } }),
      invalidatesTags: ['Administration'],
    }),
    nameAdmin: build.mutation<void, { id: string; isAdmin: boolean }>({
      query: ({ id, isAdmin }) => ({ url: `${PEOPLE}/${id}/admin`, method: 'PUT', body: { isAdmin } }),
      invalidatesTags: ['Administration'],
    }),
    closeAccount: build.mutation<void, { id: string; closed: boolean }>({
      query: ({ id, closed }) => ({ url: `${PEOPLE}/${id}/closed`, method: 'PUT', body: { closed } }),
      invalidatesTags: ['Administration'],
    }),
    signOutPerson: build.mutation<void, string>({
      query: id => ({ url: `${PEOPLE}/${id}/sessions`, method: 'DELETE' }),
      invalidatesTags: ['Administration'],
    }),
    jobsAgain: build.mutation<GivenUpJobView[], JobsAgain>({
      query: body => ({ url: 'api/administration/jobs', method: 'POST', body }),
      invalidatesTags: ['Administration'],
    }),
  }),
});
