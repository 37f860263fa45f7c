import { useEffect, useRef } from 'react';
import { dbfs } from '@ecoute/core/audio/peaks';
import { levelOf } from './microphone';
import { t } from '../../base/i18n';

const QUIETEST_DB = -60;

/** 0…1 on a scale of decibels, so that a soft voice is seen too. */
function onScale(amplitude: number): number {
  return Math.max(0, Math.min(1, 1 - dbfs(amplitude) / QUIETEST_DB));
}

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
    let frame = 0;
    let held = 0;
    const draw = () => {
      const { peak, rms } = levelOf(analyser);
      held = Math.max(onScale(peak), held - 0.008);
      if (bar.current) bar.current.style.transform = `scaleX(${onScale(rms * 1.4)})`;
      if (top.current) top.current.style.left = `${held * 100}%`;
      frame = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, [analyser]);
  return (
    <div
      role="img"
      aria-label={t('Level of the microphone')}
      className={`relative w-full overflow-hidden border border-edge bg-sunk ${slim ? 'h-3' : 'h-5'}`}
    >
      <div
        ref={bar}
        className={`h-full w-full origin-left ${recording ? 'bg-vermilion' : 'bg-petrol'}`}
        style={{ transform: 'scaleX(0)' }}
      />
      <div ref={top} className="absolute inset-y-0 w-0.5 bg-ink" />
      <div
        aria-hidden
        className="absolute inset-y-0 border-s border-dashed border-edge"
        style={{ left: '95%' }}
      />
    </div>
  );
}
