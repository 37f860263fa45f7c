import { useState } from 'react';
import { Link, Navigate, useLocation, useNavigate } from 'react-router';
import { FirstTeacher, SignIn } from '@ecoute/contract/people';
import { refusalOf } from '../../base/api';
import { useTitle } from '../../base/useTitle';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { useFields } from '../../parts/useFields';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { SmallStrip, StripLegend } from '../../parts/strip/Strip';
import {
  useFirstTeacherMutation,
  useForgottenPasswordMutation,
  useSessionQuery,
  useSignInMutation,
} from './endpoints';

const EXAMPLE = [3_000, 5_000, 4_000].map((promptDurationMs, i) => ({
  id: String(i),
  promptText: '',
  promptDurationMs,
  prepareMs: 4_000,
  answerLimitMs: [14_000, 22_000, 17_000][i]!,
  answerBy: 'audio' as const,
  isConversation: false,
  turns: [],
}));

function SignInForm({ onDone }: { onDone: () => void }) {
  const [signIn, { error, isLoading }] = useSignInMutation();
  const form = useFields(SignIn, { signInName: '', password: '' });
  const refusal = refusalOf(error);
  const session = useSessionQuery();
  const [forget, forgetting] = useForgottenPasswordMutation();
  const [named, setNamed] = useState('');
  const askForCode = async () => {
    const signInName = form.values.signInName.trim();
    if (!signInName) return form.say('signInName', 'Type your sign-in name first.');
    setNamed(signInName);
    await forget(signInName);
  };
  return (
    <form
      className="grid grid-cols-1 gap-5"
      onSubmit={form.submit(
        values =>
          void signIn(values)
            .unwrap()
            .then(onDone, () => undefined),
      )}
      noValidate
    >
      <h1 className="text-2xl">{t('Sign in')}</h1>
      <Field label={t('Sign-in name')} error={form.wrong.signInName && t(form.wrong.signInName)}>
        {ties => (
          <input
            {...ties}
            {...form.field('signInName')}
            autoComplete="username"
            autoCapitalize="none"
            className={inputClass}
          />
        )}
      </Field>
      <Field label={t('Password')} error={form.wrong.password && t(form.wrong.password)}>
        {ties => (
          <input
            {...ties}
            {...form.field('password')}
            type="password"
            autoComplete="current-password"
            className={inputClass}
          />
        )}
      </Field>
      {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
      <Button look="main" type="submit" disabled={isLoading}>
        {t('Sign in')}
      </Button>
      <Link to="/first" className="underline underline-offset-4">
        {t('I was given a one-time code')}
      </Link>
      {session.data?.sendsMail &&
        (forgetting.isSuccess ? (
          <Notice>
            {t('If there is a mail address for {{name}}, a code is on its way to it.', { name: named })}{' '}
            <Link to="/first" className="underline underline-offset-4">
              {t('Open the mail, then type the code')}
            </Link>
          </Notice>
        ) : (
          <>
            <button
              type="button"
              className="justify-self-start underline underline-offset-4"
              disabled={forgetting.isLoading}
              onClick={() => void askForCode()}
            >
              {t('I forgot my password')}
            </button>
            {refusalOf(forgetting.error) && (
              <Notice kind="trouble">{t(refusalOf(forgetting.error)!.message)}</Notice>
            )}
          </>
        ))}
    </form>
  );
}

function FirstTeacherForm({ onDone }: { onDone: () => void }) {
  const [make, { error, isLoading }] = useFirstTeacherMutation();
  const form = useFields(FirstTeacher, { displayName: '', signInName: '', password: '' });
  const refusal = refusalOf(error);
  const problem = (name: keyof FirstTeacher) => form.wrong[name] ?? refusal?.fields?.[name];
  return (
    <form
      className="grid grid-cols-1 gap-5"
      onSubmit={form.submit(
        values =>
          void make(values)
            .unwrap()
            .then(onDone, () => undefined),
      )}
      noValidate
    >
      <div>
        <h1 className="text-2xl">Welcome. You are the first here.</h1>
        <p className="mt-1 text-soft">Make the first teacher; you add classes and students next.</p>
      </div>
      <Field label="Your name" hint="As your students will see it." error={problem('displayName')}>
        {ties => (
          <input {...ties} {...form.field('displayName')} autoComplete="name" className={inputClass} />
        )}
      </Field>
      <Field label="Sign-in name" hint="For example your mail address." error={problem('signInName')}>
        {ties => (
          <input
            {...ties}
            {...form.field('signInName')}
            autoComplete="username"
            autoCapitalize="none"
            className={inputClass}
          />
        )}
      </Field>
      <Field label="Password" hint="At least 12 characters." error={problem('password')}>
        {ties => (
          <input
            {...ties}
            {...form.field('password')}
            type="password"
            autoComplete="new-password"
            className={inputClass}
          />
        )}
      </Field>
      {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
      <Button look="main" type="submit" disabled={isLoading}>
        Begin
      </Button>
    </form>
  );
}

export function SignInPage() {
  useTitle(t('Sign in'));
  const { data, isLoading, error, refetch } = useSessionQuery();
  const navigate = useNavigate();
  const from = (useLocation().state as { from?: string } | null)?.from ?? '/';
  if (data?.me) return <Navigate to={from} replace />;
  const done = () => void navigate(from, { replace: true });
  return (
    <main className="mx-auto grid min-h-dvh max-w-5xl items-center gap-10 px-5 py-10 md:grid-cols-[1.1fr_1fr]">
      <section>
        <p className="text-4xl font-semibold">Ecoute</p>
        <p className="mt-3 max-w-[34ch] text-xl">
          {t('Oral work, set to the second, heard in full, answered with care.')}
        </p>
        <div className="mt-8 max-w-md">
          <SmallStrip items={EXAMPLE} />
          <div className="mt-3">
            <StripLegend />
          </div>
        </div>
      </section>
      <section className="border-t-4 border-ink bg-sheet p-6 sm:p-8">
        {isLoading ? (
          <Loading rows={3} />
        ) : error && !data ? (
          <Failed error={error} again={() => void refetch()} />
        ) : data?.needsFirstTeacher ? (
          <FirstTeacherForm onDone={done} />
        ) : (
          <SignInForm onDone={done} />
        )}
      </section>
    </main>
  );
}
