/**
 * Whether a note begins at a moment, by the half tones themselves: while strings, a room or a body still ring, a new note among
 * them may have no pitch that a follower of one voice finds. It is believed where the half tones of its own partials rise, and most
 * of what rises there is explained by them. What was left out does not rise, and what was played instead explains itself better.
 *
 * What it cannot do: hear a repeated note over itself where nothing rises, nor a low note of which only the second partial sounds.
 */
import { LOWEST_MIDI, SEMITONE_HOP_SEC, SEMITONES, type SemitoneLevels } from '../polyphony/semitones';

/** Half tones from a note to its first six partials; the first and third are not those of the note an octave above. */
const PARTIALS = [0, 12, 19, 24, 28, 31];
const ODD = [PARTIALS[0]!, PARTIALS[2]!];
/** What rises is its own by so much of the power, that of its first and third partials being at least the second number. */
const LEAST_EXPLAINED = 0.6;
const LEAST_ODD = 0.08;
/** So much its first partial must rise, and be louder than what rises right beside it. */
const LEAST_RISE_DB = 6;
const ABOVE_BESIDE_DB = 2;
/** Some instruments have little of their first partial: then it must rise further, and stand out. */
const FAINT_ODD = 0.004;
const FAINT_RISE_DB = 20;
const FAINT_ABOVE_DB = 12;
/** What rises is at least this part of all that sounded before, and louder than −70 dBFS. */
const LEAST_GROWTH = 0.05;
const LEAST_POWER = 1e-7;
/** How long after its beginning a note is listened to. */
const HEARD_SEC = 0.2;
/** Before and after a beginning, frames whose windows hardly reach over it: by the half tone, as windows are longer below. */
const CLEAR_SEC = [
  { below: 60, sec: 0.12 },
  { below: 73, sec: 0.06 },
  { below: Infinity, sec: 0.04 },
];

export interface Rise {
  sec: number;
  /** How much of what rose the note explains, 0…1. */
  explained: number;
  power: number;
  /** Whether its own first partial rose, so that it can be no note of which this is a multiple, or the other way round. */
  isSure: boolean;
}

const placeOf = (levels: SemitoneLevels, midi: number) => Math.round(midi - levels.tuning) - LOWEST_MIDI;
const clearSec = (semitone: number) => CLEAR_SEC.find(c => semitone + LOWEST_MIDI < c.below)!.sec;
const powerOf = (db: number) => 10 ** (db / 10);
const dbOf = (ratio: number) => 10 * Math.log10(ratio);
const SILENCE = 1e-12;

/** Whether a pitch lies where half tones are listened to. */
export function isListenedTo(levels: SemitoneLevels, midi: number): boolean {
  const own = placeOf(levels, midi);
  return own >= 0 && own < SEMITONES;
}

/**
 * Whether a note begins at a moment.
 * @param midi its pitch, which may lie between half tones
 * @param sec when it would begin
 * @param untilSec how far it may be listened to: where the next one begins. Seconds
 * @returns null where it does not, or where half tones are not listened to
 */
export function riseAt(levels: SemitoneLevels, midi: number, sec: number, untilSec: number): Rise | null {
  if (!isListenedTo(levels, midi)) return null;
  const own = placeOf(levels, midi);
  const rising = new Float64Array(SEMITONES);
  let before = 0;
  let firstBefore = 0;
  let first = 0;
  for (let s = 0; s < SEMITONES; s++) {
    const clear = clearSec(s);
    const was = powerAt(levels, frameOf(sec - clear), s);
    const is = meanPower(levels, s, sec + clear / 2, Math.min(sec + HEARD_SEC, untilSec - clear / 2));
    rising[s] = Math.max(0, is - was);
    before += was;
    if (s === own) [firstBefore, first] = [was, is];
  }
  const all = rising.reduce((sum, power) => sum + power, 0);
  let explained = 0;
  for (let s = 0; s < SEMITONES; s++)
    if (PARTIALS.some(p => Math.abs(s - own - p) <= 1)) explained += rising[s]!;
  const odd = ODD.reduce((sum, p) => sum + (rising[own + p] ?? 0), 0);
  const beside = Math.max(rising[own - 1] ?? 0, rising[own + 1] ?? 0);
  if (explained < Math.max(LEAST_EXPLAINED * all, LEAST_GROWTH * before, LEAST_POWER)) return null;
  const riseDb = dbOf((first + SILENCE) / (firstBefore + SILENCE));
  const besideDb = dbOf((first + SILENCE) / (beside + SILENCE));
  const isSure =
    (odd >= LEAST_ODD * all && riseDb >= LEAST_RISE_DB && besideDb >= ABOVE_BESIDE_DB) ||
    (first >= FAINT_ODD * all && riseDb >= FAINT_RISE_DB && besideDb >= FAINT_ABOVE_DB);
  return { sec, explained: explained / all, power: explained, isSure };
}

/**
 * Where a note surely rises most within some time, see `riseAt`.
 * @returns null where it does nowhere
 */
export function sureRise(
  levels: SemitoneLevels,
  midi: number,
  fromSec: number,
  toSec: number,
  untilSec: number,
): Rise | null {
  let best: Rise | null = null;
  for (let sec = fromSec; sec <= toSec; sec += SEMITONE_HOP_SEC) {
    const rise = riseAt(levels, midi, sec, untilSec);
    if (rise?.isSure && rise.power > (best?.power ?? 0)) best = rise;
  }
  return best;
}

const frameOf = (sec: number) => Math.round(sec / SEMITONE_HOP_SEC);

function powerAt(levels: SemitoneLevels, frame: number, semitone: number): number {
  return frame < 0 || frame >= levels.count ? 0 : powerOf(levels.db(frame, semitone));
}

/** Over the frames of a time, at least one. */
function meanPower(levels: SemitoneLevels, semitone: number, fromSec: number, toSec: number): number {
  const from = frameOf(fromSec);
  const to = Math.max(from, frameOf(toSec));
  let sum = 0;
  for (let f = from; f <= to; f++) sum += powerAt(levels, f, semitone);
  return sum / (to - from + 1);
}
