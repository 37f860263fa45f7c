import { FastForward, Pause, Play, Repeat, RotateCcw, SkipBack, SkipForward, X } from 'lucide-react';
import { useEffect } from 'react';
import { silencesOf } from '@ecoute/core/audio/peaks';
import { clock } from '@ecoute/core/timing/words';
import { inTurn, useInTurn } from './inTurn';
import { RATES } from './player';
import { player, usePeaks, usePlayer } from './usePlayer';
import { t } from '../../base/i18n';

/** Play, speed, position: at the bottom of the page while anything is there to play. */
export function TransportBar() {
  const { track, playing, positionMs, rate, loop, skipsSilence, trouble } = usePlayer();
  const peaks = usePeaks(skipsSilence && track ? track.id : null, track?.durationMs ?? null);
  useEffect(() => {
    if (track && peaks) player.setSilences(track.id, silencesOf(peaks));
  }, [peaks, track]);
  const turn = useInTurn();
  const isShown = track !== null;
  useEffect(() => {
    // What takes the focus by Tab is not under the bar.
    const { style } = document.documentElement;
    style.scrollPaddingBottom = isShown ? '5rem' : '';
    return () => void (style.scrollPaddingBottom = '');
  }, [isShown]);
  if (!track) return null;
  const durationMs = player.durationMs();
  const others = turn && turn.tracks.length > 1 ? turn : null;
  return (
    <section
      aria-label={t('Transport')}
      className="fixed inset-x-0 bottom-0 z-40 border-t-2 border-ink bg-sheet pb-[env(safe-area-inset-bottom)]"
    >
      {/* With the ways to the others beside it, a phone has no room for who speaks. */}
      {others && (
        <p dir="auto" className="truncate px-3 pt-1 text-sm sm:hidden">
          {trouble ? t(trouble) : track.title}
        </p>
      )}
      <div className="mx-auto flex max-w-[1400px] items-center gap-3 px-4 py-2 max-sm:gap-1 max-sm:px-2">
        <button
          type="button"
          onClick={() => void player.toggle()}
          aria-label={playing ? t('Pause') : t('Play')}
          className="grid size-11 shrink-0 place-items-center rounded-[3px] bg-ink text-sheet"
        >
          {playing ? <Pause aria-hidden className="size-5" /> : <Play aria-hidden className="size-5" />}
        </button>
        {others && (
          <>
            <button
              type="button"
              onClick={() => inTurn.goTo(others.at - 1)}
              disabled={others.at === 0}
              aria-label={t('The one before')}
              className="grid size-11 shrink-0 place-items-center disabled:opacity-40"
            >
              <SkipBack aria-hidden className="size-5" />
            </button>
            <button
              type="button"
              onClick={() => inTurn.goTo(others.at + 1)}
              disabled={others.at === others.tracks.length - 1}
              aria-label={t('The next one')}
              className="grid size-11 shrink-0 place-items-center disabled:opacity-40"
            >
              <SkipForward aria-hidden className="size-5" />
            </button>
          </>
        )}
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
            {others && (
              <span className="tabular shrink-0">
                {t('{{passed}} of {{limit}}', { passed: others.at + 1, limit: others.tracks.length })}
              </span>
            )}
            <span className={`truncate ${others ? 'max-sm:hidden' : ''}`}>
              {trouble ? t(trouble) : others ? `${others.of} · ${track.title}` : track.title}
            </span>
            {loop && (
              <span className="tabular shrink-0 text-soft max-sm:hidden">
                {loop.toMs === null
                  ? t('repeats from {{from}} to …', { from: clock(loop.fromMs) })
                  : t('repeats {{from}}–{{to}}', { from: clock(loop.fromMs), to: clock(loop.toMs) })}
              </span>
            )}
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
        <button
          type="button"
          aria-pressed={loop !== null}
          aria-label={
            loop === null
              ? t('Repeat from here')
              : loop.toMs === null
                ? t('Repeat up to here')
                : t('End the repeating')
          }
          onClick={() => player.markLoop()}
          className={`size-11 shrink-0 place-items-center border-2 border-transparent aria-pressed:border-ink ${others ? 'hidden sm:grid' : 'grid'}`}
        >
          <Repeat aria-hidden className="size-5" />
        </button>
        <button
          type="button"
          aria-pressed={skipsSilence}
          aria-label={t('Leave silences out')}
          onClick={() => player.setSkipsSilence(!skipsSilence)}
          className="hidden size-11 shrink-0 place-items-center border-2 border-transparent aria-pressed:border-ink sm:grid"
        >
          <FastForward aria-hidden className="size-5" />
        </button>
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
