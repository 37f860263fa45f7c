/** Scores for tests and benches, made by hand. */
import type { PlayedScore, ScoreNote } from '../formats/scoreNotes';

/**
 * A score of notes in their order, in measures of a length.
 * @param quarters of a measure
 */
export function scoreOf(
  all: readonly Omit<ScoreNote, 'measure' | 'atQuarters'>[],
  { bpm = null, quarters = 4 }: { bpm?: number | null; quarters?: number } = {},
): PlayedScore {
  const measured = all.map(n => ({
    ...n,
    atQuarters: n.startQuarters % quarters,
    measure: String(Math.floor(n.startQuarters / quarters) + 1),
  }));
  const last = measured.reduce((end, n) => Math.max(end, n.startQuarters + n.quarters), 0);
  const bars = Array.from({ length: Math.ceil(last / quarters) }, (_, i) => {
    return { measure: String(i + 1), startQuarters: i * quarters };
  });
  return { notes: measured, all: measured, bars, isUnpitched: false, bpm, fifths: 0 };
}
