import { useEffect, useRef, useState } from 'react';
import { TakeWatch, type Concern } from '@ecoute/core/audio/takeWatch';
import { levelOf, type Microphone } from '../../../parts/recorder/microphone';

const LOOK_EVERY_MS = 150;

/**
 * What is wrong with what is being recorded just now; null when nothing is, and while nothing is recorded. For one take: what
 * was heard before a pause was heard.
 */
export function useConcern({ analyser, stream }: Microphone, isRecording: boolean): Concern | null {
  const [concern, setConcern] = useState<Concern | null>(null);
  const take = useRef<TakeWatch>(null);
  useEffect(() => {
    if (!isRecording) return;
    const track = stream.getAudioTracks()[0];
    const isCleaned = track?.getSettings().noiseSuppression ?? true;
    const watch = (take.current ??= new TakeWatch(performance.now(), isCleaned));
    const timer = setInterval(() => {
      const isMuted = track?.muted ?? false;
      setConcern(watch.look({ peak: levelOf(analyser).peak, isMuted }, performance.now()));
    }, LOOK_EVERY_MS);
    return () => {
      clearInterval(timer);
      setConcern(null);
    };
  }, [analyser, isRecording, stream]);
  return concern;
}
