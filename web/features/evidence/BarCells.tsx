import { memo, useMemo } from 'react';
import type { MeasuredTarget } from '@ecoute/core/audio/besideScore';
import { barsPlayed, type PlayedBar } from '@ecoute/core/polyphony/barsPlayed';
import { t } from '../../base/i18n';
import { usePlayed } from '../../parts/player/usePlayer';
import { inFigures } from '../../parts/figureWords';

/** A tempo that is further from the whole's is worth a look. */
const PERCENT_WORTH = 12;
/** Heard a little before its bar, so that its beginning is not cut. */
const LEAD_MS = 80;

/** How the tempo of a bar lies beside the whole's, with a sign that tells its direction without colour. */
function Pace({ bpm, whole }: { bpm: number; whole: number }) {
  const percent = 100 * (bpm / whole - 1);
  const isWorth = Math.abs(percent) >= PERCENT_WORTH;
  return (
    <span className={`block ${isWorth ? 'font-semibold' : 'text-soft'}`}>
      {isWorth && <span aria-hidden>{percent > 0 ? '▶' : '◀'}</span>}
      {inFigures(percent, 0, true)} %
    </span>
  );
}

function Happened({ bar }: { bar: PlayedBar }) {
  return (
    <>
      {bar.waitedSec > 0 && (
        <span className="block font-semibold">
          {t('waited {{sec}} s', { sec: inFigures(bar.waitedSec, 1) })}
        </span>
      )}
      {bar.missed > 0 && (
        <span className="block border border-dashed border-edge px-1">
          {t('{{n}} not heard', { n: bar.missed })}
        </span>
      )}
    </>
  );
}

/** Bar by bar as it was played, where several notes sound at once: its pace, waits, what was begun again. Pressing one plays it. */
const BarCells = memo(function BarCells({
  target,
  takeId,
  onPlay,
}: {
  target: MeasuredTarget;
  takeId: string;
  onPlay: (fromMs: number) => void;
}) {
  const bars = useMemo(
    () => (target.followed ? barsPlayed(target.followed, target.tempoCurve) : []),
    [target],
  );
  // Drawn again from bar to bar, not with every tick of what plays.
  const sounding = usePlayed(({ track, positionMs }) =>
    track?.id === takeId ? bars.findLastIndex(b => 'measure' in b && 1000 * b.atSec <= positionMs + 20) : -1,
  );
  return (
    <div className="grid grid-cols-1 gap-1">
      <ol
        aria-label={t('Bar by bar, against the score')}
        className="relative flex max-h-72 flex-wrap overflow-y-auto ps-px pt-px"
      >
        {bars.map((bar, i) =>
          'leftOut' in bar ? (
            <li key={i} className="-ms-px -mt-px min-w-18 border border-dashed border-edge px-2 py-1 text-sm">
              {t('bars {{from}} to {{to}} left out', bar.leftOut)}
            </li>
          ) : (
            <li
              key={i}
              className={`-ms-px -mt-px flex min-w-18 border border-line ${bar.isAgain ? 'ms-2 border-s-4 border-s-petrol-ink' : ''}`}
            >
              <button
                type="button"
                aria-current={i === sounding || undefined}
                onClick={() => onPlay(Math.max(0, 1000 * bar.atSec - LEAD_MS))}
                className="tabular w-full px-2 py-1 text-start text-sm leading-tight aria-[current]:bg-petrol-wash"
              >
                {bar.isAgain && <span className="block font-semibold">{t('again from')}</span>}
                <span className="block font-semibold">
                  {t('bar')} {bar.measure}
                </span>
                {target.bpm !== null && <Pace bpm={bar.bpm} whole={target.bpm} />}
                <Happened bar={bar} />
              </button>
            </li>
          ),
        )}
      </ol>
      <p className="text-sm text-soft">
        {t(
          'Percent: faster (+) or slower (−) than the whole. Single notes and their tuning are not judged where several sound at once.',
        )}
      </p>
    </div>
  );
});

export default BarCells;
