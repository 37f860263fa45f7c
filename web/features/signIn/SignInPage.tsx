import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { Link, Navigate, useLocation, useNavigate } from 'react-router';
import { FirstTeacher, SignIn } from '@ecoute/contract/people';
import { refusalOf } from '../../base/api';
import { NOTHING_TYPED, takePorch, type Typed } from '../../base/porch';
import { useTitle } from '../../base/useTitle';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { useFields } from '../../parts/useFields';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { SIGN_IN_FORM, SignInFields, SignInFrame } from './SignInFrame';
import {
  useFirstTeacherMutation,
  useForgottenPasswordMutation,
  useSessionQuery,
  useSignInMutation,
} from './endpoints';

/** @param typed what somebody typed before this was here */
function SignInForm({ typed, onDone }: { typed: Typed; onDone: () => void }) {
  const [signIn, { error, isLoading, isUninitialized }] = useSignInMutation();
  const form = useFields(SignIn, { signInName: typed.signInName, password: typed.password });
  const refusal = refusalOf(error);
  const session = useSessionQuery();
  const [forget, forgetting] = useForgottenPasswordMutation();
  const [named, setNamed] = useState('');
  // Whoever types goes on typing.
  const place = useRef<HTMLFormElement>(null);
  useEffect(() => {
    const field = typed.focus && place.current?.querySelector<HTMLInputElement>(`[name=${typed.focus.name}]`);
    if (!typed.focus || !field) return;
    field.focus();
    field.setSelectionRange(typed.focus.from, typed.focus.to);
  }, [typed]);
  const askForCode = async () => {
    const signInName = form.values.signInName.trim();
    if (!signInName) return form.say('signInName', 'Type your sign-in name first.');
    setNamed(signInName);
    await forget(signInName);
  };
  return (
    <form
      ref={place}
      className={SIGN_IN_FORM}
      onSubmit={form.submit(
        values =>
          void signIn(values)
            .unwrap()
            .then(onDone, () => undefined),
      )}
      noValidate
    >
      <SignInFields
        signInName={form.field('signInName')}
        password={form.field('password')}
        wrong={form.wrong}
        told={
          refusal ? (
            <Notice kind="trouble">{t(refusal.message)}</Notice>
          ) : (
            isUninitialized && typed.told && <Notice kind="trouble">{typed.told}</Notice>
          )
        }
        isBusy={isLoading}
      />
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
  const { data, error, refetch } = useSessionQuery();
  /** Undefined while the porch waits for an answer. */
  const [typed, setTyped] = useState<Typed | null>();
  useLayoutEffect(() => takePorch(setTyped), []);
  const navigate = useNavigate();
  const from = (useLocation().state as { from?: string } | null)?.from ?? '/';
  if (data?.me) return <Navigate to={from} replace />;
  const done = () => void navigate(from, { replace: true });
  return (
    <SignInFrame>
      {error && !data ? (
        <Failed error={error} again={() => void refetch()} />
      ) : data?.needsFirstTeacher ? (
        <FirstTeacherForm onDone={done} />
      ) : typed || (data && typed === null) ? (
        // Who met the porch is nobody yet: their form does not wait until that is sure.
        <SignInForm typed={typed ?? NOTHING_TYPED} onDone={done} />
      ) : (
        <Loading rows={3} />
      )}
    </SignInFrame>
  );
}
