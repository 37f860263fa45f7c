/**
 * What is kept of the measures of a take: times in seconds of the recording as it is heard, pitch in whole cents, and a few
 * figures by which takes can be compared. Figures are evidence, never a score.
 */
import type { ScoreNote } from '../formats/scoreNotes';
import type { Stretch } from './activity';
import type { BesideModel } from './besideModel';
import type { HeardAs, Measures } from './measure';
import { midiOfHz } from './notes';
import { median } from './ranks';
import { readingHeard, readingOf, type PassageWord, type Reading } from './reading';
import type { PitchRange } from './turns';
import type { Followed } from '../polyphony/followed';
import { shareSaid } from '../words/shareSaid';
import type { TextHeard } from '../words/textHeard';
import { againstBeats, scoreAgainstBeats, type BesideBeat } from './tempo';

/** Another number when what is measured changes: takes are then measured again. */
export const EVIDENCE_REVISION = 13;

export interface Evidence {
  as: HeardAs;
  /** Where the answer begins in the recording; what lies before is not measured. */
  fromSec: number;
  durationSec: number;
  level: Measures['level'];
  pitch: {
    /** Of the first value. */
    fromSec: number;
    hopSec: number;
    /** Cents above MIDI note 0; 0 where nothing has a pitch. */
    cents: number[];
    range: PitchRange | null;
  };
  pauses: Stretch[];
  speech: Measures['speech'];
  turns: Measures['turns'];
  notes: Measures['notes'];
  tempo: Measures['tempo'];
  target: Measures['target'];
  /** The notes of the score, or of the model, by their index in `target.notes`. */
  line: ScoreNote[] | null;
  /** Each note against the metronome that ran along; later > 0. */
  beats: BesideBeat[] | null;
  /** Where the beats of the metronome lie by its clicks, from the first that was sent out on; null where they are not heard. */
  heardBeatsSec: number[] | null;
  reading: Reading | null;
  /**
   * The words of a known text at their times; null where no reference voice speaks its language. Where it is the model answer, those that say
   * something else have none. `asked` as in `TextHeard`. Both came later: what was measured before them has neither.
   */
  words:
    | (Pick<TextHeard, 'fits' | 'words' | 'extra'> & Partial<Pick<TextHeard, 'asked'>> & { of?: TextOf })
    | null;
  /** The take beside a sound that it follows; null where there is none, or it says or plays something else. */
  beside: (Omit<BesideModel, 'unlike'> & { of: 'model' | 'prompt'; recordingId: string }) | null;
  remarks: string[];
}

export interface EvidenceContext {
  as: HeardAs;
  fromSec: number;
  line?: ScoreNote[] | null;
  /** When the beats were, in seconds of the recording. */
  beatsSec?: readonly number[] | null;
  /** The same as the recording itself shows them. */
  heardBeatsSec?: readonly number[] | null;
  /** Between which of them the recorder stumbled: nothing is said of what lies there. */
  unsureSec?: readonly Stretch[];
  /** The text that is known: a passage that was to be read aloud, or a model answer that may have been said. */
  passage?: readonly PassageWord[] | null;
  textOf?: TextOf;
}

export type TextOf = 'passage' | 'model';

const NOT_THIS_PASSAGE =
  'What was heard does not fit the passage read once from beginning to end, so pauses are not laid on it.';
/** Of the model answer's words and of what was said, so much is the same: less is an answer in its own words. */
const LEAST_OF_MODEL = 0.6;
const NOT_THESE_WORDS =
  'This does not sound like the passage: another text, another language, or much of it left out. So its words are not laid on it.';

/** @param measures times from the beginning of the answer */
export function evidenceOf(measures: Measures, context: EvidenceContext): Evidence {
  const { as, fromSec } = context;
  const later = (s: Stretch) => ({ startSec: s.startSec + fromSec, endSec: s.endSec + fromSec });
  // Between strokes there is always silence.
  const pauses = measures.target?.isRhythm ? [] : measures.pauses.map(later);
  const notes = measures.notes?.map(n => ({ ...n, ...later(n) })) ?? null;
  const { target } = measures;
  const of = context.textOf ?? 'passage';
  const isSaid = of === 'passage' || saysModel(measures.words);
  const words: Evidence['words'] =
    measures.words && isSaid
      ? {
          of,
          fits: measures.words.fits,
          words: measures.words.words.map(w => w && later(w)),
          extra: measures.words.extra.map(e => ({ ...e, ...later(e) })),
          asked: measures.words.asked,
        }
      : null;
  const passage = isSaid && context.passage && context.passage.length > 0 ? context.passage : null;
  const reading =
    passage && measures.nuclei ? readingIn(passage, measures.nuclei, words, pauses, fromSec) : null;
  const beats =
    measures.onsets && context.beatsSec
      ? atBeats(
          measures,
          context.line ?? null,
          context.beatsSec.map(b => b - fromSec),
        )
          .map(b => ({ ...b, atSec: b.atSec + fromSec }))
          .filter(b => !isUnsure(b.atSec, context))
      : null;
  return {
    as,
    fromSec,
    durationSec: measures.durationSec + fromSec,
    level: measures.level,
    pitch: {
      fromSec,
      hopSec: measures.pitch.hopSec,
      // Of several notes at once, and of strokes, no one pitch is theirs.
      ...(target && (target.followed || target.isRhythm)
        ? { cents: [], range: null }
        : { cents: centsOf(measures.pitch.hz), range: measures.pitch.range }),
    },
    pauses,
    speech: measures.speech,
    turns: measures.turns,
    notes,
    tempo: measures.tempo,
    target: target && {
      ...target,
      notes: target.notes.map(n => ({ ...n, startSec: n.startSec === null ? null : n.startSec + fromSec })),
      tempoCurve: target.tempoCurve.map(p => ({ ...p, atSec: p.atSec + fromSec })),
      followed: target.followed && followedLater(target.followed, fromSec),
    },
    line: target && !target.followed ? (context.line ?? null) : null,
    beats: beats && beats.length > 0 ? beats : null,
    heardBeatsSec: context.heardBeatsSec ? [...context.heardBeatsSec] : null,
    reading,
    words,
    beside: null,
    remarks: [...measures.remarks, ...misfit(words, reading)],
  };
}

const centsOf = (hz: Float32Array) =>
  Array.from(hz, f => (f > 0 ? Math.max(1, Math.round(100 * midiOfHz(f))) : 0));

function followedLater(way: Followed, fromSec: number): Followed {
  return {
    ...way,
    events: way.events.map(e => ({ ...e, startSec: e.startSec === null ? null : e.startSec + fromSec })),
    restarts: way.restarts.map(r => ({
      ...r,
      atSec: r.atSec + fromSec,
      stoppedSec: r.stoppedSec + fromSec,
    })),
    waits: way.waits.map(w => ({ ...w, atSec: w.atSec + fromSec })),
    // Told once already, beside the target's own.
    tempoCurve: [],
  };
}

/** Nobody has to say that an answer repeats the model: it does where its words do. */
function saysModel(words: TextHeard | null): boolean {
  return words !== null && words.fits && shareSaid(words) >= LEAST_OF_MODEL;
}

/** By the words where they are known; else reckoned from syllables. */
function readingIn(
  passage: readonly PassageWord[],
  nuclei: readonly number[],
  words: Evidence['words'],
  pauses: readonly Stretch[],
  fromSec: number,
): Reading {
  if (words?.fits) return readingHeard(passage, words, pauses, words.asked);
  const reckoned = readingOf(
    passage,
    nuclei.map(n => n + fromSec),
    pauses,
  );
  // What is not this text has no pauses in it, whatever the number of its syllables.
  return words
    ? { ...reckoned, wordsPerMinute: null, spanSec: null, sentenceEndsPaused: 0, pauses: [] }
    : reckoned;
}

function misfit(words: Evidence['words'], reading: Reading | null): string[] {
  if (words && !words.fits) return [NOT_THESE_WORDS];
  return reading && reading.wordsPerMinute === null ? [NOT_THIS_PASSAGE] : [];
}

/** A quarter of a beat around those that were heard is theirs. */
function isUnsure(atSec: number, { beatsSec, unsureSec = [] }: EvidenceContext): boolean {
  const own = 0.25 * ((beatsSec?.[1] ?? 0) - (beatsSec?.[0] ?? 0));
  return unsureSec.some(u => atSec > u.startSec + own && atSec < u.endSec - own);
}

/** Seconds from the beginning of the answer. */
function atBeats(
  { target, onsets }: Measures,
  line: readonly ScoreNote[] | null,
  beatsSec: number[],
): BesideBeat[] {
  if (target?.of === 'score' && line && !target.followed) return scoreAgainstBeats(target, line, beatsSec);
  return againstBeats(onsets ?? [], beatsSec);
}

/** Figures by which takes of the same item can be compared, in the order in which they are read. */
export const FIGURES = [
  'speakingSec',
  'initialSilenceSec',
  'latencySec',
  'wordsPerMinute',
  'articulationRate',
  'speechRate',
  'pauseCount',
  'longestPauseSec',
  'meanRunSec',
  'sentencePauses',
  'insidePauses',
  'rangeSemitones',
  'playedPercent',
  'extraNotes',
  'restarts',
  'waits',
  'noteCount',
  'offCents',
  'tuningCents',
  'offMs',
  'beatMs',
  'bpm',
  'driftPercent',
  'steadyPercent',
] as const;
export type Figure = (typeof FIGURES)[number];
export type Figures = Partial<Record<Figure, number>>;

const middle = (values: readonly (number | null)[]): number | null => {
  const known = values.flatMap(v => (v === null ? [] : [v]));
  return known.length === 0 ? null : median(known);
};
const size = (value: number | null) => (value === null ? null : Math.abs(value));

/** The figures of one take; what cannot be told is left out. */
export function figuresOf(evidence: Evidence): Figures {
  const { speech, turns, reading, target, notes, tempo, beats } = evidence;
  const inside = (f: number) => (reading?.wordsPerMinute == null ? null : f);
  const way = target?.followed?.fits ? target.followed : null;
  const all: Record<Figure, number | null> = {
    speakingSec: speech && speech.speakingSec,
    // In a conversation each answer has its own.
    initialSilenceSec: speech && !turns ? speech.initialSilenceSec : null,
    latencySec: turns && middle(turns.map(t => t.latencySec)),
    wordsPerMinute: reading?.wordsPerMinute ?? null,
    articulationRate: speech?.articulationRate ?? null,
    speechRate: speech?.speechRate ?? null,
    pauseCount: speech && speech.pauseCount,
    longestPauseSec: speech && speech.longestPauseSec,
    meanRunSec: speech?.meanRunSec ?? null,
    sentencePauses: reading && inside(reading.sentenceEndsPaused),
    insidePauses: reading && inside(reading.pauses.filter(p => p.place === 'inside').length),
    rangeSemitones: speech ? (evidence.pitch.range?.semitones ?? null) : null,
    playedPercent: playedPercent(target),
    extraNotes: target && !way ? target.extra : null,
    restarts: way ? way.restarts.length : null,
    waits: way ? way.waits.length : null,
    noteCount: notes && !target ? notes.length : null,
    offCents: target
      ? middle(target.notes.map(n => size(n.centsOff)))
      : notes && middle(notes.map(n => size(n.cents))),
    tuningCents: target?.tuningCents ?? null,
    offMs: target && scaled(middle(target.notes.map(n => size(n.onsetOffSec)))),
    beatMs: beats && scaled(middle(beats.map(b => Math.abs(b.offSec)))),
    bpm: tempo && tempo.bpm,
    driftPercent: target?.driftPercent ?? null,
    steadyPercent: tempo && tempo.stabilityPercent,
  };
  const known: Figures = {};
  for (const name of FIGURES) {
    const value = all[name];
    if (value !== null && Number.isFinite(value)) known[name] = Math.round(100 * value) / 100;
  }
  return known;
}

function playedPercent(target: Evidence['target']): number | null {
  if (!target) return null;
  const played = target.followed
    ? target.followed.events.map(e => e.startSec !== null)
    : target.notes.map(n => n.status === 'played');
  if (played.length === 0 || target.followed?.fits === false) return null;
  return (100 * played.filter(Boolean).length) / played.length;
}

const scaled = (sec: number | null) => (sec === null ? null : 1000 * sec);

/** A note of the target where it would lie in the recording, at the tempo and the tuning of the performance. */
export interface ExpectedNote {
  index: number;
  startSec: number;
  endSec: number;
  /** Where its pitch would lie, the common tuning taken in. */
  cents: number;
}

/** The target's line laid on the recording; empty where nothing was held against a score, or hardly a note was played. */
export function expectedNotes({ target, line }: Pick<Evidence, 'target' | 'line'>): ExpectedNote[] {
  if (!target || !line || target.bpm === null) return [];
  const quarterSec = 60 / target.bpm;
  const begins = middle(
    target.notes.map(n =>
      n.startSec === null || n.onsetOffSec === null
        ? null
        : n.startSec - n.onsetOffSec - line[n.index]!.startQuarters * quarterSec,
    ),
  );
  if (begins === null) return [];
  return line.map((note, index) => ({
    index,
    startSec: begins + note.startQuarters * quarterSec,
    endSec: begins + (note.startQuarters + note.quarters) * quarterSec,
    cents: 100 * note.midi + (target.tuningCents ?? 0),
  }));
}
