import type { Invitation } from '@ecoute/contract/invitations';
import { api, refusalOf } from '../base/api';
import { t } from '../base/i18n';
import { Button } from './Button';
import { Notice } from './Notice';

const { useInvitationsQuery, useAcceptInvitationMutation, useDeclineInvitationMutation } =
  api.injectEndpoints({
    endpoints: build => ({
      invitations: build.query<Invitation[], void>({
        query: () => 'api/invitations',
        providesTags: ['Invitations'],
      }),
      acceptInvitation: build.mutation<Invitation[], string>({
        query: id => ({ url: `api/invitations/${id}`, method: 'POST' }),
        invalidatesTags: ['Invitations', 'Todo', 'Class', 'Department', 'Release'],
      }),
      declineInvitation: build.mutation<Invitation[], string>({
        query: id => ({ url: `api/invitations/${id}`, method: 'DELETE' }),
        invalidatesTags: ['Invitations'],
      }),
    }),
  });

/** What somebody is asked to join; nothing of it holds before they say yes. */
export function Invitations() {
  const { data = [] } = useInvitationsQuery();
  const [accept, accepting] = useAcceptInvitationMutation();
  const [decline] = useDeclineInvitationMutation();
  const refusal = refusalOf(accepting.error);
  if (data.length === 0) return null;
  return (
    <ul className="mb-6 grid gap-px bg-line">
      {data.map(i => (
        <li
          key={i.id}
          className="flex flex-wrap items-center gap-x-4 gap-y-2 border-s-4 border-ink bg-sheet px-4 py-3"
        >
          <p className="min-w-0 flex-1 basis-64">
            {i.role === 'student'
              ? t(
                  '{{who}} asks you to join the class {{name}}. Its teachers then hear what you record there.',
                  {
                    who: i.madeBy,
                    name: i.name,
                  },
                )
              : i.what === 'department'
                ? `${i.madeBy} asks you to share a shelf with the department ${i.name}.`
                : `${i.madeBy} asks you to ${i.role === 'teacher' ? 'teach' : 'plan for'} the class ${i.name}.`}
          </p>
          <Button look="main" disabled={accepting.isLoading} onClick={() => void accept(i.id)}>
            {t('Join')}
          </Button>
          <Button onClick={() => void decline(i.id)}>{t('No, thank you')}</Button>
        </li>
      ))}
      {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
    </ul>
  );
}
