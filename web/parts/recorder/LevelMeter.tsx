import { useEffect, useRef } from 'react';
import { levelEveryMs, levelOf, onScale } from './microphone';
import { t } from '../../base/i18n';

/** How fast the highest moment sinks, in parts of the scale. */
const FALLS_A_SECOND = 0.48;

/** The level, live: a bar that follows the voice, with the highest moment of the last second. */
export function LevelMeter({
  analyser,
  recording = false,
  slim = false,
}: {
  analyser: AnalyserNode;
  recording?: boolean;
  /** As one line of a bar. */
  slim?: boolean;
}) {
  const bar = useRef<HTMLDivElement>(null);
  const top = useRef<HTMLDivElement>(null);
  useEffect(() => {
    let held = 0;
    // By a timer: asking for each frame is a third of what a slow phone does while it records.
    const everyMs = levelEveryMs(recording);
    const timer = setInterval(() => {
      const { peak, rms } = levelOf(analyser);
      held = Math.max(onScale(peak), held - FALLS_A_SECOND * (everyMs / 1_000));
      if (bar.current) bar.current.style.transform = `scaleX(${onScale(rms * 1.4)})`;
      // Moved, not laid out: a slow phone records at the same time.
      if (top.current) top.current.style.transform = `translateX(${held * 100}%)`;
    }, everyMs);
    return () => clearInterval(timer);
  }, [analyser, recording]);
  return (
    <div
      role="img"
      aria-label={t('Level of the microphone')}
      className={`relative w-full overflow-hidden border border-edge bg-sunk ${slim ? 'h-3' : 'h-5'}`}
    >
      <div
        ref={bar}
        className={`h-full w-full origin-left will-change-transform ${recording ? 'bg-vermilion' : 'bg-petrol'}`}
        style={{ transform: 'scaleX(0)' }}
      />
      <div ref={top} className="absolute inset-0 border-l-2 border-ink will-change-transform" />
      <div
        aria-hidden
        className="absolute inset-y-0 border-s border-dashed border-edge"
        style={{ left: '95%' }}
      />
    </div>
  );
}
