import { useEffect, useRef } from 'react';
import { beepAt, type Microphone } from '../../../parts/recorder/microphone';

const TONE_HZ = 660;

/**
 * Sounds a short tone once, when the time of a recording becomes short. Not where a recording began as short as that: who has
 * a few seconds in all knows it.
 * @param isNear the time is nearly over
 */
export function useEndTone(sounds: boolean, isNear: boolean, { context }: Pick<Microphone, 'context'>): void {
  const was = useRef(isNear);
  useEffect(() => {
    if (isNear && !was.current && sounds) beepAt(context, context.currentTime, TONE_HZ);
    was.current = isNear;
  }, [context, isNear, sounds]);
}
