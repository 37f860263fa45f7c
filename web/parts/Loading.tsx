import type { Refusal } from '../base/api';
import { Button } from './Button';
import { Notice } from './Notice';
import { t } from '../base/i18n';

/** Keeps the place of a list while it loads, so that nothing jumps. */
export function Loading({ rows = 4, height = 56 }: { rows?: number; height?: number }) {
  return (
    <div role="status" aria-label={t('Loading')} className="grid gap-px">
      {Array.from({ length: rows }, (_, i) => (
        <div key={i} className="bg-sheet opacity-60" style={{ height }} />
      ))}
    </div>
  );
}

/** What to show where a query failed. */
export function Failed({ error, again }: { error: unknown; again: () => void }) {
  const { message } = (error ?? {}) as Partial<Refusal>;
  return (
    <Notice kind="trouble" action={<Button onClick={again}>{t('Try again')}</Button>}>
      {message ? t(message) : t('Something went wrong. Try again.')}
    </Notice>
  );
}
