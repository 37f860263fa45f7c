/** Notes of a score and notes that were heard, brought together; by pitch, and by time where something is known of it. */
import type { ScoreNote } from '../formats/scoreNotes';
import type { HeardNote, Note } from './notes';

const MISSED_COST = 1;
const EXTRA_COST = 0.8;
/** What hardly lasts is a slip of the sound rather than of the player; a little longer right beside another note. */
const SHORT_SEC = 0.08;
const SHORT_BESIDE_SEC = 0.1;
const SHORT_COST = 0.2;
const SPLIT_COST = 0.35;
const MERGED_COST = 0.55;
/** A note further off than this is another note. In half tones. */
const SAME_NOTE = 0.8;
const PITCH_COST = 0.4;
/**
 * While a string, a room or a body still sounds, it and the new note have a lower pitch in common, of which both are multiples,
 * and that pitch may be what was followed. Where the score expects the new note, the partials decide: its own must be there,
 * by this share at least, and what neither it nor the notes just before explain is no more than this.
 */
const LEAST_OWN = 0.08;
const MOST_UNEXPLAINED = 0.06;
const NOTES_BEFORE = 2;
const SAME_PARTIAL = 0.025;
const MULTIPLE_COST = 0.2;
/** Weaker than this, the first partial is missing: what was followed is such a pitch in common. */
const LEAST_FIRST = 0.015;
/** Where nothing new began, what is so much softer than what was before is that dying away. */
const DYING_DB = 5;
const DYING_SEC = 4;
/** A piece of a note begins where the one before ends. */
export const PIECE_GAP_SEC = 0.1;

type Step = 'match' | 'missed' | 'extra' | 'split' | 'merged';

export interface Matched {
  /** Index in the performance of the (first) note heard; −1 for missed. */
  heard: number;
  /** End of the last piece. */
  endSec: number;
  /** From the written pitch, in half tones, the multiple that was followed taken out. */
  semitones: number;
  /** Heard as one with the note before. */
  isMerged: boolean;
}

export interface Alignment {
  cost: number;
  matched: Matched[];
  /** Which of the notes heard are none of the score's, and which of these were played. */
  besides: number[];
  extra: number[];
}

/** A note, and what it was heard by where that is known. */
export type Performed = Note & Partial<HeardNote>;

/** MIDI number with its fraction. */
export const exact = (note: Note) => note.midi + note.cents / 100;

/**
 * What a heard note is as a note of the score: the multiple of its pitch that this note is, and how far off.
 * @returns 1 for the pitch itself; null where it is another note
 */
function heardAs(
  score: readonly ScoreNote[],
  i: number,
  heard: Performed,
  shift: number,
): { multiple: number; off: number } | null {
  const off = exact(heard) - score[i]!.midi - shift;
  if (Math.abs(off) < SAME_NOTE) return { multiple: 1, off };
  const { partials } = heard;
  if (!partials || off > 0 || partials[0]! >= LEAST_FIRST) return null;
  for (let multiple = 2; multiple <= partials.length; multiple++) {
    const by = off + 12 * Math.log2(multiple);
    if (Math.abs(by) >= SAME_NOTE) continue;
    const before = score.slice(Math.max(0, i - NOTES_BEFORE), i).map(n => n.midi + shift - exact(heard));
    const share = (explained: (n: number) => boolean) =>
      partials.reduce((sum, p, n) => sum + (explained(n + 1) ? p : 0), 0);
    const own = share(n => n % multiple === 0);
    const unexplained = share(n => n % multiple !== 0 && !before.some(up => isPartialOf(n, up)));
    if (own >= LEAST_OWN && unexplained <= MOST_UNEXPLAINED) return { multiple, off: by };
  }
  return null;
}

/** Whether the n-th multiple of a pitch is a partial of the note so many half tones above that pitch. */
function isPartialOf(n: number, up: number): boolean {
  const order = n / 2 ** (up / 12);
  return order > 1 - SAME_PARTIAL && Math.abs(order / Math.round(order) - 1) < SAME_PARTIAL;
}

/** Whether a note that the score has not was played, or is a slip of the sound. */
function isPlayed(heard: readonly Performed[], j: number): boolean {
  const own = heard[j]!;
  const before = heard[j - 1];
  const lasts = own.endSec - own.startSec;
  if (lasts < SHORT_SEC) return false;
  const gap = Math.min(
    before ? own.startSec - before.endSec : Infinity,
    (heard[j + 1]?.startSec ?? Infinity) - own.endSec,
  );
  if (lasts < SHORT_BESIDE_SEC && gap < PIECE_GAP_SEC) return false;
  if (own.beganDb !== 0) return true;
  const isShared = (own.partials?.[0] ?? 1) < LEAST_FIRST;
  let loudest = -Infinity;
  for (let k = j - 1; k >= 0 && own.startSec - heard[k]!.startSec < DYING_SEC; k--)
    loudest = Math.max(loudest, heard[k]!.mostDb ?? -Infinity);
  return !isShared && !(own.mostDb! < loudest - DYING_DB);
}

/** What is known of the time, once something is. */
export interface Timing {
  /** What it costs that score note i is heard note j, for when it was heard. */
  cost: (i: number, j: number) => number;
  /** Whether heard note j still sounds when score note i should. */
  isHeld: (i: number, j: number) => boolean;
}

const UNTIMED: Timing = { cost: () => 0, isHeld: () => true };

/**
 * The way with the least cost.
 * @param shift from the written pitch to the played one, in half tones
 */
export function aligned(
  score: readonly ScoreNote[],
  heard: readonly Performed[],
  shift: number,
  timing: Timing = UNTIMED,
): Alignment {
  const [n, m] = [score.length, heard.length];
  const width = m + 1;
  const cost = new Float64Array((n + 1) * width).fill(Infinity);
  const steps: Step[] = new Array<Step>((n + 1) * width);
  cost[0] = 0;
  const pitchCost = (i: number, j: number) => {
    const as = heardAs(score, i, heard[j]!, shift);
    return as ? PITCH_COST * Math.abs(as.off) + (as.multiple > 1 ? MULTIPLE_COST : 0) : Infinity;
  };
  const played = heard.map((_, j) => isPlayed(heard, j));
  const extraCost = (j: number) => (played[j] ? EXTRA_COST : SHORT_COST);
  for (let i = 0; i <= n; i++) {
    for (let j = 0; j <= m; j++) {
      const here = i * width + j;
      const offer = (from: number, price: number, step: Step) => {
        if (cost[from]! + price < cost[here]!) {
          cost[here] = cost[from]! + price;
          steps[here] = step;
        }
      };
      if (i > 0) offer(here - width, MISSED_COST, 'missed');
      if (j > 0) offer(here - 1, extraCost(j - 1), 'extra');
      if (i === 0 || j === 0) continue;
      const pitch = pitchCost(i - 1, j - 1);
      if (pitch === Infinity) continue;
      offer(here - width - 1, pitch + timing.cost(i - 1, j - 1), 'match');
      // One note heard in two pieces.
      const isPiece = j > 1 && heard[j - 1]!.startSec - heard[j - 2]!.endSec < PIECE_GAP_SEC;
      if (isPiece && pitchCost(i - 1, j - 2) < Infinity && steps[here - 1] !== 'extra')
        offer(here - 1, SPLIT_COST, 'split');
      // Two like notes heard as one.
      const isRepeated = i > 1 && score[i - 1]!.midi === score[i - 2]!.midi;
      const isSame = steps[here - width] === 'match' || steps[here - width] === 'merged';
      if (isRepeated && isSame && timing.isHeld(i - 1, j - 1)) offer(here - width, MERGED_COST, 'merged');
    }
  }
  const matched: Matched[] = new Array<Matched>(n);
  let [i, j] = [n, m];
  const besides: number[] = [];
  const extra: number[] = [];
  let endSec: number | null = null;
  while (i > 0 || j > 0) {
    const step = steps[i * width + j]!;
    if (step === 'missed') matched[--i] = { heard: -1, endSec: 0, semitones: 0, isMerged: false };
    else if (step === 'extra') {
      besides.push(--j);
      if (played[j]) extra.push(j);
    } else if (step === 'split') {
      j -= 1;
      endSec ??= heard[j]!.endSec;
    } else if (step === 'merged')
      matched[--i] = { heard: j - 1, endSec: heard[j - 1]!.endSec, semitones: 0, isMerged: true };
    else {
      [i, j] = [i - 1, j - 1];
      const semitones = shift + heardAs(score, i, heard[j]!, shift)!.off;
      matched[i] = { heard: j, endSec: endSec ?? heard[j]!.endSec, semitones, isMerged: false };
      endSec = null;
    }
  }
  // Two like notes heard as one have one pitch.
  matched.forEach((at, k) => at.isMerged && (at.semitones = matched[k - 1]!.semitones));
  return { cost: cost[n * width + m]!, matched, besides, extra };
}
