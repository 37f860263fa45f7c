/**
 * What is written in the measures of one part of a MusicXML score (4.0), and in which order they are played: repeats and their
 * endings, leaps back and codas. Grace notes and cues are left out, for nobody can say when they begin.
 */
import { STEPS } from './musicXml';

/** An element with its children in order. */
export interface Node {
  name: string;
  text: string;
  attributes: Record<string, string>;
  children: Node[];
}

type Raw = Record<string, unknown>;

/** @param raw what the parser made, order preserved */
export function nodesOf(raw: unknown): Node[] {
  return (raw as Raw[]).flatMap(element => {
    const name = Object.keys(element).find(k => k !== ':@');
    if (name === undefined || name === '#text') return [];
    const inside = element[name] as Raw[];
    const text = inside.find(c => '#text' in c)?.['#text'];
    return {
      name,
      text: text === undefined ? '' : String(text).trim(),
      attributes: (element[':@'] ?? {}) as Record<string, string>,
      children: nodesOf(inside),
    };
  });
}

const child = (node: Node | undefined, name: string) => node?.children.find(c => c.name === name);
const numberIn = (node: Node | undefined, name: string) => {
  const text = child(node, name)?.text;
  return text ? Number(text) : NaN;
};

/** Fifths up for each half tone of a transposition. */
const FIFTHS_PER_SEMITONE = 7;

export interface WrittenNote {
  /** Sounding pitch as a MIDI number; without a pitch, the place at which it is drawn. */
  midi: number;
  /** From the beginning of its measure, in quarter notes. */
  at: number;
  quarters: number;
  isTiedOn: boolean;
  isTiedFrom: boolean;
  isUnpitched: boolean;
}

/** What is written in a measure. */
export interface Measure {
  number: string;
  quarters: number;
  /** Its first voice, of chords the highest note. */
  line: WrittenNote[];
  /** All voices, all notes. */
  all: WrittenNote[];
  begins: { isRepeat: boolean; endings: number[]; isSegno: boolean; isCoda: boolean };
  ends: {
    times: number;
    isEndingOver: boolean;
    jump: 'dacapo' | 'dalsegno' | null;
    isFine: boolean;
    isToCoda: boolean;
  };
}

/** Carries what holds on from measure to measure. */
export class PartReader {
  private divisions = 1;
  private semitones = 0;
  private beats = 4;
  bpm: number | null = null;
  fifths: number | null = null;

  measure(node: Node): Measure {
    const measure: Measure = {
      number: node.attributes.number ?? '',
      quarters: 0,
      line: [],
      all: [],
      begins: { isRepeat: false, endings: [], isSegno: false, isCoda: false },
      ends: { times: 1, isEndingOver: false, jump: null, isFine: false, isToCoda: false },
    };
    let at = 0;
    let began = 0;
    let voice: string | null = null;
    for (const element of node.children) {
      const quarters = numberIn(element, 'duration') / this.divisions || 0;
      switch (element.name) {
        case 'attributes':
          this.attributes(element);
          break;
        case 'backup':
          at -= quarters;
          break;
        case 'forward':
          at += quarters;
          break;
        case 'direction':
        case 'sound':
          this.direction(element, measure);
          break;
        case 'barline':
          barline(element, measure);
          break;
        case 'note': {
          if (child(element, 'grace') || child(element, 'cue')) break;
          const own = child(element, 'voice')?.text ?? '1';
          voice ??= own;
          const isChord = child(element, 'chord') !== undefined;
          const note = this.written(element, isChord ? began : at);
          if (!isChord) began = at;
          if (note) {
            note.quarters = quarters;
            measure.all.push(note);
            const last = measure.line.at(-1);
            if (own === voice && !isChord) measure.line.push({ ...note });
            else if (own === voice && last) last.midi = Math.max(last.midi, note.midi);
          }
          if (isChord) break;
          at += quarters;
          break;
        }
      }
      measure.quarters = Math.max(measure.quarters, at);
    }
    if (measure.quarters === 0) measure.quarters = this.beats;
    return measure;
  }

  private attributes(node: Node): void {
    this.divisions = numberIn(node, 'divisions') || this.divisions;
    const transpose = child(node, 'transpose');
    if (transpose)
      this.semitones =
        (numberIn(transpose, 'chromatic') || 0) + 12 * (numberIn(transpose, 'octave-change') || 0);
    const time = child(node, 'time');
    const beats = (4 * numberIn(time, 'beats')) / numberIn(time, 'beat-type');
    if (beats > 0) this.beats = beats;
    const fifths = numberIn(child(node, 'key'), 'fifths');
    if (this.fifths === null && Number.isFinite(fifths)) {
      const sounding = (((fifths + FIFTHS_PER_SEMITONE * this.semitones + 5) % 12) + 12) % 12;
      this.fifths = sounding - 5;
    }
  }

  private direction(element: Node, { begins, ends }: Measure): void {
    const sound = element.name === 'sound' ? element : child(element, 'sound');
    const told = sound?.attributes ?? {};
    const metronome = element.children
      .filter(c => c.name === 'direction-type')
      .map(c => child(c, 'metronome'))
      .find(Boolean);
    const unit = { whole: 4, half: 2, quarter: 1, eighth: 0.5, '16th': 0.25 }[
      child(metronome, 'beat-unit')?.text ?? ''
    ];
    const dotted = child(metronome, 'beat-unit-dot') ? 1.5 : 1;
    const marked = Number(told.tempo) || numberIn(metronome, 'per-minute') * (unit ?? NaN) * dotted;
    if (this.bpm === null && marked > 0) this.bpm = marked;
    if (told.segno) begins.isSegno = true;
    if (told.coda) begins.isCoda = true;
    if (told.dacapo === 'yes') ends.jump = 'dacapo';
    if (told.dalsegno) ends.jump = 'dalsegno';
    if (told.fine) ends.isFine = true;
    if (told.tocoda) ends.isToCoda = true;
  }

  /** @returns null for a rest */
  private written(note: Node, at: number): WrittenNote | null {
    const isUnpitched = child(note, 'unpitched') !== undefined;
    const midi = isUnpitched
      ? midiOf(child(note, 'unpitched'), 'display-')
      : midiOf(child(note, 'pitch'), '', this.semitones);
    if (midi === null) return null;
    const isTied = (type: string) => note.children.some(c => c.name === 'tie' && c.attributes.type === type);
    return { midi, at, quarters: 0, isTiedOn: isTied('start'), isTiedFrom: isTied('stop'), isUnpitched };
  }
}

/** Where what has no pitch and names no place is drawn: in the middle. */
const MIDDLE_LINE = 71;

function midiOf(pitch: Node | undefined, prefix: '' | 'display-', semitones = 0): number | null {
  const step = STEPS[(child(pitch, `${prefix}step`)?.text ?? '').toUpperCase()];
  const octave = numberIn(pitch, `${prefix}octave`);
  if (step === undefined || !Number.isInteger(octave)) return prefix ? MIDDLE_LINE : null;
  return Math.round(12 * (octave + 1) + step + (numberIn(pitch, 'alter') || 0)) + semitones;
}

function barline(node: Node, { begins, ends }: Measure): void {
  const repeat = child(node, 'repeat')?.attributes;
  if (repeat?.direction === 'forward') begins.isRepeat = true;
  if (repeat?.direction === 'backward') ends.times = Number(repeat.times) || 2;
  const ending = child(node, 'ending')?.attributes;
  if (ending?.type === 'start')
    begins.endings = (ending.number ?? '')
      .split(',')
      .map(Number)
      .filter(n => n > 0);
  else if (ending) ends.isEndingOver = true;
}

/** A score that jumps for ever is no score. */
const MOST_MEASURES = 20_000;

/** The measures in the order in which they are played, by their places in the score. */
export function playedOrder(measures: readonly Measure[]): number[] {
  const order: number[] = [];
  let start = 0;
  let pass = 1;
  let hasJumped = false;
  for (let i = 0; i < measures.length && order.length < MOST_MEASURES;) {
    const measure = measures[i]!;
    const { begins, ends } = measure;
    if (begins.isRepeat && i !== start) [start, pass] = [i, 1];
    // After a jump only the last ending is played.
    const isOther = begins.endings.length > 0 && !begins.endings.includes(pass) && !hasJumped;
    const isEarlier = hasJumped && begins.endings.length > 0 && hasLaterEnding(measures, i);
    if (isOther || isEarlier) {
      while (i < measures.length && !measures[i]!.ends.isEndingOver) i++;
      i++;
      continue;
    }
    order.push(i);
    if (hasJumped && ends.isFine) break;
    if (hasJumped && ends.isToCoda) {
      const coda = measures.findIndex((m, k) => k > i && m.begins.isCoda);
      if (coda >= 0) {
        i = coda;
        continue;
      }
    }
    if (!hasJumped && pass < ends.times) {
      pass += 1;
      i = start;
      continue;
    }
    if (!hasJumped && ends.jump) {
      hasJumped = true;
      i =
        ends.jump === 'dacapo'
          ? 0
          : Math.max(
              0,
              measures.findIndex(m => m.begins.isSegno),
            );
      continue;
    }
    if (ends.times > 1) [start, pass] = [i + 1, 1];
    i += 1;
  }
  return order;
}

function hasLaterEnding(measures: readonly Measure[], at: number): boolean {
  let i = at;
  while (i < measures.length && !measures[i]!.ends.isEndingOver) i++;
  return (measures[i + 1]?.begins.endings.length ?? 0) > 0;
}
