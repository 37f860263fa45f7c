import { useMemo, type MouseEvent } from 'react';
import type { Evidence } from '@ecoute/core/audio/evidence';
import { t } from '../../base/i18n';
import { inFigures } from '../../parts/figureWords';
import { trackOf } from '../../parts/player/PlayButton';
import { usePositionOf } from '../../parts/player/usePlayer';
import { useWidth } from '../../parts/player/useWidth';
import { playBeside } from './playBeside';

type Beside = NonNullable<Evidence['beside']>;

const HEIGHT_PX = 112;
/** Half tones from the middle that are always in sight. */
const LEAST_SPAN = 6;

/** A line through what has a pitch; it breaks where nothing has. */
function lineOf(
  points: readonly (readonly [number, number | null])[],
  x: (sec: number) => number,
  y: (v: number) => number,
) {
  let isDown = false;
  return points
    .map(([sec, value]) => {
      if (value === null) {
        isDown = false;
        return '';
      }
      const command = isDown ? 'L' : 'M';
      isDown = true;
      return `${command}${x(sec).toFixed(1)} ${y(value).toFixed(1)}`;
    })
    .join('');
}

/** How far the lengths are apart, in words. */
function lengthWords(ratio: number): string {
  const percent = Math.round(100 * Math.abs(ratio - 1));
  if (percent < 5) return t('as long as the model');
  return ratio > 1
    ? t('{{percent}} % longer than the model', { percent })
    : t('{{percent}} % shorter than the model', { percent });
}

/**
 * The melody of a take over that of the sound that it follows, each about its own middle and at the same words or notes. A press
 * plays the model there, and then the take.
 */
export default function BesideModelView({
  beside,
  takeId,
  hearsModel,
  onPlay,
}: {
  beside: Beside;
  /** A prompt that may be heard so many times only is not heard once more here. */
  hearsModel: boolean;
  takeId: string;
  onPlay: (fromMs: number) => void;
}) {
  const [box, widthPx] = useWidth();
  const { path, melodies } = beside;
  const [from, to] = [path[0]![0], path.at(-1)![0]];
  const drawn = useMemo(() => {
    const sizes = melodies
      .flat()
      .flatMap(v => (v === null ? [] : [Math.abs(v)]))
      .sort((a, b) => a - b);
    // What goes beyond nearly all of it is drawn at the edge.
    const most = Math.max(LEAST_SPAN, sizes[Math.floor(0.95 * (sizes.length - 1))] ?? 0) + 1;
    const x = (sec: number) => ((sec - from) / Math.max(0.1, to - from)) * widthPx;
    const y = (v: number) => (HEIGHT_PX / 2) * (1 - Math.max(-1, Math.min(1, v / most)));
    const line = (which: 0 | 1) =>
      lineOf(
        path.map(([sec], i) => [sec, melodies[i]![which]] as const),
        x,
        y,
      );
    return { take: line(0), model: line(1), x };
  }, [path, melodies, from, to, widthPx]);
  const positionMs = usePositionOf(takeId);
  const model = trackOf(beside.recordingId, t('The model'), 'teacher', null);
  const playAt = (sec: number) => {
    const at = path.findLast(([own]) => own <= sec) ?? path[0]!;
    if (hearsModel) playBeside(model, at[1], () => onPlay(1000 * at[0]));
    else onPlay(1000 * at[0]);
  };
  // A finger that scrolls over it presses nothing; by the keyboard it is heard from the beginning.
  const press = (event: MouseEvent<HTMLButtonElement>) => {
    if (event.detail === 0) return playAt(from);
    const { left, width } = event.currentTarget.getBoundingClientRect();
    playAt(from + ((event.clientX - left) / width) * (to - from));
  };
  return (
    <div className="grid gap-1">
      <p className="text-sm">
        <span className="font-semibold">
          {beside.of === 'model' ? t('Beside the model answer') : t('Beside the prompt')}
        </span>{' '}
        <span className="text-soft">
          {t('Full line: this recording. Dashed: the model.')}{' '}
          {hearsModel ? t('Press to hear both from there.') : t('Press to hear this recording from there.')}
        </span>
      </p>
      <div ref={box} dir="ltr">
        <button
          type="button"
          aria-label={hearsModel ? t('Hear the model, then this recording') : t('Hear this recording')}
          onClick={press}
          onKeyDown={event => {
            if (event.key === 'Enter' || event.key === ' ') event.stopPropagation();
          }}
          className="relative w-full cursor-crosshair overflow-hidden bg-sunk"
          style={{ height: HEIGHT_PX }}
        >
          <svg aria-hidden className="pointer-events-none absolute inset-0 h-full w-full">
            <path d={`M0 ${HEIGHT_PX / 2}H${widthPx}`} className="stroke-line" />
            <path
              d={drawn.model}
              fill="none"
              strokeWidth={2}
              strokeDasharray="5 4"
              className="stroke-saffron-ink"
            />
            <path
              d={drawn.take}
              fill="none"
              strokeWidth={2}
              strokeLinecap="round"
              className="stroke-petrol-ink"
            />
          </svg>
          {positionMs !== null && positionMs / 1000 >= from && positionMs / 1000 <= to && (
            <span className="absolute inset-y-0 w-0.5 bg-ink" style={{ left: drawn.x(positionMs / 1000) }} />
          )}
        </button>
      </div>
      <ul aria-label={t('Beside the model')} className="flex flex-wrap gap-x-6">
        {beside.melodySemitones !== null && (
          <li>
            {t('melody mostly within {{size}} half tones of the model', {
              size: inFigures(beside.melodySemitones, 1),
            })}
          </li>
        )}
        {beside.places > 0 && (
          <li>
            {t('goes the other way at {{apart}} of {{places}} places where the model rises or falls', {
              apart: beside.placesApart,
              places: beside.places,
            })}
          </li>
        )}
        <li>{lengthWords(beside.lengthRatio)}</li>
        {beside.pauses && (
          <li>
            {t('pauses: {{n}} ({{sec}} s), the model {{m}} ({{modelSec}} s)', {
              n: beside.pauses.count,
              sec: inFigures(beside.pauses.sec, 1),
              m: beside.pauses.modelCount,
              modelSec: inFigures(beside.pauses.modelSec, 1),
            })}
          </li>
        )}
      </ul>
    </div>
  );
}
