import { hzOfMidi, noteName, readScore, type ScoreError } from './musicXml';

const note = (step: string, octave: number, alter = 0) =>
  `<note><pitch><step>${step}</step>${alter ? `<alter>${alter}</alter>` : ''}<octave>${octave}</octave></pitch><duration>1</duration></note>`;
const rest = '<note><rest/><duration>1</duration></note>';
const score = (parts: Record<string, string>, title = 'Quay Song') => `<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" "http://www.musicxml.org/dtds/partwise.dtd">
<score-partwise version="4.0"><work><work-title>${title}</work-title></work><part-list>
${Object.keys(parts)
  .map(name => `<score-part id="${name}"><part-name>${name} recorder</part-name></score-part>`)
  .join('')}
</part-list>${Object.entries(parts)
  .map(([name, measures]) => `<part id="${name}">${measures}</part>`)
  .join('')}</score-partwise>`;

function problemOf(xml: string): [string, number | null] | null {
  try {
    readScore(xml);
    return null;
  } catch (error) {
    const { problem, line } = error as ScoreError;
    return [problem, line];
  }
}

describe('reading notation', () => {
  it('finds parts, length, title and the note on which each part begins', () => {
    const read = readScore(
      score({
        Treble: `<measure number="1">${rest}</measure><measure number="2">${note('F', 5, 1)}</measure>`,
        Tenor: `<measure number="1">${note('B', 3, -1)}</measure><measure number="2">${rest}</measure>`,
        Bass: `<measure number="1">${rest}</measure>`,
      }),
    );
    expect(read).toEqual({
      title: 'Quay Song',
      measures: 2,
      parts: [
        { id: 'Treble', name: 'Treble recorder', firstMidi: 78 },
        { id: 'Tenor', name: 'Tenor recorder', firstMidi: 58 },
        { id: 'Bass', name: 'Bass recorder', firstMidi: null },
      ],
    });
  });

  it('reckons transposing instruments in and leaves grace notes out', () => {
    const clarinet =
      '<measure number="1"><attributes><transpose><chromatic>-2</chromatic><octave-change>1</octave-change></transpose></attributes>' +
      note('D', 5).replace('<note>', '<note><grace/>') +
      note('C', 4) +
      '</measure>';
    expect(readScore(score({ P1: clarinet })).parts[0]!.firstMidi).toBe(60 - 2 + 12);
  });

  it('reads the entities that XML knows, and refuses those that a file brings', () => {
    expect(readScore(score({ P1: `<measure number="1">${rest}</measure>` }, 'Tide &amp; Time')).title).toBe(
      'Tide & Time',
    );
    const bomb = `<!DOCTYPE x [<!ENTITY a "aaaa">]>${score({ P1: '' })}`;
    expect(problemOf(bomb)).toEqual(['notScore', null]);
  });

  it('tells what is wrong apart, with the line where the text breaks off', () => {
    expect(problemOf('<score-partwise>\n<part>\n</score-partwise>')).toEqual(['broken', 3]);
    expect(problemOf('not xml at all')![0]).toBe('broken');
    expect(problemOf('<html><body/></html>')).toEqual(['notScore', null]);
    expect(problemOf('<score-timewise><measure/></score-timewise>')).toEqual(['timewise', null]);
    expect(problemOf(score({}))).toEqual(['empty', null]);
    expect(problemOf(score({ P1: '' }))).toEqual(['empty', null]);
  });

  it('knows how high a note is and what it is called', () => {
    expect(hzOfMidi(69)).toBe(440);
    expect(hzOfMidi(60)).toBeCloseTo(261.626, 3);
    expect([60, 58, 78, 21].map(noteName)).toEqual(['C4', 'B♭3', 'F♯5', 'A0']);
  });
});
