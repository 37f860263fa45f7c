import { statementsIn } from './statements';

const read = (...rows: string[][]) => statementsIn(rows, 10, 60);

describe('statements from a table', () => {
  it('knows its columns by their names, in any order', () => {
    expect(read(['Descriptor', 'Level', 'Code'], ['I can ask the way.', 'A2', 'S-1'])).toEqual({
      statements: [{ code: 'S-1', words: 'I can ask the way.' }],
      left: [],
      hasHeader: true,
    });
    expect(read(['Código', 'Enunciado'], ['1', 'Sei pedir.']).statements).toEqual([
      { code: '1', words: 'Sei pedir.' },
    ]);
  });
  it('takes the first column for the code where nothing is named, and a single one for the statement', () => {
    expect(read(['S1', 'I can greet.'], ['S2', 'I can part.']).statements.map(s => s.code)).toEqual([
      'S1',
      'S2',
    ]);
    expect(read(['I can greet.'], [''], ['I can part.'])).toMatchObject({
      statements: [
        { code: '', words: 'I can greet.' },
        { code: '', words: 'I can part.' },
      ],
      hasHeader: false,
    });
  });
  it('says of each row it leaves why', () => {
    const { statements, left } = read(
      ['code', 'statement'],
      ['a', ''],
      ['b', 'x'.repeat(61)],
      ['c'.repeat(11), 'long code'],
      ['d', 'once'],
      [' d ', 'once '],
      ['e', 'once'],
    );
    expect(statements.map(s => s.code)).toEqual(['d', 'e']);
    expect(left).toEqual([
      { row: 2, why: 'has no statement' },
      { row: 3, why: 'is longer than 60 characters' },
      { row: 4, why: 'has a code of more than 10 characters' },
      { row: 6, why: 'is there already' },
    ]);
  });
  it('stands an empty table', () => {
    expect(read()).toEqual({ statements: [], left: [], hasHeader: false });
    // Separators that were not taken for any are no statement.
    expect(read([';;']).statements).toEqual([]);
  });
});
