import { useEffect, useRef } from 'react';
import { levelEveryMs, levelOf, onScale } from '../../../parts/recorder/microphone';

/** A disc that grows with what the microphone hears. */
export function HearsYou({
  analyser,
  isRecording,
  small = false,
}: {
  analyser: AnalyserNode;
  isRecording: boolean;
  /** Under a picture that is spoken about. */
  small?: boolean;
}) {
  const disc = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const timer = setInterval(() => {
      const loud = onScale(levelOf(analyser).rms * 1.4);
      if (disc.current) disc.current.style.transform = `scale(${0.2 + 0.8 * loud})`;
    }, levelEveryMs(isRecording));
    return () => clearInterval(timer);
  }, [analyser, isRecording]);
  return (
    <div
      aria-hidden
      className={`grid place-items-center rounded-full border-4 border-line ${small ? 'mt-3 size-16 low:hidden' : 'size-40 low:size-28'}`}
    >
      <div
        ref={disc}
        className={`rounded-full ${small ? 'size-14' : 'size-36 low:size-24'} ${isRecording ? 'bg-vermilion' : 'bg-petrol'}`}
        style={{ transform: 'scale(0.2)' }}
      />
    </div>
  );
}
