/**
 * A take beside a model that it was to follow: a phrase to repeat, an intonation, a tune to play after the teacher. The two are
 * laid on each other by what is heard in them (dynamic time warping; H. Sakoe and S. Chiba, "Dynamic programming algorithm
 * optimization for spoken word recognition", IEEE Transactions on Acoustics, Speech and Signal Processing 26(1), 1978), speech by
 * its kinds of sound, music by its pitch; then their melodies are compared, each about its own middle.
 */
import { isSpeaking, likelihood, SOUNDS } from '../words/speechSounds';
import { FRAME_SEC } from '../words/cepstra';
import type { HeardAs, Measures } from './measure';
import { midiOfHz } from './notes';
import { median } from './ranks';

/** What is laid on a model, and the model itself. */
export interface Follows {
  measures: Pick<Measures, 'pitch' | 'durationSec' | 'speech'>;
  /** `soundsHeard` of speech; null for music. */
  heard: Float32Array | null;
}

export interface BesideModel {
  /** [second of the take, second of the model], rising, every tenth of a second of its sound. */
  path: [number, number][];
  /** At each of them both melodies, in half tones about each one's own middle; null where there is no pitch. */
  melodies: [number | null, number | null][];
  /** Half of the moments at which both have a pitch differ by less, each about its own middle; null where there is none. */
  melodySemitones: number | null;
  /** Places at which one rises and the other falls, and how many there are. */
  placesApart: number;
  places: number;
  /** From the first sound to the last, beside the model's. */
  lengthRatio: number;
  /** Pauses of both, and how long they are together; null for music. */
  pauses: { count: number; sec: number; modelCount: number; modelSec: number } | null;
  /** How unlike the two are where one of them sounds, 0…1. */
  unlike: number;
}

/** Of the lattice; two frames of the sounds. */
const STEP_SEC = 0.02;
/** Longer than this together, in steps of one times steps of the other, is not laid: no phrase is. */
const MOST_CELLS = 81_000_000;
/** To stand still in one of the two is worse than to go on in both. */
const STAND_STILL = 0.12;
const PATH_SEC = 0.1;
/** A place is so long; within it, a melody goes up or down where it moves by so much. */
const PLACE_SEC = 0.3;
const LEAST_MOVE = 1;
/** Of music, so many half tones apart are as far as nothing at all. */
const FAR_SEMITONES = 3;

/**
 * More unlike, and the two say or play something else. The same sentence of two people is 0.05 to 0.33 unlike, in 19 of 20
 * under this; another sentence 0.33 and more. The same tune is about 0.1, another of its scale 0.38.
 */
const ALIKE = { speech: 0.32, music: 0.25 };
/** Nobody repeats something at half its pace or twice. */
const LENGTHS = [0.5, 2] as const;

/** Whether a take says or plays what its model does. */
export function isFollowing({ unlike, lengthRatio }: BesideModel, as: HeardAs): boolean {
  return unlike <= ALIKE[as] && lengthRatio >= LENGTHS[0] && lengthRatio <= LENGTHS[1];
}

/** What the pauses of either may add before its length says that it is something else. */
const ROUGHLY = 1.3;

/** Whether one is about as long as the other, so that it is worth while to listen to what they say. */
export function mayFollow(take: Sounding, model: Sounding): boolean {
  const ratio = spanSec(take) / spanSec(model);
  return ratio > LENGTHS[0] / ROUGHLY && ratio < LENGTHS[1] * ROUGHLY;
}

type Sounding = Pick<Measures, 'speech' | 'notes' | 'durationSec'>;

/** From the first sound to the last. */
function spanSec({ speech, notes, durationSec }: Sounding): number {
  if (speech) return speech.speakingSec + speech.pauseSec;
  const [first, last] = [notes?.[0], notes?.at(-1)];
  return first && last ? last.endSec - first.startSec : durationSec;
}

/** @returns null where one of the two has no sound, or both are too long */
export function besideModel(take: Follows, model: Follows): BesideModel | null {
  const [own, its] = [melodyOf(take), melodyOf(model)];
  const [a, b] = [soundingSpan(take, own), soundingSpan(model, its)];
  if (!a || !b || (a.to - a.from) * (b.to - b.from) > MOST_CELLS) return null;
  const unlike =
    take.heard && model.heard
      ? unlikeSounds(take.heard, model.heard, a.from, b.from)
      : unlikePitch(own, its, a.from, b.from);
  const isSilent = (t: number, m: number) =>
    !sounds(take, own, a.from + t) && !sounds(model, its, b.from + m);
  const { at, mean } = warped(a.to - a.from, b.to - b.from, unlike, isSilent);
  const every = Math.round(PATH_SEC / STEP_SEC);
  const path: [number, number][] = [];
  const melodies: [number | null, number | null][] = [];
  for (let t = 0; t < at.length; t += every) {
    const [mine, theirs] = [a.from + t, b.from + at[t]!];
    path.push([mine * STEP_SEC, theirs * STEP_SEC]);
    melodies.push([around(own, mine, every), around(its, theirs, every)]);
  }
  const pairs = Array.from(at, (m, t) => [own[a.from + t]!, its[b.from + m]!] as const);
  const off = pairs.flatMap(([x, y]) => (Number.isNaN(x) || Number.isNaN(y) ? [] : [Math.abs(x - y)]));
  const moves = movesOf(pairs);
  return {
    path,
    melodies,
    melodySemitones: off.length > 0 ? median(off) : null,
    placesApart: moves.filter(([x, y]) => x * y < 0).length,
    places: moves.length,
    lengthRatio: (a.to - a.from) / (b.to - b.from),
    pauses: pausesOf(take.measures.speech, model.measures.speech),
    unlike: mean,
  };
}

function pausesOf(own: Measures['speech'], its: Measures['speech']): BesideModel['pauses'] {
  if (!own || !its) return null;
  return { count: own.pauseCount, sec: own.pauseSec, modelCount: its.pauseCount, modelSec: its.pauseSec };
}

/** The middle of what has a pitch within a tenth of a second: a slip of the tracker is no melody. */
function around(melody: Float64Array, at: number, steps: number): number | null {
  const from = Math.max(0, at - (steps >> 1));
  const pitched = Array.from(melody.subarray(from, from + steps)).filter(m => !Number.isNaN(m));
  return pitched.length > 0 ? median(pitched) : null;
}

/** Half tones about the middle of the voice at each step; NaN where nothing has a pitch. */
function melodyOf({ measures: { pitch, durationSec }, heard }: Follows): Float64Array {
  const steps = Math.floor(durationSec / STEP_SEC);
  const midi = Float64Array.from({ length: steps }, (_, t) => {
    const hz = pitch.hz[Math.round((t * STEP_SEC) / pitch.hopSec)] ?? 0;
    return hz > 0 ? midiOfHz(hz) : NaN;
  });
  const pitched = Array.from(midi).filter(m => !Number.isNaN(m));
  if (pitched.length === 0) return midi;
  // A tune may be played in another octave, but not in another key.
  const middle = heard ? median(pitched) : 12 * Math.round(median(pitched) / 12);
  return (heard ? withoutSlips(midi) : midi).map(m => m - middle);
}

/** A voice does not leap so far within a second: there another pitch was followed than its own. */
const MOST_LEAP = 8;
const LEAP_SEC = 0.5;

function withoutSlips(midi: Float64Array): Float64Array {
  const reach = Math.round(LEAP_SEC / STEP_SEC);
  return midi.map((m, t) => {
    const near = Array.from(midi.subarray(Math.max(0, t - reach), t + reach + 1)).filter(
      x => !Number.isNaN(x),
    );
    return Math.abs(m - median(near)) > MOST_LEAP ? NaN : m;
  });
}

function sounds({ heard }: Follows, melody: Float64Array, step: number): boolean {
  return heard ? isSpeaking(heard, frameAt(heard, step)) : !Number.isNaN(melody[step]!);
}

const frameAt = (heard: Float32Array, step: number) =>
  Math.min(heard.length / SOUNDS.length - 1, Math.round((step * STEP_SEC) / FRAME_SEC));

/** The steps from the first that sounds to the one behind the last; null where none does. */
function soundingSpan(follows: Follows, melody: Float64Array): { from: number; to: number } | null {
  const from = melody.findIndex((_, t) => sounds(follows, melody, t));
  if (from < 0) return null;
  let to = melody.length;
  while (!sounds(follows, melody, to - 1)) to -= 1;
  return to - from > 2 ? { from, to } : null;
}

type Unlike = (t: number, m: number) => number;

/** 0 for the same kind of sound, 1 for others (by the coefficient of A. Bhattacharyya, 1943). */
function unlikeSounds(take: Float32Array, model: Float32Array, fromTake: number, fromModel: number): Unlike {
  const [a, b] = [roots(take), roots(model)];
  const kinds = SOUNDS.length;
  return (t, m) => {
    const [i, j] = [(fromTake + t) * kinds, (fromModel + m) * kinds];
    let common = 0;
    for (let k = 0; k < kinds; k++) common += a[i + k]! * b[j + k]!;
    return 1 - common;
  };
}

/** Square roots of the shares of each kind, at each step. */
function roots(heard: Float32Array): Float32Array {
  const kinds = SOUNDS.length;
  const steps = Math.ceil((heard.length / kinds) * (FRAME_SEC / STEP_SEC)) + 1;
  return Float32Array.from({ length: steps * kinds }, (_, i) =>
    Math.sqrt(likelihood(heard, frameAt(heard, Math.floor(i / kinds)), i % kinds)),
  );
}

function unlikePitch(take: Float64Array, model: Float64Array, fromTake: number, fromModel: number): Unlike {
  return (t, m) => {
    const [x, y] = [take[fromTake + t]!, model[fromModel + m]!];
    if (Number.isNaN(x) || Number.isNaN(y)) return Number.isNaN(x) === Number.isNaN(y) ? 0 : 1;
    return Math.min(1, Math.abs(x - y) / FAR_SEMITONES);
  };
}

/**
 * For each step of the take the step of the model that is heard there; both begin and end together.
 * @param isSilent whether both are: that they are both silent says nothing of what they say
 */
function warped(
  steps: number,
  modelSteps: number,
  unlike: Unlike,
  isSilent: (t: number, m: number) => boolean,
): { at: Int32Array; mean: number } {
  const came = new Uint8Array(steps * modelSteps);
  let before = new Float64Array(modelSteps).fill(Infinity);
  for (let t = 0; t < steps; t++) {
    const now = new Float64Array(modelSteps);
    for (let m = 0; m < modelSteps; m++) {
      const both = t > 0 && m > 0 ? before[m - 1]! : t + m === 0 ? 0 : Infinity;
      const own = t > 0 ? before[m]! + STAND_STILL : Infinity;
      const its = m > 0 ? now[m - 1]! + STAND_STILL : Infinity;
      const least = Math.min(both, own, its);
      came[t * modelSteps + m] = least === both ? 0 : least === own ? 1 : 2;
      now[m] = least + unlike(t, m);
    }
    before = now;
  }
  const at = new Int32Array(steps);
  let [lost, sounding] = [0, 0];
  for (let t = steps - 1, m = modelSteps - 1; t >= 0;) {
    at[t] = m;
    if (!isSilent(t, m)) {
      lost += unlike(t, m);
      sounding += 1;
    }
    const way = came[t * modelSteps + m];
    if (way !== 1) m = Math.max(0, m - 1);
    if (way !== 2) t -= 1;
  }
  return { at, mean: lost / Math.max(1, sounding) };
}

/** How far both melodies move within each place in which both do so clearly. */
function movesOf(pairs: readonly (readonly [number, number])[]): [number, number][] {
  const length = Math.round(PLACE_SEC / STEP_SEC);
  const moves: [number, number][] = [];
  for (let from = 0; from + length <= pairs.length; from += length) {
    const known = pairs.slice(from, from + length).filter(([x, y]) => !Number.isNaN(x) && !Number.isNaN(y));
    if (known.length < length / 2) continue;
    const third = Math.max(1, Math.floor(known.length / 3));
    const move = (which: 0 | 1) =>
      median(known.slice(-third).map(p => p[which])) - median(known.slice(0, third).map(p => p[which]));
    const [x, y] = [move(0), move(1)];
    if (Math.abs(y) >= LEAST_MOVE) moves.push([Math.abs(x) >= LEAST_MOVE ? x : 0, y]);
  }
  return moves;
}
