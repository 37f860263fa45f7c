/**
 * What sounds along with a musical answer, laid out on the take's clock: a note to start from, a count-in and the
 * beat, a drone, a backing track. Times in ms from the opening of the recorder's gate.
 */
import { beatMs, countInMs, type Beat } from './takeClock';

/** Pitch of a metronome's click, and of the first of each bar. */
export const CLICK_HZ = 1_320;
export const FIRST_CLICK_HZ = 1_760;
/** A click has died away after so long. */
export const CLICK_SEC = 0.03;

export interface Metronome {
  bpm: number;
  /** Beats in a bar. */
  beats: number;
  /** Whole bars counted before the answer. */
  countInBars: number;
  /** After the count-in the beat goes on sounding; else it is only seen. */
  heard: boolean;
}

export interface Accompaniment {
  metronome: Metronome | null;
  /** MIDI numbers; null for none. */
  startingNote: number | null;
  drone: number | null;
  /** Length of a backing track; null where there is none. */
  backingMs: number | null;
}

export interface Layout {
  /** Where the first thing that is heard during the take begins; null where nothing is. */
  soundFromMs: number | null;
  /** Where the answer's window begins, as it is sent out. */
  answerFromMs: number;
  backingFromMs: number | null;
  beat: Beat | null;
}

/** From the gate to the first sound: both are scheduled on one clock, this far apart. */
export const SOUND_LEAD_MS = 100;

/** How long a starting note sounds, before the recorder's gate opens. */
export const STARTING_NOTE_MS = 1_500;

/** The beat of a metronome, as takes keep it. */
export function beatOf(metronome: Metronome | null): Beat | null {
  return (
    metronome && {
      bpm: metronome.bpm,
      beats: metronome.beats,
      countIn: metronome.countInBars * metronome.beats,
    }
  );
}

/** Lays out what sounds along with a take. */
export function layoutOf({ metronome, drone, backingMs }: Accompaniment): Layout {
  const beat = beatOf(metronome);
  const sounds = beat !== null || drone !== null || backingMs !== null;
  const answerFromMs = beat ? SOUND_LEAD_MS + countInMs(beat) : 0;
  return {
    soundFromMs: sounds ? SOUND_LEAD_MS : null,
    answerFromMs,
    backingFromMs: backingMs === null ? null : beat ? answerFromMs : SOUND_LEAD_MS,
    beat,
  };
}

/** What a count-in adds to a take before its answer begins, in ms; 0 without one. */
export function leadInMs(of: Pick<Accompaniment, 'metronome'> | null): number {
  const beat = beatOf(of?.metronome ?? null);
  return beat && beat.countIn > 0 ? SOUND_LEAD_MS + countInMs(beat) : 0;
}

/** Equal temperament at A4 = 440 Hz. */
export function hzOf(midi: number): number {
  return 440 * 2 ** ((midi - 69) / 12);
}

/** The beat that sounds at a moment. @param ms from the first beat @returns number from 0, and how far into it (0…1) */
export function beatAt(beat: Beat, ms: number): { number: number; inBar: number; phase: number } {
  const step = beatMs(beat);
  const number = Math.max(0, Math.floor(ms / step));
  const inBar = (((number - beat.countIn) % beat.beats) + beat.beats) % beat.beats;
  return { number, inBar, phase: Math.max(0, ms / step - number) };
}

const NOTES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];

/** A note's name with its octave, as in scientific pitch notation: 60 is C4. */
export function noteName(midi: number): string {
  return `${NOTES[((midi % 12) + 12) % 12]}${Math.floor(midi / 12) - 1}`;
}
