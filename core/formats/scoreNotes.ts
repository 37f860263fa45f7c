/**
 * The notes of a MusicXML score (4.0) in the order in which they sound: repeats and their endings played out, ties joined,
 * rests left out, transposing instruments reckoned in. What a performance is held against.
 */
import { XMLParser } from 'fast-xml-parser';
import { readScore, ScoreError } from './musicXml';
import { nodesOf, PartReader, playedOrder, type Measure, type WrittenNote } from './scoreMeasures';

export interface ScoreNote {
  /** Sounding pitch as a MIDI number; without a pitch, the place at which it is drawn. */
  midi: number;
  /** From the beginning of the first measure, a pickup included, in quarter notes. */
  startQuarters: number;
  quarters: number;
  /** From the beginning of its measure, in quarter notes. */
  atQuarters: number;
  /** Number of its measure in the score, from 1, as printed or counted. */
  measure: string;
}

export interface PlayedScore {
  /** One line: of a chord the highest note, of several voices the first. */
  notes: ScoreNote[];
  /** All that sounds, in the order in which it begins. */
  all: ScoreNote[];
  /** Measures as they are played. */
  bars: { measure: string; startQuarters: number }[];
  /** Whether it is written without pitches: for a drum, for hands, for a text in rhythm. */
  isUnpitched: boolean;
  /** Quarter notes a minute as marked at the beginning; null without a mark. */
  bpm: number | null;
  /** Key: fifths up the circle, −7…7, as it sounds. */
  fifths: number;
}

/** Whether more than one note sounds at some time: chords, two hands, several parts. */
export function isSeveral({ all }: Pick<PlayedScore, 'all'>): boolean {
  return all.some((note, i) => {
    const next = all[i + 1];
    return next !== undefined && next.startQuarters < note.startQuarters + note.quarters - OVERLAP;
  });
}

/** Quarter notes by which two notes of one voice may be written into each other. */
const OVERLAP = 0.01;

/**
 * The notes of a score as they sound.
 * @param xml    the text of a MusicXML file, not compressed
 * @param partId the part; when left out, all parts sound, and the line is that of the first one that has notes
 * @param semitones half tones that the teacher moved it by
 * @throws ScoreError as `readScore` does; empty where there are no notes
 */
export function playedScore(xml: string, partId = '', semitones = 0): PlayedScore {
  readScore(xml);
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseTagValue: false,
    processEntities: true,
  });
  const root = nodesOf(parser.parse(xml)).find(n => n.name === 'score-partwise');
  const parts = (root?.children ?? [])
    .filter(n => n.name === 'part' && (partId === '' || n.attributes.id === partId))
    .map(part => {
      const reader = new PartReader();
      const measures = part.children.filter(n => n.name === 'measure').map(n => reader.measure(n));
      return { reader, measures };
    })
    .filter(({ measures }) => measures.some(m => m.all.length > 0));
  const first = parts[0];
  if (!first) throw new ScoreError('empty');
  const isUnpitched = parts.every(p => p.measures.every(m => m.all.every(n => n.isUnpitched)));
  const order = playedOrder(first.measures);
  const moved = isUnpitched ? 0 : semitones;
  const all = parts
    .flatMap(({ measures }) => soundingIn(measures, order, first.measures, 'all', moved))
    .sort((a, b) => a.startQuarters - b.startQuarters || a.midi - b.midi);
  return {
    notes: soundingIn(first.measures, order, first.measures, 'line', moved),
    all,
    bars: barsOf(order, first.measures),
    isUnpitched,
    bpm: parts.find(p => p.reader.bpm !== null)?.reader.bpm ?? null,
    fifths: first.reader.fifths ?? 0,
  };
}

function barsOf(order: readonly number[], measures: readonly Measure[]): PlayedScore['bars'] {
  let from = 0;
  return order.map(i => {
    const { number, quarters } = measures[i]!;
    const bar = { measure: number, startQuarters: from };
    from += quarters;
    return bar;
  });
}

/**
 * The notes of a part, its measures played in an order.
 * @param timed the measures of the part that says how long each is
 */
function soundingIn(
  measures: readonly Measure[],
  order: readonly number[],
  timed: readonly Measure[],
  which: 'line' | 'all',
  semitones: number,
): ScoreNote[] {
  const notes: ScoreNote[] = [];
  let from = 0;
  /** Notes that are tied on, by their pitch. */
  let held = new Map<number, ScoreNote>();
  const add = (note: WrittenNote, number: string) => {
    const startQuarters = from + note.at;
    const midi = note.midi + semitones;
    const last = note.isTiedFrom ? held.get(midi) : undefined;
    if (last) last.quarters = startQuarters + note.quarters - last.startQuarters;
    else notes.push({ midi, startQuarters, quarters: note.quarters, atQuarters: note.at, measure: number });
    if (which === 'line') held = new Map();
    else held.delete(midi);
    if (note.isTiedOn) held.set(midi, last ?? notes.at(-1)!);
  };
  for (const i of order) {
    for (const note of measures[i]?.[which] ?? []) add(note, timed[i]!.number);
    from += timed[i]!.quarters;
  }
  return notes;
}
