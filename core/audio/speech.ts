/** What can be said of spoken answers: pauses, runs and rates. */
import type { Stretch } from './activity';

export interface SpeechFigures {
  /** From the first to the last speech, less the pauses. Seconds, like all times here. */
  speakingSec: number;
  pauseSec: number;
  pauseCount: number;
  longestPauseSec: number;
  initialSilenceSec: number;
  syllables: number;
  /** Syllables a second from the first to the last speech, pauses included; null where nobody speaks. */
  speechRate: number | null;
  /** Syllables a second of speaking time. */
  articulationRate: number | null;
  /** Mean length of speech between pauses. */
  meanRunSec: number | null;
}

/** The silences between stretches of speech. */
export function pausesBetween(stretches: readonly Stretch[]): Stretch[] {
  return stretches.slice(1).map((s, i) => ({ startSec: stretches[i]!.endSec, endSec: s.startSec }));
}

/**
 * Figures of a spoken answer, by the definitions usual in research on fluency (S. Kormos and M. Dénes, "Exploring measures
 * and perceptions of fluency in the speech of second language learners", System 32(2), 2004).
 * @param stretches where somebody speaks, apart by pauses
 * @param durationSec of the whole recording
 */
export function speechFigures(
  stretches: readonly Stretch[],
  syllables: number,
  durationSec: number,
): SpeechFigures {
  const pauses = pausesBetween(stretches).map(p => p.endSec - p.startSec);
  const pauseSec = pauses.reduce((a, b) => a + b, 0);
  const first = stretches[0]?.startSec ?? durationSec;
  const last = stretches.at(-1)?.endSec ?? durationSec;
  const speakingSec = Math.max(0, last - first - pauseSec);
  const isSpoken = speakingSec > 0;
  return {
    speakingSec,
    pauseSec,
    pauseCount: pauses.length,
    longestPauseSec: Math.max(0, ...pauses),
    initialSilenceSec: first,
    syllables,
    speechRate: isSpoken ? syllables / (last - first) : null,
    articulationRate: isSpoken ? syllables / speakingSec : null,
    meanRunSec: isSpoken ? speakingSec / (pauses.length + 1) : null,
  };
}
