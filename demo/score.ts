/** What is played in the demo world as MusicXML, so that it is drawn as well as heard. */
import type { DemoHands } from './world';

/** F major: the key of the consort's first year. */
const FIFTHS = -1;
const NAMES = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
/** Quarter notes a measure, and parts that a quarter note is divided into. */
const BEATS = 4;
const DIVISIONS = 2;

const TYPES: [number, string, string][] = [
  [6, 'half', '<dot/>'],
  [4, 'half', ''],
  [3, 'quarter', '<dot/>'],
  [2, 'quarter', ''],
  [1, 'eighth', ''],
];

function pitch(midi: number): string {
  const name = NAMES[midi % 12]!;
  const alter = name.endsWith('#') ? 1 : name.endsWith('b') ? -1 : 0;
  return `<pitch><step>${name[0]}</step>${alter ? `<alter>${alter}</alter>` : ''}<octave>${Math.floor(midi / 12) - 1}</octave></pitch>`;
}

const restOf = (length: number) => `<note><rest/><duration>${length}</duration>${typeOf(length)}</note>`;

const typeOf = (length: number) => {
  const [, type, dot] = TYPES.find(([l]) => l === length)!;
  return `<type>${type}</type>${dot}`;
};

/** One piece of a note, of `length` divisions; tied to its neighbours where the note goes on. */
function piece(midi: number, length: number, before: boolean, after: boolean): string {
  const tie = `${before ? '<tie type="stop"/>' : ''}${after ? '<tie type="start"/>' : ''}`;
  const tied = before || after ? `<notations>${tie.replaceAll('<tie ', '<tied ')}</notations>` : '';
  return `<note>${pitch(midi)}<duration>${length}</duration>${tie}${typeOf(length)}${tied}</note>`;
}

/**
 * Writes a tune, divided into measures of four quarter notes.
 * @param notes pairs of MIDI note and length in quarter notes, halves of one at the least
 */
export function scoreOf(title: string, part: string, notes: readonly (readonly [number, number])[]): string {
  const measures: string[] = [];
  let room = BEATS * DIVISIONS;
  let measure = '';
  const close = () => {
    measures.push(measure);
    measure = '';
    room = BEATS * DIVISIONS;
  };
  for (const [midi, quarters] of notes) {
    let left = Math.round(quarters * DIVISIONS);
    let before = false;
    while (left > 0) {
      const length = TYPES.find(([l]) => l <= Math.min(left, room))![0];
      left -= length;
      room -= length;
      measure += piece(midi, length, before, left > 0);
      before = true;
      if (room === 0) close();
    }
  }
  if (measure) close();
  const bars = measures.map(
    (m, i) =>
      `<measure number="${i + 1}">${i === 0 ? attributesOf(BEATS, '<clef><sign>G</sign><line>2</line></clef>') : ''}${m}</measure>`,
  );
  return documentOf(title, part, bars);
}

const attributesOf = (beats: number, clefs: string, fifths = FIFTHS) =>
  `<attributes><divisions>${DIVISIONS}</divisions><key><fifths>${fifths}</fifths></key><time><beats>${beats}</beats><beat-type>4</beat-type></time>${clefs}</attributes>`;

const documentOf = (
  title: string,
  part: string,
  bars: readonly string[],
) => `<?xml version="1.0" encoding="UTF-8"?>
<score-partwise version="4.0"><work><work-title>${title}</work-title></work><part-list><score-part id="P1"><part-name>${part}</part-name></score-part></part-list><part id="P1">${bars.join('\n')}</part></score-partwise>
`;

/** Chords and their lengths by measure. @param beats of a measure, which each fills */
function inMeasures<T>(notes: readonly (readonly [T, number])[], beats: number): (readonly [T, number])[][] {
  const measures: (readonly [T, number])[][] = [];
  let filled = beats;
  for (const note of notes) {
    if (filled >= beats) {
      measures.push([]);
      filled = 0;
    }
    measures.at(-1)!.push(note);
    filled += Math.abs(note[1]);
  }
  return measures;
}

/** Writes a piece for two hands on two staves; no note goes over a bar line. */
export function handsOf(title: string, part: string, { beats, right, left }: DemoHands): string {
  const hand = (measure: readonly (readonly [readonly number[], number])[], voice: 1 | 2) =>
    measure
      .flatMap(([midis, quarters]) => {
        const length = Math.round(quarters * DIVISIONS);
        return midis.map(
          (midi, k) =>
            `<note>${k > 0 ? '<chord/>' : ''}${pitch(midi)}<duration>${length}</duration><voice>${voice}</voice>${typeOf(length)}<staff>${voice}</staff></note>`,
        );
      })
      .join('');
  const clefs =
    '<staves>2</staves><clef number="1"><sign>G</sign><line>2</line></clef><clef number="2"><sign>F</sign><line>4</line></clef>';
  const lower = inMeasures(left, beats);
  const bars = inMeasures(
    right.map(([midi, quarters]) => [[midi], quarters] as const),
    beats,
  ).map((measure, i) => {
    const back = `<backup><duration>${beats * DIVISIONS}</duration></backup>`;
    const head = i === 0 ? attributesOf(beats, clefs) : '';
    return `<measure number="${i + 1}">${head}${hand(measure, 1)}${back}${hand(lower[i] ?? [], 2)}</measure>`;
  });
  return documentOf(title, part, bars);
}

/** Writes a rhythm without pitches. @param lengths in quarter notes, rests negative */
export function rhythmOf(title: string, part: string, lengths: readonly number[]): string {
  const clef = '<clef><sign>percussion</sign></clef>';
  const bars = inMeasures(
    lengths.map(l => [null, l] as const),
    BEATS,
  ).map((measure, i) => {
    const notes = measure.map(([, quarters]) => {
      const length = Math.round(Math.abs(quarters) * DIVISIONS);
      if (quarters < 0) return restOf(length);
      return `<note><unpitched><display-step>B</display-step><display-octave>4</display-octave></unpitched><duration>${length}</duration>${typeOf(length)}</note>`;
    });
    return `<measure number="${i + 1}">${i === 0 ? attributesOf(BEATS, clef, 0) : ''}${notes.join('')}</measure>`;
  });
  return documentOf(title, part, bars);
}
