/**
 * What Ecoute must know of a piece of notation in MusicXML (4.0, W3C community specification): its parts, how
 * long it is, and the note on which each part begins. Drawing is left to the interface.
 */
import { XMLParser, XMLValidator } from 'fast-xml-parser';

export interface ScorePart {
  /** The part's id in the file, such as `P1`. */
  id: string;
  name: string;
  /** MIDI number of its first sounding note, transposing instruments reckoned in; null where it only rests. */
  firstMidi: number | null;
}

export interface Score {
  title: string;
  measures: number;
  parts: ScorePart[];
}

export type ScoreProblem = 'broken' | 'notScore' | 'timewise' | 'empty';

export class ScoreError extends Error {
  /** @param line where the text breaks off, from 1; null where no line is to blame */
  constructor(
    readonly problem: ScoreProblem,
    readonly line: number | null = null,
  ) {
    super(problem);
  }
}

/** Half tones above C. */
export const STEPS: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

type Xml = Record<string, unknown>;

function list(value: unknown): Xml[] {
  const all = Array.isArray(value) ? (value as unknown[]) : value === undefined ? [] : [value];
  // An element without children is read as its text.
  return all.map(v => (v !== null && typeof v === 'object' ? (v as Xml) : { '#text': v }));
}

function textOf(value: unknown): string {
  const found = list(value)[0]?.['#text'];
  return typeof found === 'string' ? found.trim() : '';
}

function midiOf(pitch: Xml, transpose: number): number | null {
  const step = STEPS[textOf(pitch.step).toUpperCase()];
  const octave = Number(textOf(pitch.octave));
  if (step === undefined || !Number.isInteger(octave)) return null;
  return Math.round(12 * (octave + 1) + step + Number(textOf(pitch.alter) || 0)) + transpose;
}

function firstMidiOf(part: Xml): number | null {
  let transpose = 0;
  for (const measure of list(part.measure)) {
    for (const attributes of list(measure.attributes)) {
      const t = list(attributes.transpose)[0];
      if (t) transpose = Number(textOf(t.chromatic) || 0) + 12 * Number(textOf(t['octave-change']) || 0);
    }
    for (const note of list(measure.note)) {
      const pitch = list(note.pitch)[0];
      // Grace notes are not where a singer begins.
      if (pitch && !('grace' in note)) return midiOf(pitch, transpose);
    }
  }
  return null;
}

/**
 * Reads a score.
 * @param xml the text of a MusicXML file, not compressed
 * @throws ScoreError broken (not well-formed), notScore, timewise (measures before parts), empty
 */
export function readScore(xml: string): Score {
  // Entities of its own could grow without end; MusicXML needs none.
  if (/<!ENTITY/i.test(xml)) throw new ScoreError('notScore');
  const valid = XMLValidator.validate(xml.replace(/<!DOCTYPE[^>[]*(\[[^\]]*\])?[^>]*>/i, ''));
  if (valid !== true) throw new ScoreError('broken', valid.err.line);
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '@',
    parseTagValue: false,
    alwaysCreateTextNode: true,
    // The five that XML itself knows are replaced; others were refused above.
    processEntities: true,
  });
  const root = parser.parse(xml) as Xml;
  if ('score-timewise' in root) throw new ScoreError('timewise');
  const score = list(root['score-partwise'])[0];
  if (!score) throw new ScoreError('notScore');
  const names = new Map(
    list(list(score['part-list'])[0]?.['score-part']).map(p => [
      String(p['@id'] ?? ''),
      textOf(p['part-name']),
    ]),
  );
  const parts = list(score.part).map((part, i) => {
    const id = String(part['@id'] ?? `P${i + 1}`);
    return { id, name: names.get(id) || `Part ${i + 1}`, firstMidi: firstMidiOf(part) };
  });
  const measures = Math.max(0, ...list(score.part).map(p => list(p.measure).length));
  if (parts.length === 0 || measures === 0) throw new ScoreError('empty');
  const work = list(score.work)[0];
  return { title: textOf(work?.['work-title']) || textOf(score['movement-title']), measures, parts };
}

/** The frequency of a note in equal temperament, A4 (69) being 440 Hz. */
export function hzOfMidi(midi: number): number {
  return 440 * 2 ** ((midi - 69) / 12);
}

const NAMES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];

/** A note's name with its octave, middle C being C4. */
export function noteName(midi: number): string {
  return `${NAMES[((midi % 12) + 12) % 12]}${Math.floor(midi / 12) - 1}`;
}
