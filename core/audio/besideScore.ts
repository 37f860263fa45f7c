/**
 * A performance beside its score, as the score is written: one line by its notes, a rhythm without pitches by its strokes,
 * several notes at once by following them. Of a line that is not heard as one voice (somebody sings along with a piano) the
 * moments are still told.
 */
import { isSeveral, type PlayedScore, type ScoreNote } from '../formats/scoreNotes';
import { followed, isTooLongToFollow, notFollowed, type Followed } from '../polyphony/followed';
import type { SemitoneLevels } from '../polyphony/semitones';
import { rhythmHeld } from '../rhythm/rhythmHeld';
import { strokesOf } from '../rhythm/strokes';
import type { BandLevels } from './bands';
import type { Performed } from './alignNotes';
import { byDegree, byRegister, type Tendency } from './intonation';
import type { HeardNote, Note } from './notes';
import { heldAgainst, UNMARKED_BPM, type Target } from './target';
import { driftPercent, steadyPercentOf, tempoCurve, type TempoPlace } from './tempo';

/** What a performance shows as a whole, beside its score. */
interface Tendencies {
  byDegree: Tendency[];
  byRegister: Tendency[];
  tempoCurve: TempoPlace[];
  driftPercent: number | null;
}

export type MeasuredTarget = Target &
  Tendencies & {
    /** Whether it is written, or was played before. */
    of: 'score' | 'model';
    /** What several notes at once were followed by; then single notes are not told. */
    followed: Followed | null;
    /** Whether the score has no pitches: strokes were held against it. */
    isRhythm: boolean;
    /** How even the beat is from one beginning to the next; null where a line's own notes say it. */
    steadyPercent: number | null;
  };

export interface HeardSound {
  notes: readonly HeardNote[];
  bands: BandLevels;
  /** Null where nobody listened for them. */
  semitones: SemitoneLevels | null;
  isSilent: boolean;
  /** Whether most of it has a single pitch. */
  isOneVoice: boolean;
  durationSec: number;
}

export interface BesideScore {
  target: MeasuredTarget;
  /** What whoever reads it should know. */
  remarks: string[];
}

const TOO_LONG_TO_FOLLOW =
  'The recording and its score are too long for several notes at once to be followed, so nothing is said beside the score.';
const NOT_THIS_SCORE =
  'This does not sound like the score: another piece, or much of it left out. So nothing is said beside it.';
const ANOTHER_KEY = 'It was played in another key than written: with a capo, or on another instrument.';

/** A line of several parts was played alone where it is heard so well, with so few notes besides for each of its own. */
const LEAST_OF_LINE = 0.9;
const MOST_BESIDES = 0.05;
/** Less than this of a line that seems to be one voice, and something may sound beside it. */
const LEAST_OF_VOICE = 0.5;

/** @param score of which more than one note may sound at once */
export function besideScore(score: PlayedScore, heard: HeardSound): BesideScore {
  if (score.isUnpitched) return { target: rhythmTarget(score, heard), remarks: [] };
  const line = lineTarget(score, heard);
  const several = isSeveral(score);
  const isAlone = heard.isOneVoice && (several ? isPlayedAlone(line) : playedShare(line) >= LEAST_OF_VOICE);
  if (!heard.semitones || isAlone) return { target: line, remarks: [] };
  const followable = !isTooLongToFollow(score, heard.durationSec);
  const way = followable && !heard.isSilent ? followed(score, heard.semitones, heard.bands) : null;
  if (way?.fits)
    return { target: followedTarget(way, score), remarks: way.semitones === 0 ? [] : [ANOTHER_KEY] };
  if (!several) return { target: line, remarks: [] };
  const remarks = followable ? (way ? [NOT_THIS_SCORE] : []) : [TOO_LONG_TO_FOLLOW];
  return { target: followedTarget(way ?? notFollowed(score), score), remarks };
}

function isPlayedAlone(line: MeasuredTarget): boolean {
  return playedShare(line) >= LEAST_OF_LINE && line.extra <= MOST_BESIDES * line.notes.length;
}

const playedShare = ({ notes }: MeasuredTarget) =>
  notes.filter(n => n.status === 'played').length / notes.length;

function lineTarget({ notes, bpm, fifths }: PlayedScore, heard: HeardSound): MeasuredTarget {
  const target = heldAgainst(notes, heard.notes, bpm, heard.semitones);
  const curve = tempoCurve(target, notes);
  return {
    ...target,
    byDegree: byDegree(target, notes, fifths),
    byRegister: byRegister(target, notes),
    tempoCurve: curve,
    driftPercent: driftPercent(curve),
    of: 'score',
    followed: null,
    isRhythm: false,
    steadyPercent: null,
  };
}

/** Notes that were played before, as a line to hold others against: a quarter note is a second. */
export function lineOfModel(notes: readonly Note[]): ScoreNote[] {
  const begins = notes[0]?.startSec ?? 0;
  return notes.map(n => ({
    midi: n.midi + n.cents / 100,
    startQuarters: n.startSec - begins,
    quarters: n.endSec - n.startSec,
    atQuarters: 0,
    measure: '',
  }));
}

/** A tune beside the one that it was played after. Degrees of a scale and measures are not known of it. */
export function besideTune(line: readonly ScoreNote[], notes: readonly Performed[]): MeasuredTarget {
  return {
    ...heldAgainst(line, notes, 60),
    of: 'model',
    byDegree: [],
    byRegister: [],
    tempoCurve: [],
    driftPercent: null,
    followed: null,
    isRhythm: false,
    steadyPercent: null,
  };
}

function rhythmTarget({ notes, bpm }: PlayedScore, { bands }: HeardSound): MeasuredTarget {
  const target = rhythmHeld(notes, strokesOf(bands), bpm);
  const curve = tempoCurve(target, notes);
  return {
    ...target,
    byDegree: [],
    byRegister: [],
    tempoCurve: curve,
    driftPercent: driftPercent(curve),
    of: 'score',
    followed: null,
    isRhythm: true,
    steadyPercent: steadyPercentOf(target, notes),
  };
}

function followedTarget(way: Followed, { bpm: marked }: PlayedScore): MeasuredTarget {
  return {
    notes: [],
    extra: 0,
    tempoRatio: way.bpm === null ? null : way.bpm / (marked ?? UNMARKED_BPM),
    bpm: way.bpm,
    tuningCents: null,
    byDegree: [],
    byRegister: [],
    tempoCurve: way.tempoCurve,
    driftPercent: driftPercent(way.tempoCurve),
    of: 'score',
    followed: way,
    isRhythm: false,
    steadyPercent: way.steadyPercent,
  };
}
