import { Pause, Play, RotateCcw, X } from 'lucide-react';
import { clock } from '@ecoute/core/timing/words';
import { RATES } from './player';
import { player, usePlayer } from './usePlayer';
import { t } from '../../app/i18n';

/** Play, speed, position: at the bottom of the page while anything is there to play. */
export function TransportBar() {
  const { track, playing, positionMs, rate, trouble } = usePlayer();
  if (!track) return null;
  const durationMs = player.durationMs();
  return (
    <section
      aria-label={t('Transport')}
      className="fixed inset-x-0 bottom-0 z-40 border-t-2 border-ink bg-sheet pb-[env(safe-area-inset-bottom)]"
    >
      <div className="mx-auto flex max-w-[1400px] items-center gap-3 px-4 py-2">
        <button
          type="button"
          onClick={() => void player.toggle()}
          aria-label={playing ? t('Pause') : t('Play')}
          className="grid size-11 shrink-0 place-items-center rounded-[3px] bg-ink text-sheet"
        >
          {playing ? <Pause aria-hidden className="size-5" /> : <Play aria-hidden className="size-5" />}
        </button>
        <button
          type="button"
          onClick={() => player.skip(-3_000)}
          aria-label={t('Back 3 seconds')}
          className="hidden size-11 shrink-0 place-items-center sm:grid"
        >
          <RotateCcw aria-hidden className="size-5" />
        </button>
        <div className="min-w-0 flex-1">
          <div className="flex items-baseline gap-2 text-sm">
            <span
              className={`inline-block h-2.5 w-4 shrink-0 ${track.voice === 'teacher' ? 'slanted bg-saffron' : 'bg-petrol'}`}
            />
            <span className="truncate">{trouble ? t(trouble) : track.title}</span>
            <span className="tabular ms-auto shrink-0">
              {clock(positionMs)} / {clock(durationMs)}
            </span>
          </div>
          <input
            type="range"
            aria-label={t('Position')}
            aria-valuetext={t('{{passed}} of {{limit}}', {
              passed: clock(positionMs),
              limit: clock(durationMs),
            })}
            min={0}
            max={Math.max(1, Math.round(durationMs))}
            value={Math.round(Math.min(positionMs, durationMs || positionMs))}
            onChange={e => player.seek(Number(e.target.value))}
            className={`block w-full ${track.voice === 'teacher' ? 'accent-saffron' : 'accent-petrol'}`}
          />
        </div>
        <label className="flex items-center gap-2 text-sm">
          <span className="max-sm:sr-only">{t('Speed')}</span>
          <select
            value={rate}
            onChange={e => player.setRate(Number(e.target.value))}
            className="tabular min-h-11 border-2 border-edge bg-sheet px-1"
          >
            {RATES.map(r => (
              <option key={r} value={r}>
                {r}×
              </option>
            ))}
          </select>
        </label>
        <button
          type="button"
          onClick={() => player.close()}
          aria-label={t('Close the transport')}
          className="grid size-11 shrink-0 place-items-center"
        >
          <X aria-hidden className="size-5" />
        </button>
      </div>
    </section>
  );
}
