import { useMemo, type PointerEvent } from 'react';
import { expectedNotes, type Evidence } from '@ecoute/core/audio/evidence';
import { t } from '../../base/i18n';
import { useWidth } from '../../parts/player/useWidth';
import { centsShown, pitchNames, pitchPath, xOf, yOf, type PitchFrame } from './pitchLine';

/** Half the height of a note of the target, in cents. */
const NOTE_CENTS = 45;
/** Its leading edge is slanted by so many pixels: the teacher's. */
const SLANT_PX = 4;
/** Asked for by a click near a note, playing begins a little before it. */
const LEAD_SEC = 0.06;

/** A note of the target: a bar whose leading edge is slanted. */
function barOf(frame: PitchFrame, note: { startSec: number; endSec: number; cents: number }): string {
  const [x, end] = [xOf(frame, note.startSec), xOf(frame, note.endSec) - 1];
  const [top, bottom] = [yOf(frame, note.cents + NOTE_CENTS), yOf(frame, note.cents - NOTE_CENTS)];
  const slant = Math.min(SLANT_PX, (end - x) / 2);
  return `M${x} ${bottom}L${x + slant} ${top}H${end}V${bottom}Z`;
}

/**
 * The pitch of a recording over time, on the waveform's own scale; for music over the line of its target. Clicking plays from
 * there, on a note from its beginning.
 */
export function PitchTrack({
  evidence,
  fullMs,
  positionMs,
  height = 128,
  onPlay,
}: {
  evidence: Evidence;
  /** What the width stands for; the recording's own length where nothing is said. */
  fullMs?: number;
  positionMs: number | null;
  height?: number;
  onPlay: (fromMs: number) => void;
}) {
  const [box, widthPx] = useWidth();
  const spanMs = Math.max(fullMs ?? 0, 1000 * evidence.durationSec, 1);
  const expected = useMemo(() => expectedNotes(evidence), [evidence]);
  const drawn = useMemo(() => {
    if (widthPx === 0) return null;
    const [lowCents, highCents] = centsShown(evidence, expected);
    const frame = { widthPx, heightPx: height, spanMs, lowCents, highCents };
    return { frame, line: pitchPath(evidence.pitch, frame), names: pitchNames(frame, expected) };
  }, [evidence, expected, height, spanMs, widthPx]);
  // Only the playhead moves while it plays.
  const picture = useMemo(
    () =>
      drawn && (
        <svg aria-hidden className="pointer-events-none absolute inset-0 h-full w-full">
          {drawn.names.map(n => (
            <line
              key={n.cents}
              x1={0}
              x2={widthPx}
              y1={yOf(drawn.frame, n.cents)}
              y2={yOf(drawn.frame, n.cents)}
              className="stroke-line"
            />
          ))}
          {expected.map(n => {
            const isMissed = evidence.target!.notes[n.index]?.status === 'missed';
            return (
              <path
                key={n.index}
                d={barOf(drawn.frame, n)}
                strokeDasharray={isMissed ? '3 3' : undefined}
                className={`stroke-saffron-ink ${isMissed ? 'fill-none' : 'fill-saffron-wash'}`}
              />
            );
          })}
          <path
            d={drawn.line}
            fill="none"
            strokeWidth={2}
            strokeLinecap="round"
            className="stroke-petrol-ink"
          />
        </svg>
      ),
    [drawn, expected, evidence, widthPx],
  );
  const { range } = evidence.pitch;
  const seek = (event: PointerEvent<HTMLDivElement>) => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    const sec = (((event.clientX - left) / width) * spanMs) / 1000;
    const begun = evidence.notes?.find(n => sec >= n.startSec && sec <= n.endSec)?.startSec;
    onPlay(1000 * Math.max(0, Math.min(evidence.durationSec, (begun ?? sec) - (begun ? LEAD_SEC : 0))));
  };
  const words =
    expected.length > 0
      ? evidence.target?.of === 'model'
        ? t('Pitch over the line of the model')
        : t('Pitch over the line of the score')
      : range
        ? t('Pitch, mostly from {{low}} to {{high}} Hz', {
            low: Math.round(range.lowHz),
            high: Math.round(range.highHz),
          })
        : t('Pitch');
  return (
    <div
      ref={box}
      dir="ltr"
      role="img"
      aria-label={words}
      className="relative w-full cursor-crosshair overflow-hidden bg-sunk"
      style={{ height }}
      onPointerDown={seek}
    >
      {picture}
      {drawn?.names.map(n => (
        <span
          key={n.cents}
          aria-hidden
          className="tabular pointer-events-none absolute start-0.5 -translate-y-1/2 bg-sunk px-0.5 text-xs leading-none text-soft"
          style={{ top: yOf(drawn.frame, n.cents) }}
        >
          {n.name}
        </span>
      ))}
      {positionMs !== null && (
        <div
          className="absolute inset-y-0 w-0.5 bg-ink"
          style={{ left: `${(100 * positionMs) / spanMs}%` }}
        />
      )}
    </div>
  );
}
