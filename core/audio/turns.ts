/** Answers within a run of gaps, as in a conversation: who answered how soon, and spoke for how long. */
import type { Stretch } from './activity';
import type { Pitch } from './pitch';
import { percentile } from './ranks';
import { withinGaps } from './speech';

export interface TurnSpeech {
  /** From the beginning of the gap to the first speech in it; null where nobody speaks. */
  latencySec: number | null;
  speakingSec: number;
}

/**
 * What was said in each gap.
 * @param gaps where an answer may be given, in seconds of the recording, in order
 */
export function speechInGaps(stretches: readonly Stretch[], gaps: readonly Stretch[]): TurnSpeech[] {
  return withinGaps(stretches, gaps).map((inside, i) => ({
    latencySec: inside[0] ? inside[0].startSec - gaps[i]!.startSec : null,
    speakingSec: inside.reduce((sum, s) => sum + s.endSec - s.startSec, 0),
  }));
}

export interface PitchRange {
  lowHz: number;
  middleHz: number;
  highHz: number;
  /** From the low to the high one: a monotone voice has 2 or 3, a lively one 10 and more. */
  semitones: number;
}

/** Fewer voiced hops than this say nothing of a voice. */
const LEAST_HOPS = 20;

/** The range that a voice moves in: the middle nine tenths of its pitch. Null where there is too little of it. */
export function pitchRange({ hz }: Pitch): PitchRange | null {
  // By hand: `filter` holds each number as an object meanwhile, eight megabytes of an hour.
  const found = new Float32Array(hz.length);
  let count = 0;
  for (const f of hz) if (f > 0) found[count++] = f;
  const voiced = found.subarray(0, count);
  if (voiced.length < LEAST_HOPS) return null;
  const [lowHz, middleHz, highHz] = [0.05, 0.5, 0.95].map(share => percentile(voiced, share));
  return {
    lowHz: lowHz!,
    middleHz: middleHz!,
    highHz: highHz!,
    semitones: 12 * Math.log2(highHz! / lowHz!),
  };
}
