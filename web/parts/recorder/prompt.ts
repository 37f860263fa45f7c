/** A prompt that is heard before the answer, on the same audio clock as beep, preparing time and recording. */

/** From the decision to the first sample: time to have it scheduled. */
const LEAD_SEC = 0.05;

/** Longer ones are streamed: decoded as a whole they would fill a phone's memory. In ms. */
export const LONGEST_DECODED_MS = 5 * 60_000;

export interface SoundingPrompt {
  /** First and last sample leave the device, in seconds of the context. */
  startSec: number;
  endSec: number;
  /** Ms since its first sample; negative before it. */
  positionMs(): number;
  /** Ends it; `onEnd` is not called any more. */
  stop(): void;
}

/**
 * Lets a prompt sound.
 * @param onEnd called once its last sample has left
 */
export function playPrompt(context: AudioContext, sound: AudioBuffer, onEnd: () => void): SoundingPrompt {
  const startSec = context.currentTime + LEAD_SEC;
  const source = context.createBufferSource();
  source.buffer = sound;
  source.connect(context.destination);
  source.onended = onEnd;
  source.start(startSec);
  return {
    startSec,
    endSec: startSec + sound.duration,
    positionMs: () => (context.currentTime - startSec) * 1000,
    stop() {
      source.onended = null;
      source.stop();
      source.disconnect();
    },
  };
}

/** An instant by one clock (ms since 1970) as a moment of the context. @param nowMs the same clock, now */
export function momentOf(context: Pick<AudioContext, 'currentTime'>, atMs: number, nowMs: number): number {
  return context.currentTime + (atMs - nowMs) / 1000;
}

/** The other way round. @returns ms since 1970 */
export function instantOf(context: Pick<AudioContext, 'currentTime'>, sec: number, nowMs: number): number {
  return Math.round(nowMs + (sec - context.currentTime) * 1000);
}
