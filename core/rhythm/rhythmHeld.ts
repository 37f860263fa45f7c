/**
 * A rhythm held against what is written: which strokes were made, which were not, how early or late each was.
 *
 * What has no pitch is told by its time alone, so the tempo must be found together with the strokes: some tempi that the
 * intervals speak for are tried, each by dynamic programming over pairs of a written and a heard stroke, whose cost is how far
 * the interval from the pair before is from the written one (R. B. Dannenberg, "An on-line algorithm for real-time
 * accompaniment", ICMC 1984, with time in the place of pitch).
 */
import type { ScoreNote } from '../formats/scoreNotes';
import { median } from '../audio/ranks';
import { UNMARKED_BPM, type Target, type TargetNote } from '../audio/target';
import type { Stroke } from './strokes';

const MISSED_COST = 1;
const EXTRA_COST = 0.8;
/** What is so weak beside the others is a slip of the sound: a breath, a chair, the second half of a stroke. */
const SLIP_COST = 0.1;
/** To take it for what is written is hardly better than to miss that. */
const SLIP_TAKEN_COST = 0.7;
const SLIP_DB = 12;
const SLIP_RISE = 0.4;
/** An interval strays by this part of it, and by so much at the least; further off costs no more than this. */
const STRAY = 0.1;
const STRAY_SEC = 0.03;
const MOST_STRAY_COST = 1.5;
/** So many strokes in a row may be missed, or extra. */
const MOST_SKIPPED = 4;
/** Tempi that are tried. Seconds of a quarter note. */
const QUICKEST_SEC = 0.2;
const SLOWEST_SEC = 2;
const TEMPO_STEP = 1.04;
const TEMPI_TRIED = 8;
/** A tempo far from the marked one is believed a little less: by this for each octave. */
const UNUSUAL_COST = 0.4;
/** Pairs on each side that say how fast it is at one of them. */
const AROUND = 3;

interface Pair {
  i: number;
  j: number;
}

/** Places from which the written and the heard go on. */
const START: Pair = { i: -1, j: -1 };

const isSlip = (stroke: Stroke, usual: { riseDb: number; mostDb: number }) =>
  stroke.mostDb < usual.mostDb - SLIP_DB || stroke.riseDb < SLIP_RISE * usual.riseDb;

/** Tempi by how many intervals of some strokes agree with some written ones. Seconds of a quarter note, best first. */
function likelyTempi(score: readonly ScoreNote[], strokes: readonly Stroke[]): number[] {
  const steps = Math.ceil(Math.log(SLOWEST_SEC / QUICKEST_SEC) / Math.log(TEMPO_STEP));
  const votes = new Float64Array(steps + 1);
  for (let j = 0; j < strokes.length; j++)
    for (let n = 1; n <= MOST_SKIPPED && j + n < strokes.length; n++)
      for (let i = 0; i + n < score.length; i++) {
        const quarters = score[i + n]!.startQuarters - score[i]!.startQuarters;
        const sec = (strokes[j + n]!.sec - strokes[j]!.sec) / quarters;
        const at = Math.log(sec / QUICKEST_SEC) / Math.log(TEMPO_STEP);
        // Strokes and notes far from each other in their order hardly belong together.
        const apart = Math.abs(j / strokes.length - i / score.length);
        if (at >= 0 && at <= steps && apart < 0.25) votes[Math.round(at)]! += 1;
      }
  const smooth = votes.map((v, k) => v + 0.6 * ((votes[k - 1] ?? 0) + (votes[k + 1] ?? 0)));
  return Array.from(smooth, (v, k) => ({ v, k }))
    .filter(({ v, k }) => v > 0 && v >= (smooth[k - 1] ?? 0) && v >= (smooth[k + 1] ?? 0))
    .sort((a, b) => b.v - a.v)
    .slice(0, TEMPI_TRIED)
    .map(({ k }) => QUICKEST_SEC * TEMPO_STEP ** k);
}

/** @param beatAt how long a quarter note lasts at a written stroke, in seconds */
function paired(
  score: readonly ScoreNote[],
  strokes: readonly Stroke[],
  slips: readonly boolean[],
  beatAt: (i: number) => number,
): { pairs: Pair[]; cost: number } {
  const [n, m] = [score.length, strokes.length];
  const extraUpTo = [0];
  for (const is of slips) extraUpTo.push(extraUpTo.at(-1)! + (is ? SLIP_COST : EXTRA_COST));
  const skipped = (from: Pair, to: Pair) =>
    MISSED_COST * (to.i - from.i - 1) + extraUpTo[to.j]! - extraUpTo[from.j + 1]!;
  const costs = new Float64Array(n * m).fill(Infinity);
  const before: (Pair | undefined)[] = new Array<Pair | undefined>(n * m);
  let least = Infinity;
  let last: Pair = START;
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      const here = { i, j };
      let best = skipped(START, here);
      let from: Pair = START;
      for (let a = Math.max(0, i - 1 - MOST_SKIPPED); a < i; a++) {
        const expected = (score[i]!.startQuarters - score[a]!.startQuarters) * beatAt(i);
        const spread = STRAY * expected + STRAY_SEC;
        for (let b = Math.max(0, j - 1 - 2 * MOST_SKIPPED); b < j; b++) {
          const off = (strokes[j]!.sec - strokes[b]!.sec - expected) / spread;
          const stray = Math.min(MOST_STRAY_COST, 0.25 * off * off);
          const cost = costs[a * m + b]! + skipped({ i: a, j: b }, here) + stray;
          if (cost < best) {
            best = cost;
            from = { i: a, j: b };
          }
        }
      }
      best += slips[j] ? SLIP_TAKEN_COST : 0;
      costs[i * m + j] = best;
      before[i * m + j] = from;
      const whole = best + skipped(here, { i: n, j: m });
      if (whole < least) [least, last] = [whole, here];
    }
  const pairs: Pair[] = [];
  for (let at = last; at.i >= 0; at = before[at.i * m + at.j]!) pairs.push(at);
  return { pairs: pairs.reverse(), cost: least };
}

/** Seconds of a quarter note at each written stroke, by the pairs around it; the whole tempo counts as one more. */
function beatsBy(
  score: readonly ScoreNote[],
  strokes: readonly Stroke[],
  pairs: readonly Pair[],
  beat: number,
) {
  return (i: number): number => {
    const near = pairs.filter(p => Math.abs(p.i - i) <= AROUND);
    const [first, last] = [near[0], near.at(-1)];
    if (!first || !last || last.i - first.i < 2) return beat;
    const quarters = score[last.i]!.startQuarters - score[first.i]!.startQuarters;
    return (strokes[last.j]!.sec - strokes[first.j]!.sec + beat) / (quarters + 1);
  };
}

/**
 * Where each pair would be at an even tempo: a line of which short stretches may lie a little earlier or later, for nobody's
 * tempo is a machine's.
 */
function expectedSec(
  score: readonly ScoreNote[],
  strokes: readonly Stroke[],
  pairs: readonly Pair[],
  beat: number,
) {
  const starts = pairs.map(p => strokes[p.j]!.sec - beat * score[p.i]!.startQuarters);
  return (i: number): number => {
    const near = starts.filter((_, k) => Math.abs(pairs[k]!.i - i) <= AROUND);
    return median(near.length > 0 ? near : starts) + beat * score[i]!.startQuarters;
  };
}

/**
 * Holds strokes against a written rhythm.
 * @param markedBpm quarter notes a minute; null where the score has no mark
 * @returns notes without pitch and length
 */
export function rhythmHeld(
  score: readonly ScoreNote[],
  strokes: readonly Stroke[],
  markedBpm: number | null,
): Target {
  const marked = 60 / (markedBpm ?? UNMARKED_BPM);
  const nothing: Target = {
    notes: score.map((_, index) => missed(index)),
    extra: 0,
    tempoRatio: null,
    bpm: null,
    tuningCents: null,
  };
  if (strokes.length === 0) return nothing;
  // As many as are written are usually there: the strongest ones say what a stroke is like.
  const strongest = [...strokes].sort((a, b) => b.mostDb - a.mostDb).slice(0, score.length);
  const usual = {
    riseDb: median(strongest.map(s => s.riseDb)),
    mostDb: median(strongest.map(s => s.mostDb)),
  };
  const slips = strokes.map(s => isSlip(s, usual));
  const tempi = likelyTempi(score, strokes);
  let best: { pairs: Pair[]; cost: number; beat: number } | null = null;
  for (const beat of tempi.length > 0 ? tempi : [marked]) {
    let found = paired(score, strokes, slips, () => beat);
    found = paired(score, strokes, slips, beatsBy(score, strokes, found.pairs, beat));
    const cost = found.cost + UNUSUAL_COST * Math.abs(Math.log2(beat / marked));
    if (!best || cost < best.cost) best = { pairs: found.pairs, cost, beat };
  }
  const { pairs } = best!;
  const beat = steadyBeat(score, strokes, pairs) ?? best!.beat;
  const expected = expectedSec(score, strokes, pairs, beat);
  const notes = nothing.notes;
  for (const { i, j } of pairs) {
    const { sec } = strokes[j]!;
    notes[i] = { ...notes[i]!, status: 'played', onsetOffSec: sec - expected(i), startSec: sec };
  }
  const matched = new Set(pairs.map(p => p.j));
  const bpm = pairs.length > 1 ? 60 / beat : null;
  return {
    notes,
    extra: strokes.filter((_, j) => !matched.has(j) && !slips[j]).length,
    tempoRatio: bpm === null ? null : (bpm * marked) / 60,
    bpm,
    tuningCents: null,
  };
}

const missed = (index: number): TargetNote => ({
  index,
  status: 'missed',
  centsOff: null,
  onsetOffSec: null,
  durationRatio: null,
  startSec: null,
});

/** The middle of what intervals over a few strokes say. */
function steadyBeat(
  score: readonly ScoreNote[],
  strokes: readonly Stroke[],
  pairs: readonly Pair[],
): number | null {
  const said = pairs.flatMap((p, k) => {
    const next = pairs[k + AROUND] ?? pairs.at(-1)!;
    const quarters = score[next.i]!.startQuarters - score[p.i]!.startQuarters;
    return quarters > 0 ? [(strokes[next.j]!.sec - strokes[p.j]!.sec) / quarters] : [];
  });
  return said.length > 0 ? median(said) : null;
}
