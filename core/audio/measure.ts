/**
 * Everything that Ecoute measures of a recording, in one pass over its samples.
 *
 * Level is measured on the samples as they were recorded; all else on the same sound at 16 kHz, mono. Memory grows by what is
 * found (5 kB for a second of music; of speech 3.5 kB in the first ten minutes, and then 1 kB), not by the samples.
 */
import type { PlayedScore } from '../formats/scoreNotes';
import type { Stretch } from './activity';
import { BAND_HOP_SEC, BandMeter, type BandLevels } from './bands';
import { ANALYSIS_HZ, HalfSplitter } from './halves';
import { LevelMeter, type Level } from './level';
import { besideScore, type MeasuredTarget } from './besideScore';
import { vibratoOf, type Vibrato } from './intonation';
import { notesOf, type Note } from './notes';
import { HOP_SEC, PitchTracker } from './pitch';
import { Sections, SECTION_SEC } from './sections';
import { pausesBetween, speechFigures, withinGaps, type SpeechFigures } from './speech';
import { SemitoneMeter } from '../polyphony/semitones';
import { strokesOf } from '../rhythm/strokes';
import { tempoOf, type Tempo } from './tempo';
import { CepstraMeter } from '../words/cepstra';
import { textHeard, type TextHeard, type TextWord } from '../words/textHeard';
import { pitchRange, speechInGaps, type PitchRange, type TurnSpeech } from './turns';

export type HeardAs = 'speech' | 'music';

export interface Measures {
  durationSec: number;
  level: Level & { noiseFloorDbfs: number | null };
  /** 0 Hz where there is none. */
  pitch: { hopSec: number; hz: Float32Array; confidence: Float32Array; range: PitchRange | null };
  pauses: Stretch[];
  /** Of what was heard as speech. */
  speech: SpeechFigures | null;
  /** Middles of its syllables. */
  nuclei: number[] | null;
  /** Of a conversation: what was said in each gap. */
  turns: TurnSpeech[] | null;
  /** Beginnings of what was heard as music, and its notes; no notes where it was followed, or held against a rhythm. */
  onsets: number[] | null;
  notes: (Note & { vibrato: Vibrato | null })[] | null;
  tempo: Tempo | null;
  /** The words of the text that was to be spoken; null where none is known. */
  words: TextHeard | null;
  /** Held against a score. */
  target: MeasuredTarget | null;
  /** What whoever reads the figures should know, in plain words; empty when there is nothing. */
  remarks: string[];
}

/** What is known of a recording besides its sound. */
export interface HeardWith {
  /** What music is held against. */
  score?: PlayedScore | null;
  /** The gaps of a conversation, in seconds: what sounds outside of them is not the student. */
  gaps?: readonly Stretch[] | null;
  /** The text that was to be spoken, and what of it may have been; see `textHeard`. */
  text?: readonly TextWord[] | null;
  ways?: readonly (readonly number[])[] | null;
}

/** Seconds times words: ten minutes of a thousand words. Beyond, finding each would keep others waiting for minutes. */
const MOST_WORD_SECONDS = 600 * 1_000;
export const TOO_LONG_FOR_WORDS =
  'The recording and its passage are too long for each word to be looked for: pauses are placed by counting syllables.';
const NOT_ONE_VOICE =
  'This is not one voice or one line: most of it has no single pitch, so notes and tuning say little.';
/** Room for so long a recording is set aside at first where nobody says how long it may be. */
const ROOM_SEC = 600;
/** What comes at once may be more than is missing of a section. */
const ROOM_MORE_SEC = 10;
/** In a recording softer than this nobody sounds. */
const QUIET_DBFS = -60;
/** A recording in which less of the sounding time has a pitch is not one voice. */
const LEAST_PITCHED = 0.35;

/**
 * Measures a recording that comes in pieces.
 * @example
 * const m = new Measurer(48_000, 1); m.pushRaw([raw]); m.push(at16kHz); m.finish('speech').speech
 */
export class Measurer {
  private readonly level: LevelMeter;
  private readonly splitter = new HalfSplitter();
  private readonly bands: BandMeter;
  private readonly pitch: PitchTracker;
  private readonly isMusicHeard: boolean;
  private readonly cepstra: CepstraMeter | null;
  private readonly semitones: SemitoneMeter | null;
  private readonly sections: Sections;
  private readonly sectionHops: number;
  private samples = 0;

  /**
   * @param rateHz,channels of the samples as they were recorded
   * @param listens whether a text will be looked for, or a score with pitches: each takes another 10 kB for a second; and what the
   *   recording will be heard as, where that is known: for speech alone less is kept; and how long it is at most, about: to move what
   *   grows takes twice as much for a while, and room that is not needed takes time; and, of speech alone, how much is kept at a
   *   time: twenty seconds at least
   */
  constructor(
    rateHz: number,
    channels: number,
    listens: {
      forText?: boolean;
      forScore?: boolean;
      as?: HeardAs;
      roomSec?: number;
      sectionSec?: number;
    } = {},
  ) {
    const { roomSec = ROOM_SEC, sectionSec = SECTION_SEC } = listens;
    this.sectionHops = sectionSec / BAND_HOP_SEC;
    this.isMusicHeard = listens.as !== 'speech';
    this.level = new LevelMeter(rateHz, channels);
    const keptSec = this.isMusicHeard ? roomSec : Math.min(roomSec, sectionSec + ROOM_MORE_SEC);
    this.bands = new BandMeter({ room: Math.ceil(keptSec / BAND_HOP_SEC), rises: this.isMusicHeard });
    this.pitch = new PitchTracker({ room: Math.ceil(keptSec / HOP_SEC), partials: this.isMusicHeard });
    this.sections = new Sections(roomSec);
    this.cepstra = listens.forText ? new CepstraMeter() : null;
    this.semitones = listens.forScore ? new SemitoneMeter() : null;
  }

  /** @param pieces the samples as they were recorded, one array for each channel */
  pushRaw(pieces: readonly Float32Array[]): void {
    this.level.push(pieces);
  }

  /** @param samples the same sound, mono at 16 kHz @returns whether an earlier part was settled and let go of with it */
  push(samples: Float32Array): boolean {
    this.samples += samples.length;
    const halves = this.splitter.push(samples);
    this.bands.push(halves);
    this.pitch.push(halves.low);
    this.cepstra?.push(halves.low);
    this.semitones?.push(halves.low);
    // Music is followed as a whole.
    if (this.isMusicHeard || this.bands.kept < this.sectionHops) return false;
    this.sections.pass(this.bands, this.pitch);
    return true;
  }

  /**
   * @param as what the recording is heard as
   * @param known what is known of it besides; times in seconds of the recording
   * @throws RangeError for music where speech alone was listened for
   */
  finish(as: HeardAs, { score = null, gaps = null, text = null, ways = null }: HeardWith = {}): Measures {
    const halves = this.splitter.finish();
    this.bands.push(halves);
    this.pitch.push(halves.low);
    this.cepstra?.push(halves.low);
    this.semitones?.push(halves.low);
    const bands = this.bands.finish();
    const durationSec = this.samples / ANALYSIS_HZ;
    const level = this.level.finish();
    const isSpeech = as === 'speech';
    if (!isSpeech && !this.isMusicHeard) throw new RangeError('This was listened to as speech.');
    const {
      stretches,
      nuclei: all,
      sounding,
      pitch,
    } = this.sections.finish(bands, this.pitch.finish(), isSpeech);
    const { hz, confidence } = pitch;
    const remarks: string[] = [];
    if (stretches.length === 0)
      remarks.push(
        (level.rmsDbfs ?? -Infinity) < QUIET_DBFS
          ? 'Nothing sounds in this recording.'
          : 'Nothing stands out of the noise in this recording.',
      );
    const answers = isSpeech && gaps ? withinGaps(stretches, gaps) : [stretches];
    const nuclei = isSpeech ? all.filter(sec => !gaps || isWithin(sec, gaps)) : null;
    const isTooLong = text !== null && durationSec * text.length * (ways?.length ?? 1) > MOST_WORD_SECONDS;
    if (isSpeech && isTooLong) remarks.push(TOO_LONG_FOR_WORDS);
    const words =
      isSpeech && text && this.cepstra && !isTooLong ? textHeard(this.cepstra.finish(), text, ways) : null;
    const sung = isSpeech ? null : notesOf(pitch, bands);
    const pitched = hz.reduce((n, f) => n + Number(f > 0), 0);
    const isOneVoice = stretches.length === 0 || pitched >= LEAST_PITCHED * sounding;
    const held =
      sung && score
        ? besideScore(score, {
            notes: sung,
            bands,
            semitones: this.semitones?.finish() ?? null,
            isSilent: stretches.length === 0,
            isOneVoice,
            durationSec,
          })
        : null;
    remarks.push(...(held?.remarks ?? []));
    const target = held?.target ?? null;
    const notes = target?.followed || target?.isRhythm ? null : sung;
    if (notes && !isOneVoice) remarks.push(NOT_ONE_VOICE);
    const onsets = sung && onsetsOf(sung, target, isOneVoice ? null : bands);
    const free = notes && tempoOf(notes);
    const stabilityPercent = target?.steadyPercent ?? free?.stabilityPercent ?? null;
    const tempo = target?.bpm && stabilityPercent !== null ? { bpm: target.bpm, stabilityPercent } : free;
    return {
      durationSec,
      level: { ...level, noiseFloorDbfs: this.level.noiseFloorDbfs(stretches) },
      pitch: {
        hopSec: pitch.hopSec,
        hz,
        confidence,
        range: pitchRange(pitch),
      },
      pauses: answers.flatMap(pausesBetween),
      speech:
        nuclei &&
        speechFigures(answers, countedSyllables(nuclei, words), durationSec, gaps?.[0]?.startSec ?? 0),
      nuclei,
      words,
      turns: isSpeech && gaps ? speechInGaps(stretches, gaps) : null,
      onsets,
      notes:
        notes?.map(n => ({
          startSec: n.startSec,
          endSec: n.endSec,
          midi: n.midi,
          cents: n.cents,
          vibrato: vibratoOf(pitch, { startSec: n.steadySec, endSec: n.endSec }),
        })) ?? null,
      tempo,
      target,
      remarks,
    };
  }
}

/** Of the text by its words, of what was said besides by its sound. */
function countedSyllables(nuclei: readonly number[], words: TextHeard | null): number {
  if (!words?.fits) return nuclei.length;
  const besides = words.extra.filter(e => e.kind === 'inserted');
  return words.syllables + nuclei.filter(sec => isWithin(sec, besides)).length;
}

const isWithin = (sec: number, gaps: readonly Stretch[]) =>
  gaps.some(g => sec >= g.startSec && sec <= g.endSec);

/** When something begins: by what it was followed by, by strokes where most has no pitch, else by its notes. */
function onsetsOf(
  notes: readonly Note[],
  target: MeasuredTarget | null,
  unpitched: BandLevels | null,
): number[] {
  if (target?.followed?.fits) return target.followed.events.flatMap(e => e.startSec ?? []);
  if (target?.isRhythm) return target.notes.flatMap(n => n.startSec ?? []);
  return unpitched ? strokesOf(unpitched).map(s => s.sec) : notes.map(n => n.startSec);
}
