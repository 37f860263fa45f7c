/**
 * A performance held against its score: which notes were played, which were not, how each was in tune and in time.
 *
 * The two are aligned by dynamic programming over both sequences (after R. B. Dannenberg, "An on-line algorithm for real-time
 * accompaniment", ICMC 1984), with prices for a note left out, a note put in, a note of the score heard in two pieces and two
 * repeated ones heard as one. First by pitch alone; then, twice, also by time, against a tempo that may wander. The tempo is a
 * line fitted by least absolute deviations, so that one late note does not bend it.
 *
 * What it cannot do: say which of two like notes was left out; hear that a note was held instead of repeated, where nothing
 * new begins (such a note counts as played, without a time).
 */
import type { ScoreNote } from '../formats/scoreNotes';
import type { SemitoneLevels } from '../polyphony/semitones';
import { aligned, type Performed } from './alignNotes';
import { expectedSec, fittedLine, placesOf, type Line } from './noteTimes';
import { median } from './ranks';
import { witnessed } from './witnessed';

export interface TargetNote {
  /** Place among the notes of the score, from 0. */
  index: number;
  status: 'played' | 'missed';
  /** From the score's pitch, the performance's common tuning taken out. Null where it was missed, or is heard among others alone. */
  centsOff: number | null;
  /** Later (> 0) or earlier than the fitted start and tempo say; null where no beginning can be told. */
  onsetOffSec: number | null;
  /** Sounding length beside the written one at the fitted tempo. */
  durationRatio: number | null;
  /** When it began in the recording; null where it was missed. */
  startSec: number | null;
}

export interface Target {
  notes: TargetNote[];
  /** Notes that the score has not. */
  extra: number;
  /** Fitted tempo beside the marked one (120 where none is marked): 0.92 is 8 % slower. Null with fewer than two notes. */
  tempoRatio: number | null;
  /** Fitted tempo in quarter notes a minute. */
  bpm: number | null;
  /** What all notes are off in common: an octave lower is −1200. */
  tuningCents: number | null;
}

/** Quarter notes a minute where a score has no mark. */
export const UNMARKED_BPM = 120;

/** Off by half a beat costs this much, and not more than the other for being somewhere else. */
const TIME_COST = 0.5;
const MOST_TIME_COST = 1.3;
/** A repeated note was heard with the one before if that lasted into it by this part. */
const HELD_SHARE = 0.4;
/** Another key is believed only if it is better by this much for each note. */
const OTHER_KEY_COST = 0.25;
const MOST_SEMITONES = 24;

/** The key in which it was played, as half tones from the written one. */
function keyOf(score: readonly ScoreNote[], heard: readonly Performed[]): number {
  const written = aligned(score, heard, 0).cost;
  let best = 0;
  let least = written;
  for (let shift = -MOST_SEMITONES; shift <= MOST_SEMITONES; shift++) {
    if (shift === 0) continue;
    const cost = aligned(score, heard, shift).cost + OTHER_KEY_COST * score.length;
    if (cost < least) [least, best] = [cost, shift];
  }
  return best;
}

/**
 * Holds a performance against its score.
 * @param score notes as they should sound, in order
 * @param heard notes of the recording, in order
 * @param markedBpm quarter notes a minute; null where the score has no mark
 * @param levels the half tones of the recording, by which notes are told that were not followed; null where they are not known
 */
export function heldAgainst(
  score: readonly ScoreNote[],
  heard: readonly Performed[],
  markedBpm: number | null,
  levels: SemitoneLevels | null = null,
): Target {
  let shift = keyOf(score, heard);
  let found = aligned(score, heard, shift);
  let line: Line | null = null;
  for (let round = 0; round < 3; round++) {
    const places = placesOf(score, heard, found.matched);
    if (places.length === 0) break;
    shift = median(places.map(p => p.semitones));
    line = fittedLine(places);
    if (!line) break;
    const expected = expectedSec(score, places, line);
    const beat = line.secPerQuarter;
    found = aligned(score, heard, shift, {
      cost: (i, j) => {
        const off = (heard[j]!.startSec - expected[i]!) / (beat / 2);
        return Math.min(MOST_TIME_COST, TIME_COST * off * off);
      },
      isHeld: (i, j) => heard[j]!.endSec > expected[i]! + HELD_SHARE * beat * score[i]!.quarters,
    });
  }
  const places = placesOf(score, heard, found.matched);
  line = fittedLine(places) ?? line;
  const tuning = places.length > 0 ? median(places.map(p => p.semitones)) : null;
  const besides = levels && witnessed(score, heard, found, levels);
  const notes = found.matched.map((at, index): TargetNote => {
    const note = score[index]!;
    const expected = line ? line.startSec + line.secPerQuarter * note.startQuarters : null;
    if (at.heard < 0) {
      const isPlayed = besides?.played.has(index) ?? false;
      const startSec = besides?.played.get(index) ?? null;
      return {
        index,
        status: isPlayed ? 'played' : 'missed',
        centsOff: null,
        onsetOffSec: startSec === null ? null : startSec - expected!,
        durationRatio: null,
        startSec: isPlayed ? (startSec ?? expected) : null,
      };
    }
    const own = heard[at.heard]!;
    const isShared = at.isMerged || (found.matched[index + 1]?.isMerged ?? false);
    return {
      index,
      status: 'played',
      centsOff: 100 * (at.semitones - tuning!),
      onsetOffSec: at.isMerged || expected === null ? null : own.startSec - expected,
      durationRatio:
        isShared || !line ? null : (at.endSec - own.startSec) / (line.secPerQuarter * note.quarters),
      startSec: at.isMerged ? expected : own.startSec,
    };
  });
  const bpm = line ? 60 / line.secPerQuarter : null;
  return {
    notes,
    extra: besides?.extra ?? found.extra.length,
    tempoRatio: bpm === null ? null : bpm / (markedBpm ?? UNMARKED_BPM),
    bpm,
    tuningCents: tuning === null ? null : 100 * tuning,
  };
}
