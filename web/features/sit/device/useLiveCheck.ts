import { useEffect, useState } from 'react';
import { isTelephone, LiveCheck } from '@ecoute/core/audio/liveCheck';
import type { CheckVerdict } from '@ecoute/core/audio/soundCheck';
import type { Microphone } from '../../../parts/recorder/microphone';

const LOOK_EVERY_MS = 50;

export interface Heard {
  /** Null while there is too little to go by. */
  verdict: CheckVerdict | 'muted' | null;
  isTelephone: boolean;
}

/** What an open microphone hears, judged while somebody speaks; nothing is recorded. @param paused while a test records */
export function useLiveCheck(microphone: Microphone | null, paused: boolean): Heard {
  const [heard, setHeard] = useState<Heard>({ verdict: null, isTelephone: false });
  useEffect(() => {
    setHeard({ verdict: null, isTelephone: false });
    if (!microphone || paused) return;
    const { analyser, context, stream } = microphone;
    const check = new LiveCheck(context.sampleRate, performance.now());
    const samples = new Float32Array(analyser.fftSize);
    const bins = new Float32Array(analyser.frequencyBinCount);
    const highest = new Float32Array(analyser.frequencyBinCount).fill(-Infinity);
    const timer = setInterval(() => {
      analyser.getFloatTimeDomainData(samples);
      const verdict = stream.getAudioTracks()[0]?.muted ? 'muted' : check.hear(samples, performance.now());
      analyser.getFloatFrequencyData(bins);
      for (let i = 0; i < bins.length; i++) highest[i] = Math.max(highest[i]!, bins[i]!);
      const telephone =
        verdict !== null && verdict !== 'silent' && verdict !== 'muted'
          ? isTelephone(highest, context.sampleRate) === true
          : false;
      setHeard(was =>
        was.verdict === verdict && was.isTelephone === telephone ? was : { verdict, isTelephone: telephone },
      );
    }, LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, [microphone, paused]);
  return heard;
}
