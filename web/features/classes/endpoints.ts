import type {
  ClassDetail,
  ClassSummary,
  CorrectStudent,
  FirstCode,
  ImportChoices,
  ImportView,
  NewClass,
  NewGroup,
  NewMember,
  NewStudent,
  SetArrangement,
  SignInSlip,
} from '@ecoute/contract/classes';
import type { ChangeFamilyAddress, FamilyView, NewFamilyAddress } from '@ecoute/contract/families';
import { api } from '../../base/api';

/** A change to one class: its page, and whatever lists it. */
const touched = (_r: unknown, _e: unknown, { classId }: { classId: string }) =>
  ['Class', { type: 'Class', id: classId }, 'Release'] as const;

interface OfStudent {
  classId: string;
  personId: string;
}
const familiesAt = ({ classId, personId }: OfStudent) =>
  `api/classes/${classId}/members/${personId}/families`;
const familyTouched = (_r: unknown, error: unknown, { classId, personId }: OfStudent) =>
  error
    ? []
    : ([
        { type: 'Families', id: personId },
        { type: 'Class', id: classId },
      ] as const);

const classesApi = api.injectEndpoints({
  endpoints: build => ({
    classes: build.query<ClassSummary[], void>({ query: () => 'api/classes', providesTags: ['Class'] }),
    putAwayClasses: build.query<ClassSummary[], void>({
      query: () => 'api/put-away-classes',
      providesTags: ['Class'],
    }),
    putClassAway: build.mutation<ClassDetail, { classId: string; away: boolean }>({
      query: ({ classId, away }) => ({ url: `api/classes/${classId}/away`, method: 'PUT', body: { away } }),
      invalidatesTags: touched,
    }),
    correctStudent: build.mutation<ClassDetail, { classId: string; personId: string } & CorrectStudent>({
      query: ({ classId, personId, ...body }) => ({
        url: `api/classes/${classId}/members/${personId}`,
        method: 'PUT',
        body,
      }),
      invalidatesTags: (_r, _e, { classId }) => ['Class', { type: 'Class', id: classId }, 'Release', 'Lanes'],
    }),
    moveStudent: build.mutation<ClassDetail, { classId: string; personId: string; toClassId: string }>({
      query: ({ classId, personId, toClassId }) => ({
        url: `api/classes/${classId}/members/${personId}/move`,
        method: 'POST',
        body: { toClassId },
      }),
      invalidatesTags: (_r, _e, { classId, toClassId }) => [
        'Class',
        { type: 'Class', id: classId },
        { type: 'Class', id: toClassId },
        'Release',
      ],
    }),
    class: build.query<ClassDetail, string>({
      query: id => `api/classes/${id}`,
      providesTags: (_r, _e, id) => [{ type: 'Class', id }],
    }),
    makeClass: build.mutation<ClassDetail, NewClass>({
      query: body => ({ url: 'api/classes', method: 'POST', body }),
      invalidatesTags: ['Class'],
    }),
    changeClass: build.mutation<ClassDetail, { classId: string } & NewClass>({
      query: ({ classId, ...body }) => ({ url: `api/classes/${classId}`, method: 'PUT', body }),
      invalidatesTags: touched,
    }),
    addStudent: build.mutation<ClassDetail, { classId: string } & NewStudent>({
      query: ({ classId, ...body }) => ({ url: `api/classes/${classId}/students`, method: 'POST', body }),
      invalidatesTags: touched,
    }),
    addMember: build.mutation<ClassDetail, { classId: string } & NewMember>({
      query: ({ classId, ...body }) => ({ url: `api/classes/${classId}/members`, method: 'POST', body }),
      invalidatesTags: touched,
    }),
    takeBackInvitation: build.mutation<void, { classId: string; id: string }>({
      query: ({ classId, id }) => ({ url: `api/classes/${classId}/invitations/${id}`, method: 'DELETE' }),
      invalidatesTags: touched,
    }),
    removeMember: build.mutation<ClassDetail, { classId: string; personId: string }>({
      query: ({ classId, personId }) => ({
        url: `api/classes/${classId}/members/${personId}`,
        method: 'DELETE',
      }),
      invalidatesTags: touched,
    }),
    call: build.mutation<ClassDetail, { classId: string; personId: string; called: string }>({
      query: ({ classId, personId, called }) => ({
        url: `api/classes/${classId}/members/${personId}/called`,
        method: 'PUT',
        body: { called },
      }),
      invalidatesTags: touched,
    }),
    arrange: build.mutation<ClassDetail, { classId: string; personId: string } & SetArrangement>({
      query: ({ classId, personId, ...body }) => ({
        url: `api/classes/${classId}/members/${personId}/arrangement`,
        method: 'PUT',
        body,
      }),
      invalidatesTags: touched,
    }),
    makeCodes: build.mutation<FirstCode[], { classId: string; personIds: string[]; byMail?: boolean }>({
      query: ({ classId, ...body }) => ({
        url: `api/classes/${classId}/codes`,
        method: 'POST',
        body,
      }),
      invalidatesTags: touched,
    }),
    makeSlips: build.mutation<SignInSlip[], { classId: string; personIds: string[] }>({
      query: ({ classId, ...body }) => ({ url: `api/classes/${classId}/slips`, method: 'POST', body }),
      invalidatesTags: touched,
    }),
    endSlip: build.mutation<ClassDetail, { classId: string; personId: string }>({
      query: ({ classId, personId }) => ({
        url: `api/classes/${classId}/members/${personId}/slip`,
        method: 'DELETE',
      }),
      invalidatesTags: touched,
    }),
    addGroup: build.mutation<ClassDetail, { classId: string } & NewGroup>({
      query: ({ classId, ...body }) => ({ url: `api/classes/${classId}/groups`, method: 'POST', body }),
      invalidatesTags: touched,
    }),
    changeGroup: build.mutation<ClassDetail, { classId: string; groupId: string } & NewGroup>({
      query: ({ classId, groupId, ...body }) => ({
        url: `api/classes/${classId}/groups/${groupId}`,
        method: 'PUT',
        body,
      }),
      invalidatesTags: touched,
    }),
    removeGroup: build.mutation<ClassDetail, { classId: string; groupId: string }>({
      query: ({ classId, groupId }) => ({
        url: `api/classes/${classId}/groups/${groupId}`,
        method: 'DELETE',
      }),
      invalidatesTags: touched,
    }),
    families: build.query<FamilyView, OfStudent>({
      query: of => familiesAt(of),
      providesTags: (_r, _e, { personId }) => [{ type: 'Families', id: personId }],
    }),
    addFamilyAddress: build.mutation<FamilyView, OfStudent & NewFamilyAddress>({
      query: ({ classId, personId, ...body }) => ({
        url: familiesAt({ classId, personId }),
        method: 'POST',
        body,
      }),
      invalidatesTags: familyTouched,
    }),
    changeFamilyAddress: build.mutation<FamilyView, OfStudent & { id: string } & ChangeFamilyAddress>({
      query: ({ classId, personId, id, ...body }) => ({
        url: `${familiesAt({ classId, personId })}/${id}`,
        method: 'PUT',
        body,
      }),
      invalidatesTags: familyTouched,
    }),
    endFamilyAddress: build.mutation<FamilyView, OfStudent & { id: string; ended: boolean }>({
      query: ({ id, ended, ...of }) => ({
        url: `${familiesAt(of)}/${id}${ended ? '' : '/restored'}`,
        method: ended ? 'DELETE' : 'POST',
      }),
      invalidatesTags: familyTouched,
    }),
    setAdult: build.mutation<FamilyView, OfStudent & { isAdult: boolean }>({
      query: ({ classId, personId, isAdult }) => ({
        url: `api/classes/${classId}/members/${personId}/adult`,
        method: 'PUT',
        body: { isAdult },
      }),
      invalidatesTags: familyTouched,
    }),
    import: build.query<ImportView, string>({
      query: id => `api/imports/${id}`,
      providesTags: (_r, _e, id) => [{ type: 'Import', id }],
    }),
    bringList: build.mutation<ImportView, { classId: string | null; file: File }>({
      queryFn: async ({ classId, file }, _api, _extra, ask) => {
        const answer = await ask({
          url: classId ? `api/classes/${classId}/imports` : 'api/imports',
          method: 'POST',
          body: file,
          headers: {
            'Content-Type': 'application/octet-stream',
            'X-File-Name': encodeURIComponent(file.name),
          },
        });
        return answer.error ? { error: answer.error } : { data: answer.data as ImportView };
      },
    }),
    chooseImport: build.mutation<ImportView, { id: string } & ImportChoices>({
      query: ({ id, ...body }) => ({ url: `api/imports/${id}`, method: 'PUT', body }),
      invalidatesTags: (_r, _e, { id }) => [{ type: 'Import', id }],
    }),
    confirmImport: build.mutation<ImportView, string>({
      query: id => ({ url: `api/imports/${id}/confirm`, method: 'POST' }),
      invalidatesTags: (_r, _e, id) => [{ type: 'Import', id }, 'Class'],
    }),
    cancelImport: build.mutation<ImportView, string>({
      query: id => ({ url: `api/imports/${id}/cancel`, method: 'POST' }),
      invalidatesTags: (_r, _e, id) => [{ type: 'Import', id }],
    }),
  }),
});

export const {
  useClassesQuery,
  usePutAwayClassesQuery,
  usePutClassAwayMutation,
  useCorrectStudentMutation,
  useMoveStudentMutation,
  useClassQuery,
  useMakeClassMutation,
  useChangeClassMutation,
  useAddStudentMutation,
  useAddMemberMutation,
  useRemoveMemberMutation,
  useTakeBackInvitationMutation,
  useArrangeMutation,
  useCallMutation,
  useMakeCodesMutation,
  useMakeSlipsMutation,
  useEndSlipMutation,
  useAddGroupMutation,
  useChangeGroupMutation,
  useRemoveGroupMutation,
  useFamiliesQuery,
  useAddFamilyAddressMutation,
  useChangeFamilyAddressMutation,
  useEndFamilyAddressMutation,
  useSetAdultMutation,
  useImportQuery,
  useBringListMutation,
  useChooseImportMutation,
  useConfirmImportMutation,
  useCancelImportMutation,
} = classesApi;
