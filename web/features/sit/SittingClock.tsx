import { clock } from '@ecoute/core/timing/words';
import { t } from '../../base/i18n';
import { useCountdown } from './answers/useCountdown';

/** What is left of a limited sitting. @param upAtMs when its time is up, by the server's clock */
export function SittingClock({ upAtMs }: { upAtMs: number }) {
  const now = useCountdown(upAtMs);
  if (now >= upAtMs) return null;
  return (
    <p className="text-end" role="timer" aria-label={t('Time left in this sitting')}>
      <span className="text-sm text-soft">{t('Time left in this sitting')} </span>
      <span className="tabular text-xl">{clock(upAtMs - now + 999)}</span>
    </p>
  );
}
