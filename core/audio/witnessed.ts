/** What the half tones of a recording tell of a performance besides the one pitch that was followed. */
import type { ScoreNote } from '../formats/scoreNotes';
import type { SemitoneLevels } from '../polyphony/semitones';
import { exact, PIECE_GAP_SEC, type Alignment, type Performed } from './alignNotes';
import { expectedSec, fittedLine, placesOf } from './noteTimes';
import { median } from './ranks';
import { isListenedTo, riseAt, sureRise } from './risingTones';

/** A note that was not followed may begin so far from where it is expected. */
const WITNESS_SEC = 0.12;
/** What was followed instead of it begins this near. */
const INSTEAD_SEC = 0.1;
/** With less of the score followed, it is not known well enough when a note is to be expected. */
const LEAST_FOLLOWED = 0.5;

/** A tone with a first partial must rise there to be a note more; one without need not, unless it is the attack of the next. */
const STRONG_FIRST = 0.08;
const OF_NEXT = 0.95;

/** What the half tones tell besides of an alignment. */
export interface Witnessed {
  /** Notes of the score that were heard although they were not followed, by place: when they began, where that is known. */
  played: Map<number, number | null>;
  extra: number;
}

/**
 * Notes that were not followed, looked for where they are expected; and which of the notes more were really played.
 * @param score,heard what was aligned
 */
export function witnessed(
  score: readonly ScoreNote[],
  heard: readonly Performed[],
  { matched, besides, extra }: Alignment,
  levels: SemitoneLevels,
): Witnessed {
  const played: Witnessed['played'] = new Map();
  const places = placesOf(score, heard, matched);
  const line = fittedLine(places);
  if (!line || places.length < LEAST_FOLLOWED * score.length) return { played, extra: extra.length };
  const tuning = median(places.map(p => p.semitones));
  const expected = expectedSec(score, places, line);
  const startOf = (i: number) => {
    const at = matched[i];
    return at && at.heard >= 0 && !at.isMerged ? heard[at.heard]!.startSec : expected[i];
  };
  const instead = new Set<number>();
  matched.forEach((at, i) => {
    if (at.heard >= 0) return;
    const midi = score[i]!.midi + tuning;
    const untilSec = startOf(i + 1) ?? Infinity;
    const from = Math.max(expected[i]! - WITNESS_SEC, (startOf(i - 1) ?? -Infinity) + WITNESS_SEC / 2);
    const to = Math.min(expected[i]!, untilSec - 2 * WITNESS_SEC) + WITNESS_SEC;
    const rise = sureRise(levels, midi, from, to, untilSec);
    if (!rise) return;
    const meanwhile = besides.filter(
      j => heard[j]!.endSec > rise.sec && heard[j]!.startSec < untilSec - INSTEAD_SEC / 2,
    );
    const isAnother = meanwhile.some(j => {
      const own = riseAt(levels, exact(heard[j]!), heard[j]!.startSec, untilSec);
      return own?.isSure && own.explained >= rise.explained;
    });
    if (isAnother) return;
    const begun = meanwhile.find(j => Math.abs(heard[j]!.startSec - rise.sec) < INSTEAD_SEC);
    played.set(i, begun === undefined ? null : heard[begun]!.startSec);
    for (const j of meanwhile) instead.add(j);
  });
  const isPlayed = (j: number) => {
    const { partials, startSec, endSec } = heard[j]!;
    if (!isListenedTo(levels, exact(heard[j]!))) return true;
    const rise = riseAt(levels, exact(heard[j]!), startSec, endSec);
    if (!rise || rise.isSure) return rise !== null;
    if ((partials?.[0] ?? 1) >= STRONG_FIRST) return false;
    const next = heard[j + 1];
    const isOfNext =
      next && next.startSec - endSec < PIECE_GAP_SEC && riseAt(levels, exact(next), startSec, next.endSec);
    return !isOfNext || isOfNext.explained < OF_NEXT * rise.explained;
  };
  return { played, extra: extra.filter(j => !instead.has(j) && isPlayed(j)).length };
}
