import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../base/api';
import { useTitle } from '../../base/useTitle';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { NewPasswordField } from '../../parts/PasswordField';
import { useFirstSignInMutation, useLookAtCodeMutation } from './endpoints';

/** The first sign-in: a one-time code, then a password of one’s own. */
export function FirstSignInPage() {
  useTitle(t('First sign-in'));
  // From the code of a slip: behind the “#”, where no server and no log is told of it.
  const [code, setCode] = useState(() => /^#([\w-]+)$/.exec(window.location.hash)?.[1] ?? '');
  const [password, setPassword] = useState('');
  const [checkCode, checking] = useLookAtCodeMutation();
  const [begin, beginning] = useFirstSignInMutation();
  const navigate = useNavigate();
  const found = useRef(code);
  useEffect(() => {
    const brought = found.current;
    found.current = '';
    if (!brought) return;
    window.history.replaceState(window.history.state, '', window.location.pathname);
    void checkCode(brought);
  }, [checkCode]);
  const person = checking.data;
  const wrong = refusalOf(checking.error) ?? refusalOf(beginning.error);
  return (
    <main className="mx-auto grid min-h-dvh max-w-xl content-center px-5 py-10">
      <form
        className="grid grid-cols-1 gap-5 border-t-4 border-ink bg-sheet p-6 sm:p-8"
        onSubmit={event => {
          event.preventDefault();
          if (!person) void checkCode(code);
          else
            void begin({ code, password })
              .unwrap()
              .then(
                () => navigate('/', { replace: true }),
                () => undefined,
              );
        }}
        noValidate
      >
        <h1 className="text-2xl">
          {person ? t('Welcome, {{name}}.', { name: person.displayName }) : t('First sign-in')}
        </h1>
        {person ? (
          <>
            <p>
              {t('From now on you sign in as')} <strong className="break-all">{person.signInName}</strong>.
            </p>
            <NewPasswordField
              label={t('A password of your own')}
              value={password}
              error={wrong ? t(wrong.message) : null}
              onChange={setPassword}
            />
            <Button
              look="main"
              type="submit"
              disabled={password.length < LIMITS.passwordLeast || beginning.isLoading}
            >
              {t('Begin')}
            </Button>
          </>
        ) : (
          <>
            <Field label={t('The code you were given')} error={wrong ? t(wrong.message) : null}>
              {ties => (
                <input
                  {...ties}
                  value={code}
                  onChange={e => setCode(e.target.value)}
                  autoComplete="one-time-code"
                  autoCapitalize="characters"
                  placeholder="XXXX-XXXX-XXXX"
                  className={`${inputClass} tabular text-xl`}
                />
              )}
            </Field>
            <Button look="main" type="submit" disabled={!code.trim() || checking.isLoading}>
              {t('Go on')}
            </Button>
            <Link to="/sign-in" className="underline underline-offset-4">
              {t('I have a password already')}
            </Link>
          </>
        )}
      </form>
    </main>
  );
}
