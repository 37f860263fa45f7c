import { describe, expect, it } from '@jest/globals';
import { ScoreError } from './musicXml';
import { playedScore } from './scoreNotes';

interface Written {
  step?: string;
  alter?: number;
  octave?: number;
  duration?: number;
  extra?: string;
}

const note = ({ step = 'C', alter, octave = 4, duration = 1, extra = '' }: Written) =>
  `<note>${extra}<pitch><step>${step}</step>${alter === undefined ? '' : `<alter>${alter}</alter>`}<octave>${octave}</octave></pitch><duration>${duration}</duration></note>`;
const rest = (duration: number) => `<note><rest/><duration>${duration}</duration></note>`;
const measure = (number: number, inside: string) => `<measure number="${number}">${inside}</measure>`;
const START =
  '<attributes><divisions>1</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>';
const score = (...measures: string[]) =>
  `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Tune</part-name></score-part></part-list><part id="P1">${measures.join('')}</part></score-partwise>`;
const bar = (inside: string) => `<barline>${inside}</barline>`;
const quick = (steps: string) => [...steps].map(step => note({ step })).join('');
const NAMES: Record<number, string> = { 60: 'C', 62: 'D', 64: 'E', 65: 'F', 67: 'G', 69: 'A', 71: 'B' };
const order = (xml: string) =>
  playedScore(xml)
    .notes.map(n => NAMES[n.midi])
    .join('');

describe('the notes of a score as they sound', () => {
  it('have their places in quarters; rests are left out and a pickup is counted', () => {
    const { notes, bpm } = playedScore(
      score(
        measure(0, `${START}<sound tempo="92"/>${note({ step: 'G' })}`),
        measure(1, note({ step: 'A', duration: 2 }) + rest(1) + note({ step: 'B' })),
      ),
    );
    expect(bpm).toBe(92);
    expect(notes).toEqual([
      { midi: 67, startQuarters: 0, quarters: 1, measure: '0' },
      { midi: 69, startQuarters: 1, quarters: 2, measure: '1' },
      { midi: 71, startQuarters: 4, quarters: 1, measure: '1' },
    ]);
  });

  it('are one where they are tied, also over a bar line', () => {
    const tied = (type: string) => `<tie type="${type}"/>`;
    const { notes } = playedScore(
      score(
        measure(1, START + note({ step: 'E', duration: 4, extra: tied('start') })),
        measure(2, note({ step: 'E', duration: 2, extra: tied('stop') }) + note({ step: 'E', duration: 2 })),
      ),
    );
    expect(notes.map(n => [n.startQuarters, n.quarters])).toEqual([
      [0, 6],
      [6, 2],
    ]);
  });

  it('sound as a transposing instrument has them, and as the teacher moved them', () => {
    const clarinet = `<attributes><divisions>2</divisions><key><fifths>2</fifths></key><transpose><chromatic>-2</chromatic></transpose></attributes>`;
    const xml = score(measure(1, clarinet + note({ step: 'F', alter: 1, duration: 2 })));
    const { notes, fifths } = playedScore(xml);
    expect(notes[0]).toMatchObject({ midi: 64, quarters: 1 });
    expect(fifths).toBe(0);
    expect(playedScore(xml, 'P1', 5).notes[0]!.midi).toBe(69);
  });

  it('follow repeats, endings and a return to the beginning', () => {
    const forward = bar('<repeat direction="forward"/>');
    const backward = bar('<repeat direction="backward"/>');
    expect(order(score(measure(1, START + quick('C')), measure(2, quick('D') + backward)))).toBe('CDCD');
    expect(
      order(
        score(
          measure(1, START + quick('C')),
          measure(2, forward + quick('D') + backward),
          measure(3, quick('E')),
        ),
      ),
    ).toBe('CDDE');
    const first = `${bar('<ending number="1" type="start"/>')}${quick('D')}${bar('<ending number="1" type="stop"/><repeat direction="backward"/>')}`;
    const second = `${bar('<ending number="2" type="start"/>')}${quick('E')}${bar('<ending number="2" type="stop"/>')}`;
    expect(
      order(
        score(measure(1, START + quick('C')), measure(2, first), measure(3, second), measure(4, quick('F'))),
      ),
    ).toBe('CDCEF');
    expect(
      order(
        score(
          measure(1, `${START}${quick('C')}`),
          measure(2, `${quick('D')}<sound fine="yes"/>`),
          measure(3, `${quick('E')}<sound dacapo="yes"/>`),
        ),
      ),
    ).toBe('CDECD');
  });

  it('are those of one voice, the top of each chord, without grace notes', () => {
    const chord = note({ step: 'G', extra: '<chord/>' });
    const grace = '<note><grace/><pitch><step>B</step><octave>4</octave></pitch></note>';
    const other =
      '<backup><duration>2</duration></backup>' +
      note({ step: 'F' }).replace('<duration>', '<voice>2</voice><duration>');
    expect(order(score(measure(1, START + grace + quick('C') + chord + quick('D') + other)))).toBe('GD');
  });

  it('take the tempo from a metronome mark, dotted or not', () => {
    const mark = (unit: string, dot: boolean, n: number) =>
      `<direction><direction-type><metronome><beat-unit>${unit}</beat-unit>${dot ? '<beat-unit-dot/>' : ''}<per-minute>${n}</per-minute></metronome></direction-type></direction>`;
    expect(playedScore(score(measure(1, START + mark('quarter', true, 60) + quick('C')))).bpm).toBe(90);
    expect(playedScore(score(measure(1, START + mark('half', false, 50) + quick('C')))).bpm).toBe(100);
    expect(playedScore(score(measure(1, START + quick('C')))).bpm).toBeNull();
  });

  it('are refused where there are none, or no such part', () => {
    expect(() => playedScore(score(measure(1, START + rest(4))))).toThrow(ScoreError);
    expect(() => playedScore(score(measure(1, START + quick('C'))), 'P9')).toThrow(ScoreError);
    expect(() => playedScore('<html></html>')).toThrow(ScoreError);
  });
});
