import { SkipBack, SkipForward, Square } from 'lucide-react';
import { inTurn, useInTurn } from './inTurn';
import { t } from '../../base/i18n';

const buttonClass = 'grid min-h-11 min-w-11 place-items-center border-2 border-petrol disabled:opacity-50';

/** Which of several sounds is being played, with the way to the others. Nothing while none are. */
export function TurnLine() {
  const turn = useInTurn();
  if (!turn || turn.tracks.length < 2) return null;
  const { of, tracks, at } = turn;
  return (
    <div
      role="group"
      aria-label={t('Played in turn')}
      className="flex flex-wrap items-center gap-3 bg-petrol-wash px-3 py-1.5 text-petrol-ink"
    >
      <p role="status" className="min-w-0 flex-1 basis-48">
        <span className="tabular">{t('{{passed}} of {{limit}}', { passed: at + 1, limit: tracks.length })}</span>{' '}
        · {of} · <strong className="font-semibold">{tracks[at]!.title}</strong>
      </p>
      <span className="flex gap-1">
        <button
          type="button"
          aria-label={t('The one before')}
          disabled={at === 0}
          onClick={() => inTurn.goTo(at - 1)}
          className={buttonClass}
        >
          <SkipBack aria-hidden className="size-5" />
        </button>
        <button
          type="button"
          aria-label={t('The next one')}
          disabled={at === tracks.length - 1}
          onClick={() => inTurn.goTo(at + 1)}
          className={buttonClass}
        >
          <SkipForward aria-hidden className="size-5" />
        </button>
        <button
          type="button"
          aria-label={t('Stop playing in turn')}
          onClick={() => inTurn.end()}
          className={buttonClass}
        >
          <Square aria-hidden className="size-5" />
        </button>
      </span>
    </div>
  );
}
