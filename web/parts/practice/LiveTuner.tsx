import { useEffect, useState } from 'react';
import { TUNER_WINDOW_SEC, type HeardNow } from '@ecoute/core/audio/tuner';
import { noteName } from '@ecoute/core/formats/musicXml';
import { t } from '../../base/i18n';
import { inFigures } from '../figureWords';
import type { Microphone } from '../recorder/microphone';

const EVERY_MS = 110;
/** The last tone stays to be read for a moment after it has ended. */
const STAYS_MS = 900;
/** Nearer than this counts as in tune. */
const NEAR_CENTS = 8;
const FLOOR_DBFS = -60;

/** What the microphone hears, many times a second, worked out in a worker. */
function useHeardNow({ context, source }: Microphone): HeardNow | null {
  const [heard, setHeard] = useState<HeardNow | null>(null);
  useEffect(() => {
    const worker = new Worker(new URL('./tuner.worker.ts', import.meta.url), { type: 'module' });
    const analyser = new AnalyserNode(context, { fftSize: 32_768 });
    source.connect(analyser);
    const all = new Float32Array(analyser.fftSize);
    let isBusy = false;
    worker.onmessage = ({ data }: MessageEvent<HeardNow>) => {
      isBusy = false;
      setHeard(data);
    };
    const timer = setInterval(() => {
      // A slow device answers less often, and never falls behind.
      if (isBusy) return;
      isBusy = true;
      analyser.getFloatTimeDomainData(all);
      const samples = all.slice(-Math.round(context.sampleRate * TUNER_WINDOW_SEC));
      worker.postMessage({ samples, rateHz: context.sampleRate }, [samples.buffer]);
    }, EVERY_MS);
    return () => {
      clearInterval(timer);
      source.disconnect(analyser);
      worker.terminate();
    };
  }, [context, source]);
  return heard;
}

/** The last tone, for a moment longer than it sounds. */
function useLastTone(heard: HeardNow | null): HeardNow | null {
  const [tone, setTone] = useState<HeardNow | null>(null);
  useEffect(() => {
    if (heard?.midi != null) {
      setTone(heard);
      return;
    }
    const timer = setTimeout(() => setTone(null), STAYS_MS);
    return () => clearTimeout(timer);
  }, [heard]);
  return tone;
}

/** Note, distance from it, and level, while somebody plays or sings. Nothing of it is kept. */
export default function LiveTuner({ microphone }: { microphone: Microphone }) {
  const heard = useHeardNow(microphone);
  const tone = useLastTone(heard);
  const cents = tone?.cents ?? null;
  const level = Math.max(0, Math.min(1, 1 - (heard?.dbfs ?? FLOOR_DBFS) / FLOOR_DBFS));
  const isNear = cents !== null && Math.abs(cents) <= NEAR_CENTS;
  return (
    <div role="group" aria-label={t('Tuner')} className="grid grid-cols-1 gap-2 bg-sunk p-3">
      <p className="flex items-baseline justify-between gap-3">
        <span className="tabular text-3xl" data-testid="tuner-note">
          {tone?.midi == null ? '–' : noteName(tone.midi)}
        </span>
        <span className="tabular">
          {cents === null
            ? t('no tone')
            : isNear
              ? t('in tune')
              : `${cents > 0 ? '▲' : '▼'} ${inFigures(cents, 0, true)} ${t('cents')}`}
        </span>
      </p>
      <svg aria-hidden viewBox="0 0 200 22" preserveAspectRatio="none" className="h-6 w-full">
        <path d="M0 16H200" className="stroke-edge" />
        {[-50, -25, 0, 25, 50].map(c => (
          <path key={c} d={`M${100 + 1.98 * c} ${c === 0 ? 2 : 10}V20`} className="stroke-ink" />
        ))}
        {cents !== null && (
          <rect
            x={100 + 1.98 * cents - 2}
            y={3}
            width={4}
            height={16}
            className={isNear ? 'fill-ink' : 'fill-petrol'}
          />
        )}
      </svg>
      <div className="h-1.5 bg-line" aria-hidden>
        <div className="h-full bg-petrol" style={{ width: `${100 * level}%` }} />
      </div>
    </div>
  );
}
