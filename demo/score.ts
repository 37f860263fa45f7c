/** A tune of the demo world as MusicXML, so that it is drawn as well as played. */

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

/** One piece of a note, of `length` divisions; tied to its neighbours where the note goes on. */
function piece(midi: number, length: number, before: boolean, after: boolean): string {
  const [, type, dot] = TYPES.find(([l]) => l === length)!;
  const tie = `${before ? '<tie type="stop"/>' : ''}${after ? '<tie type="start"/>' : ''}`;
  const tied = before || after ? `<notations>${tie.replaceAll('<tie ', '<tied ')}</notations>` : '';
  return `<note>${pitch(midi)}<duration>${length}</duration>${tie}<type>${type}</type>${dot}${tied}</note>`;
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
  const attributes = `<attributes><divisions>${DIVISIONS}</divisions><key><fifths>${FIFTHS}</fifths></key><time><beats>${BEATS}</beats><beat-type>4</beat-type></time><clef><sign>G</sign><line>2</line></clef></attributes>`;
  const bars = measures.map(
    (m, i) => `<measure number="${i + 1}">${i === 0 ? attributes : ''}${m}</measure>`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>
<score-partwise version="4.0"><work><work-title>${title}</work-title></work><part-list><score-part id="P1"><part-name>${part}</part-name></score-part></part-list><part id="P1">${bars.join('\n')}</part></score-partwise>
`;
}
