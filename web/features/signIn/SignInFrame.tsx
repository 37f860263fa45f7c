import type { InputHTMLAttributes, ReactNode } from 'react';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { SmallStrip, StripLegend } from '../../parts/strip/Strip';

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

/** Around signing in: what this is, and the form. */
export function SignInFrame({ children }: { children: ReactNode }) {
  return (
    <main className="mx-auto grid min-h-dvh max-w-5xl content-start gap-10 px-5 py-10 md:grid-cols-[1.1fr_1fr] md:content-center md:items-center">
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
      <section className="border-t-4 border-ink bg-sheet p-6 sm:p-8">{children}</section>
    </main>
  );
}

type Input = InputHTMLAttributes<HTMLInputElement>;

/** Name, password and the button, the same before the page has its script and after. */
export function SignInFields({
  signInName,
  password,
  wrong = {},
  told,
  isBusy = false,
}: {
  signInName: Input;
  password: Input;
  /** What is wrong, by field, in words. */
  wrong?: { signInName?: string; password?: string };
  /** What was refused. */
  told: ReactNode;
  isBusy?: boolean;
}) {
  return (
    <>
      <h1 className="text-2xl">{t('Sign in')}</h1>
      <Field label={t('Sign-in name')} error={wrong.signInName && t(wrong.signInName)}>
        {ties => (
          <input
            {...ties}
            {...signInName}
            autoComplete="username"
            autoCapitalize="none"
            className={inputClass}
          />
        )}
      </Field>
      <Field label={t('Password')} error={wrong.password && t(wrong.password)}>
        {ties => (
          <input
            {...ties}
            {...password}
            type="password"
            autoComplete="current-password"
            className={inputClass}
          />
        )}
      </Field>
      {told}
      <Button look="main" type="submit" disabled={isBusy}>
        {t('Sign in')}
      </Button>
    </>
  );
}

export const SIGN_IN_FORM = 'grid grid-cols-1 gap-5';
