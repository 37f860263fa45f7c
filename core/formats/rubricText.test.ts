import { cellsOf, rubricFromText } from './rubricText';

describe('a rubric from text', () => {
  it('reads a table as a spreadsheet copies it', () => {
    const { rubric } = rubricFromText(
      '\tNot yet (0)\tAlmost (1,5)\tYes (3)\nFluency ×2\tstops often\tsome stops\tflows\nClarity\thard to follow\t"clear,\nmostly"\tclear\n',
    );
    expect(rubric).toEqual({
      levels: [
        { name: 'Not yet', points: 0 },
        { name: 'Almost', points: 1.5 },
        { name: 'Yes', points: 3 },
      ],
      criteria: [
        { name: 'Fluency', weight: 2, descriptors: ['stops often', 'some stops', 'flows'] },
        { name: 'Clarity', weight: 1, descriptors: ['hard to follow', 'clear,\nmostly', 'clear'] },
      ],
    });
  });

  it('reads a list of criteria with bulleted levels', () => {
    const { rubric } = rubricFromText(
      'Tone (40 %)\n- 1: thin\n- 2: steady: mostly\n- 3: full\n\nRhythm (60 %)\n• 1: lost\n• 2: kept with help\n• 3: kept',
    );
    expect(rubric!.levels.map(l => l.points)).toEqual([1, 2, 3]);
    expect(rubric!.criteria).toEqual([
      { name: 'Tone', weight: 40, descriptors: ['thin', 'steady: mostly', 'full'] },
      { name: 'Rhythm', weight: 60, descriptors: ['lost', 'kept with help', 'kept'] },
    ]);
  });

  it('turns a table round that begins with the best, and numbers levels that carry none', () => {
    expect(rubricFromText('\t4\t2\nA\tgood\tpoor').rubric).toEqual({
      levels: [
        { name: '2', points: 2 },
        { name: '4', points: 4 },
      ],
      criteria: [{ name: 'A', weight: 1, descriptors: ['poor', 'good'] }],
    });
    expect(rubricFromText('\tLow\tHigh\nA\t\tgood').rubric).toMatchObject({
      levels: [{ points: 1 }, { points: 2 }],
      criteria: [{ descriptors: ['', 'good'] }],
    });
  });

  it('says what it cannot read', () => {
    const problem = (text: string) => rubricFromText(text).problem;
    expect(problem('  ')).toContain('nothing here');
    expect(problem('one\ttwo')).toContain('first row');
    expect(problem('\tA\tB\nx\t1\t2\t3')).toContain('more cells');
    expect(problem('- level\n- level')).toContain('begins with a level');
    expect(problem('A\n- x\n- y\nB\n- x')).toContain('“B” has 1 levels');
    expect(problem('just some words')).toContain('no levels');
  });

  it('keeps doubled quotes and drops empty rows', () => {
    expect(cellsOf('"say ""hi"""\tb\r\n\t\r\nc\td')).toEqual([
      ['say "hi"', 'b'],
      ['c', 'd'],
    ]);
  });
});
