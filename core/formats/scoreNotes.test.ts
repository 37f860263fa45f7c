import { describe, expect, it } from '@jest/globals';
import { ScoreError } from './musicXml';
import { eventsOf } from '../polyphony/scoreEvents';
import { isSeveral, playedScore } from './scoreNotes';

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
      { midi: 67, startQuarters: 0, quarters: 1, atQuarters: 0, measure: '0' },
      { midi: 69, startQuarters: 1, quarters: 2, atQuarters: 0, measure: '1' },
      { midi: 71, startQuarters: 4, quarters: 1, atQuarters: 3, measure: '1' },
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

  it('are all there, of both hands, of chords and of every part; a line is still the highest of the first voice', () => {
    const left =
      `<backup><duration>4</duration></backup>${note({ octave: 3, duration: 2, extra: '<tie type="start"/>' })}${note({ octave: 3, duration: 2, extra: '<tie type="stop"/>' })}`.replaceAll(
        '<duration>2</duration>',
        '<duration>2</duration><voice>5</voice>',
      );
    const chord = note({ step: 'C', duration: 4 }) + note({ step: 'G', duration: 4, extra: '<chord/>' });
    const hands = playedScore(score(measure(1, START + chord + left), measure(2, quick('CDEF'))));
    expect(isSeveral(hands)).toBe(true);
    expect(hands.notes.map(n => n.midi)).toEqual([67, 60, 62, 64, 65]);
    expect(hands.all.map(n => [n.midi, n.startQuarters, n.quarters])).toEqual([
      [48, 0, 4],
      [60, 0, 4],
      [67, 0, 4],
      [60, 4, 1],
      [62, 5, 1],
      [64, 6, 1],
      [65, 7, 1],
    ]);
    expect(hands.bars).toEqual([
      { measure: '1', startQuarters: 0 },
      { measure: '2', startQuarters: 4 },
    ]);
    expect(isSeveral(playedScore(score(measure(1, START + quick('CDEF')))))).toBe(false);
    const two = `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>A</part-name></score-part><score-part id="P2"><part-name>B</part-name></score-part></part-list><part id="P1">${measure(1, START + quick('CDEF'))}</part><part id="P2">${measure(1, START + note({ step: 'A', octave: 3, duration: 4 }))}</part></score-partwise>`;
    expect(playedScore(two).all).toHaveLength(5);
    expect(isSeveral(playedScore(two))).toBe(true);
    // A part that was chosen is alone.
    expect(playedScore(two, 'P2').all.map(n => n.midi)).toEqual([57]);
  });

  it('repeat in all parts at once, as the first part has it', () => {
    const end = bar('<repeat direction="backward"/>');
    const part = (id: string, second: string) =>
      `<part id="${id}">${measure(1, START + quick('CDEF'))}${measure(2, quick('GABC') + second)}</part>`;
    const two = `<score-partwise version="4.0"><part-list><score-part id="P1"/><score-part id="P2"/></part-list>${part('P1', end)}${part('P2', '')}</score-partwise>`;
    const { all, bars } = playedScore(two);
    expect(bars.map(b => b.measure)).toEqual(['1', '2', '1', '2']);
    expect(all).toHaveLength(32);
    expect(eventsOf({ all, bars }).map(e => e.isBarStart)).toEqual(
      Array.from({ length: 16 }, (_, i) => i % 4 === 0),
    );
  });

  it('without pitches are a rhythm, whatever the teacher moved it by', () => {
    const stroke = (extra = '') => `<note><unpitched>${extra}</unpitched><duration>1</duration></note>`;
    const drawn = '<display-step>E</display-step><display-octave>4</display-octave>';
    const rhythm = playedScore(
      score(measure(1, START + stroke(drawn) + rest(1) + stroke() + stroke())),
      '',
      5,
    );
    expect(rhythm.isUnpitched).toBe(true);
    expect(rhythm.notes.map(n => [n.midi, n.atQuarters])).toEqual([
      [64, 0],
      [71, 2],
      [71, 3],
    ]);
    // A drum beside a tune does not make a rhythm of the tune.
    expect(playedScore(score(measure(1, START + stroke() + note({})))).isUnpitched).toBe(false);
  });
});
