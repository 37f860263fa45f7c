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

/** What is cut off at the beginning of a gap and is shorter than this is the end of what sounded before it. */
const TAIL_SEC = 0.15;

/** The pieces of stretches that lie inside each of some gaps; an empty list for a gap in which nobody speaks. */
export function withinGaps(stretches: readonly Stretch[], gaps: readonly Stretch[]): Stretch[][] {
  return gaps.map(gap =>
    stretches
      .map(s => ({
        startSec: Math.max(s.startSec, gap.startSec),
        endSec: Math.min(s.endSec, gap.endSec),
      }))
      .filter(s => s.endSec - s.startSec > (s.startSec === gap.startSec ? TAIL_SEC : 0)),
  );
}

/**
 * Figures of a spoken answer, by the definitions usual in research on fluency (S. Kormos and M. Dénes, "Exploring measures
 * and perceptions of fluency in the speech of second language learners", System 32(2), 2004).
 * @param answers where somebody speaks, apart by pauses; several lists for the several answers of a conversation, between
 *   which no silence counts as a pause
 * @param openSec how long somebody could have spoken before the first of it: the silence before an answer without any
 * @param fromSec from when somebody could have spoken
 */
export function speechFigures(
  answers: readonly (readonly Stretch[])[],
  syllables: number,
  openSec: number,
  fromSec = 0,
): SpeechFigures {
  const spoken = answers.filter(a => a.length > 0);
  const pauses = spoken.flatMap(pausesBetween).map(p => p.endSec - p.startSec);
  const pauseSec = pauses.reduce((a, b) => a + b, 0);
  const spanSec = spoken.reduce((sum, a) => sum + a.at(-1)!.endSec - a[0]!.startSec, 0);
  const speakingSec = Math.max(0, spanSec - pauseSec);
  const isSpoken = speakingSec > 0;
  return {
    speakingSec,
    pauseSec,
    pauseCount: pauses.length,
    longestPauseSec: Math.max(0, ...pauses),
    initialSilenceSec: spoken[0] ? Math.max(0, spoken[0][0]!.startSec - fromSec) : openSec,
    syllables,
    speechRate: isSpoken ? syllables / spanSec : null,
    articulationRate: isSpoken ? syllables / speakingSec : null,
    meanRunSec: isSpoken ? speakingSec / (pauses.length + spoken.length) : null,
  };
}
