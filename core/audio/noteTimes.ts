/** When the notes of a score are to be expected, by those that were heard. */
import type { ScoreNote } from '../formats/scoreNotes';
import type { Matched, Performed } from './alignNotes';
import { median } from './ranks';

export interface Line {
  startSec: number;
  secPerQuarter: number;
}

/** Least absolute deviations by reweighted least squares. Null with fewer than two places. */
export function fittedLine(points: readonly { x: number; y: number }[]): Line | null {
  const spans = new Set(points.map(p => p.x));
  if (spans.size < 2) return null;
  let weights = points.map(() => 1);
  let line: Line = { startSec: 0, secPerQuarter: 1 };
  for (let round = 0; round < 40; round++) {
    let [w, wx, wy, wxx, wxy] = [0, 0, 0, 0, 0];
    points.forEach(({ x, y }, k) => {
      const weight = weights[k]!;
      w += weight;
      wx += weight * x;
      wy += weight * y;
      wxx += weight * x * x;
      wxy += weight * x * y;
    });
    const slope = (w * wxy - wx * wy) / (w * wxx - wx * wx);
    line = { startSec: (wy - slope * wx) / w, secPerQuarter: slope };
    weights = points.map(({ x, y }) => 1 / Math.max(0.008, Math.abs(y - line.startSec - slope * x)));
  }
  return line.secPerQuarter > 0 ? line : null;
}

/** Places whose beginnings are known. */
export function placesOf(
  score: readonly ScoreNote[],
  heard: readonly Performed[],
  matched: readonly Matched[],
) {
  return matched.flatMap((at, i) =>
    at.heard < 0 || at.isMerged
      ? []
      : [{ i, x: score[i]!.startQuarters, y: heard[at.heard]!.startSec, semitones: at.semitones }],
  );
}

/** When a note of the score is to be expected, by the line and by how far its neighbours were from it. */
export function expectedSec(
  score: readonly ScoreNote[],
  places: readonly { i: number; x: number; y: number }[],
  line: Line,
) {
  const off = places.map(p => p.y - line.startSec - line.secPerQuarter * p.x);
  return score.map((note, i) => {
    const near = places
      .map((p, k) => ({ away: Math.abs(p.i - i), off: off[k]! }))
      .filter(p => p.away <= 3)
      .map(p => p.off);
    return line.startSec + line.secPerQuarter * note.startQuarters + (near.length > 0 ? median(near) : 0);
  });
}
