import { Monitor } from 'lucide-react';
import { useState } from 'react';
import { calledName } from '@ecoute/core/feedback/comments';
import type { FamilyView } from '@ecoute/contract/families';
import type { OwnAccount } from '@ecoute/contract/people';
import { LIMITS } from '@ecoute/contract/limits';
import { api, refusalOf } from '../../base/api';
import { t } from '../../base/i18n';
import { useMe } from '../../base/useMe';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { NewPasswordField } from '../../parts/PasswordField';
import { megabytes } from '../../parts/megabytes';
import { when } from '../../parts/when';

const {
  useOwnAccountQuery,
  useCallMeMutation,
  useChangePasswordMutation,
  useEndSessionsMutation,
  useOwnFamilyQuery,
  useEndOwnFamilyMutation,
} = api.injectEndpoints({
  endpoints: build => ({
    ownAccount: build.query<OwnAccount, void>({ query: () => 'api/me', providesTags: ['Account'] }),
    callMe: build.mutation<OwnAccount, string>({
      query: called => ({ url: 'api/me/called', method: 'PUT', body: { called } }),
      invalidatesTags: (_r, error) => (error ? [] : ['Account']),
    }),
    changePassword: build.mutation<OwnAccount, { current: string; password: string }>({
      query: body => ({ url: 'api/me/password', method: 'POST', body }),
      invalidatesTags: (_r, error) => (error ? [] : ['Account']),
    }),
    /** Where one's family is written to; empty for whoever is not of age. */
    ownFamily: build.query<FamilyView, void>({ query: () => 'api/me/families', providesTags: ['Account'] }),
    endOwnFamily: build.mutation<FamilyView, { id: string; ended: boolean }>({
      query: ({ id, ended }) => ({
        url: `api/me/families/${id}${ended ? '' : '/restored'}`,
        method: ended ? 'DELETE' : 'POST',
      }),
      invalidatesTags: (_r, error) => (error ? [] : ['Account']),
    }),
    /** One session, or all but this one. */
    endSessions: build.mutation<OwnAccount, string | null>({
      query: id => ({ url: `api/me/sessions${id ? `/${id}` : ''}`, method: 'DELETE' }),
      invalidatesTags: ['Account'],
    }),
  }),
});

/** What others did to an account, in words. */
const DONE: Record<string, () => string> = {
  codeMade: () => t('made a one-time code for you'),
  sessionsEnded: () => t('signed you out'),
  accountClosed: () => t('closed your account'),
  accountOpened: () => t('opened your account again'),
  adminNamed: () => t('lets you look after this Ecoute'),
  adminUnnamed: () => t('no longer lets you look after this Ecoute'),
  accountMade: () => t('made your account'),
  nameCorrected: () => t('corrected your name'),
  addressCorrected: () => t('corrected your mail address'),
  familyAddressAdded: () => t('added an address of your family'),
  namedAdult: () => t('says that you are of age'),
  unnamedAdult: () => t('says that you are not of age'),
};

function Password() {
  const [current, setCurrent] = useState('');
  const [password, setPassword] = useState('');
  const [change, { error, isLoading, isSuccess }] = useChangePasswordMutation();
  const refusal = refusalOf(error);
  const problem = (field: string) => (refusal?.fields?.[field] ? t(refusal.fields[field]) : null);
  return (
    <form
      className="grid max-w-xl gap-4 bg-sheet p-5"
      onSubmit={event => {
        event.preventDefault();
        void change({ current, password })
          .unwrap()
          .then(
            () => {
              setCurrent('');
              setPassword('');
            },
            () => undefined,
          );
      }}
    >
      <h2 className="text-xl">{t('Change your password')}</h2>
      <Field label={t('The password that you have now')} error={problem('current')}>
        {ties => (
          <input
            {...ties}
            type="password"
            autoComplete="current-password"
            value={current}
            onChange={e => setCurrent(e.target.value)}
            className={inputClass}
          />
        )}
      </Field>
      <NewPasswordField
        label={t('The new one')}
        value={password}
        error={problem('password')}
        onChange={setPassword}
      />
      {refusal && !refusal.fields && <Notice kind="trouble">{t(refusal.message)}</Notice>}
      {isSuccess && <Notice>{t('Your password is changed. You are signed out everywhere else.')}</Notice>}
      <div>
        <Button
          look="main"
          type="submit"
          disabled={isLoading || !current || password.length < LIMITS.passwordLeast}
        >
          {t('Change it')}
        </Button>
      </div>
    </form>
  );
}

/** What a student wishes to be called in comments. */
function Called({ kept, name }: { kept: string; name: string }) {
  const [called, setCalled] = useState(kept);
  const [call, { error, isLoading }] = useCallMeMutation();
  const refusal = refusalOf(error);
  return (
    <form
      className="grid max-w-xl gap-4 bg-sheet p-5"
      onSubmit={event => {
        event.preventDefault();
        void call(called);
      }}
    >
      <h2 className="text-xl">{t('What your teachers’ comments call you')}</h2>
      <Field label={t('Called')} error={refusal ? t(refusal.fields?.called ?? refusal.message) : null}>
        {ties => (
          <input
            {...ties}
            dir="auto"
            maxLength={LIMITS.name}
            placeholder={calledName(name, null)}
            value={called}
            onChange={e => setCalled(e.target.value)}
            className={inputClass}
          />
        )}
      </Field>
      <div>
        <Button look="main" type="submit" disabled={isLoading || called.trim() === kept}>
          {t('Keep it')}
        </Button>
      </div>
    </form>
  );
}

/** Where one's family is written to, for a student of age: they say what stays. */
function Family() {
  const { data } = useOwnFamilyQuery();
  const [end, ending] = useEndOwnFamilyMutation();
  const refusal = refusalOf(ending.error);
  if (!data?.isAdult) return null;
  return (
    <section>
      <h2 className="text-xl">{t('Addresses of your family')}</h2>
      <p className="mt-2 max-w-3xl">
        {data.addresses.length === 0
          ? t('None are kept. Your teachers write to nobody but you.')
          : t(
              'Your teachers may send spoken messages about your class there. What you remove is written to no more, and only you can bring it back.',
            )}
      </p>
      <ul className="mt-3 grid max-w-3xl gap-px bg-line">
        {data.addresses.map(a => (
          <li key={a.id} className="flex min-h-14 flex-wrap items-center gap-x-4 gap-y-1 bg-sheet px-4 py-2">
            <span className="min-w-0 flex-1 basis-48">
              <span className={`block font-semibold break-all ${a.endedBy ? 'line-through' : ''}`}>
                {a.email}
              </span>
              <span dir="auto" className="text-sm text-soft">
                {a.endedBy === 'family' ? t('wants no more mail') : a.endedBy ? t('removed') : a.name}
              </span>
            </span>
            {a.endedBy !== 'family' && (
              <Button
                aria-label={
                  a.endedBy
                    ? t('Bring {{what}} back', { what: a.email })
                    : t('Remove {{what}}', { what: a.email })
                }
                onClick={() => void end({ id: a.id, ended: a.endedBy === null })}
              >
                {a.endedBy ? t('Bring back') : t('Remove')}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
    </section>
  );
}

/** One's own account: password, where one is signed in, room, and what others did to it. */
export function AccountPage() {
  const me = useMe();
  useTitle(t('Your account'));
  const { data, error, isLoading, refetch } = useOwnAccountQuery(undefined, {
    refetchOnMountOrArgChange: true,
  });
  const [end, ending] = useEndSessionsMutation();
  const notEnded = refusalOf(ending.error);
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const { usedBytes, quotaBytes, sessions, doneByOthers } = data;
  const share = quotaBytes > 0 ? usedBytes / quotaBytes : 0;
  return (
    <div className="grid grid-cols-1 gap-8">
      <div>
        <h1 className="text-3xl">{t('Your account')}</h1>
        <p className="mt-1 break-all text-soft">
          {me.displayName}
          {data.signInName && ` · ${data.signInName}`}
        </p>
      </div>
      {me.role === 'student' && <Called kept={data.called} name={me.displayName} />}
      {data.hasPassword && <Password />}
      <section>
        <h2 className="text-xl">{t('Where you are signed in')}</h2>
        <ul className="mt-3 grid max-w-3xl gap-px bg-line">
          {sessions.map(s => (
            <li
              key={s.id}
              className="flex min-h-14 flex-wrap items-center gap-x-4 gap-y-1 bg-sheet px-4 py-2"
            >
              <Monitor aria-hidden className="size-5 shrink-0" />
              <span className="min-w-0 flex-1 basis-48">
                <span className="block font-semibold">{s.browser}</span>
                <span className="text-sm text-soft">
                  {s.isThis ? t('this browser') : t('last used {{when}}', { when: when(s.usedAt) })}
                </span>
              </span>
              {!s.isThis && <Button onClick={() => void end(s.id)}>{t('Sign out there')}</Button>}
            </li>
          ))}
        </ul>
        {sessions.some(s => !s.isThis) && (
          <div className="mt-3">
            <Button onClick={() => void end(null)}>{t('Sign out everywhere else')}</Button>
          </div>
        )}
        {notEnded && <Notice kind="trouble">{t(notEnded.message)}</Notice>}
      </section>
      {me.role === 'student' && !me.isGuest && <Family />}
      <section>
        <h2 className="text-xl">{t('Room')}</h2>
        <p className="mt-2">
          {quotaBytes > 0
            ? t('Your recordings take {{used}} of {{all}}.', {
                used: megabytes(usedBytes),
                all: megabytes(quotaBytes),
              })
            : t('Your recordings take {{used}}.', { used: megabytes(usedBytes) })}
        </p>
        {share >= 0.8 && (
          <Notice kind="trouble">
            {t(
              'There is little room left. Tell your teacher before it is full: after that nothing more is taken.',
            )}
          </Notice>
        )}
      </section>
      {doneByOthers.length > 0 && (
        <section>
          <h2 className="text-xl">{t('What others did with your account')}</h2>
          <ul className="mt-2 list-disc ps-5">
            {doneByOthers.map((d, i) => (
              <li key={i}>
                {when(d.at)}: {d.by} {(DONE[d.kind] ?? (() => d.kind))()}
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
