import { partAt, runOf } from '@ecoute/core/timing/conversation';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import { t } from '../../../base/i18n';
import { useWake } from './useCountdown';

/** Until the run sounds, and once nobody's turn is left, so often is looked again. */
const LOOKS_MS = 200;

/** In a conversation: who speaks now, and for how long. */
export function WhoSpeaks({ item, positionMs }: { item: Item; positionMs: () => number | null }) {
  const run = runOf(item.turns);
  const at = Math.max(0, positionMs() ?? 0);
  const part = partAt(run, at);
  // It is said at its moment whose turn it is, and a second is shown when it begins.
  useWake(part ? (part.endMs - at) % 1_000 || 1_000 : LOOKS_MS);
  const turns = item.turns.length;
  // What is still on its way from the microphone when the last gap is over is nobody's turn any more.
  if (!part && at > 0) return null;
  if (!part || part.kind === 'turn')
    return (
      <p className="flex items-baseline gap-3 border-s-4 border-saffron bg-saffron-wash px-4 py-2">
        <span className="text-xl">{t('Listen …')}</span>{' '}
        <span className="text-sm">
          {t('turn {{number}} of {{total}}', { number: (part?.index ?? 0) + 1, total: turns })}
        </span>
      </p>
    );
  return (
    <p className="flex items-baseline gap-3 border-s-4 border-petrol bg-petrol-wash px-4 py-2">
      <span className="text-xl font-semibold">{t('Your turn: speak')}</span>{' '}
      <span className="tabular text-4xl" data-testid="gap-left">
        {clock(part.endMs - at + 999)}
      </span>{' '}
      <span className="text-sm">
        {t('after turn {{number}} of {{total}}', { number: part.index + 1, total: turns })}
      </span>
    </p>
  );
}
