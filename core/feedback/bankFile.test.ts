import fc from 'fast-check';
import Papa from 'papaparse';
import { bankRows, BANK_COLUMNS, cellsOf, importPlan, RECKONED, type BankRow } from './bankFile';

const MOST = { comment: 100, praise: 100 };

const row = (over: Partial<BankRow> = {}): BankRow => ({
  topic: 'Flow',
  words: 'Good.',
  link: '',
  praise: false,
  department: '',
  clip: '',
  used: 0,
  ...over,
});

describe('a comment bank as CSV', () => {
  it('is read by the names of its columns, or topic, comment, link', () => {
    const named = bankRows(
      [
        ['Used', 'Comment', 'Topic', 'KIND'],
        ['3', 'Good flow.', 'Flow', 'praise'],
      ],
      MOST,
    );
    expect(named.rows).toEqual([row({ words: 'Good flow.', praise: true, used: 3 })]);
    expect(bankRows([['Flow', 'Good.', 'https://b.example', 'x']], MOST).rows).toEqual([
      row({ link: 'https://b.example' }),
    ]);
  });

  it('says which rows it cannot read, and reads the others', () => {
    const { rows, problems } = bankRows(
      [
        ['topic', 'comment', 'link', 'kind'],
        ['Flow', '', ''],
        ['', 'x'.repeat(11), ''],
        ['', ' ', ' '],
        ['Flow', 'Fine.', 'javascript:alert(1)'],
        ['', 'Kept. שלום', ''],
        ['', 'Brave', '', 'praise'],
      ],
      { comment: 10, praise: 3 },
    );
    expect(problems.map(p => p.row)).toEqual([2, 3, 5, 7]);
    expect(rows).toEqual([row({ topic: 'Comments', words: 'Kept. שלום' })]);
  });

  it('comes back as it went out, whatever the words: also what a spreadsheet would reckon, quotes, lines', () => {
    const text = fc
      .oneof(
        fc.string({ unit: 'grapheme', minLength: 1, maxLength: 30 }),
        fc.constantFrom('=1+1', "'=1", "''", "'tis, good", '-', '@x\n"y";z', "'+\n'=", '\ufeffa'),
      )
      .map(t => t.trim())
      .filter(t => t !== '' && !t.includes('\r'));
    const any = fc.record({
      topic: text,
      words: text,
      link: fc.constantFrom('', 'https://b.example/a?b=1'),
      praise: fc.boolean(),
      department: fc.constantFrom('', 'Languages'),
      clip: fc.constantFrom('', '7b0e9d0c-0000-4000-8000-000000000001'),
      used: fc.nat(999_999),
    });
    fc.assert(
      fc.property(fc.array(any, { minLength: 1, maxLength: 8 }), rows => {
        const csv = Papa.unparse(
          { fields: [...BANK_COLUMNS], data: rows.map(cellsOf) },
          { escapeFormulae: RECKONED },
        );
        for (const cell of Papa.parse<string[]>(csv).data.flat()) expect(cell).not.toMatch(/^[=+\-@]/);
        const read = bankRows(Papa.parse<string[]>(csv, { skipEmptyLines: 'greedy' }).data, MOST);
        expect(read).toEqual({ rows, problems: [] });
      }),
    );
  });
});

describe('what a file does to a bank', () => {
  const known = [
    { id: 'f', name: 'Flow', praise: false, departmentId: null, comments: [{ words: 'Good.', link: '' }] },
    { id: 'd', name: 'Flow', praise: false, departmentId: 'dep', comments: [] },
  ];
  const departments = [{ id: 'dep', name: 'Languages' }];
  const plan = (rows: BankRow[], most = 100) => importPlan(known, departments, rows, most);

  it('joins topics of the same name, kind and department; makes the others', () => {
    const parts = plan([
      row({ topic: ' flow ', words: 'New.' }),
      row({ words: 'Ours.', department: 'Languages' }),
      row({ words: 'Brave!', praise: true }),
      row({ words: 'Elsewhere.', department: 'Unknown' }),
      row({ topic: 'Sounds' }),
    ]);
    expect(parts.map(p => [p.name, p.topicId, p.praise, p.comes.map(c => c.words)])).toEqual([
      ['Flow', 'f', false, ['New.', 'Elsewhere.']],
      ['Flow', 'd', false, ['Ours.']],
      ['Flow', null, true, ['Brave!']],
      ['Sounds', null, false, ['Good.']],
    ]);
  });

  it('brings nothing twice: what is there, however spaced, and what the file has twice', () => {
    const [part] = plan([row(), row({ words: ' Good. ' }), row({ words: 'A  b' }), row({ words: 'A b' })]);
    expect([part!.known, part!.comes.length]).toEqual([3, 1]);
    expect(plan([row({ link: 'https://b.example' })])[0]!.comes).toHaveLength(1);
  });

  it('knows what a second topic of the same name holds', () => {
    const twice = [...known, { ...known[0]!, id: 'g', comments: [{ words: 'Second.', link: '' }] }];
    const [part] = importPlan(twice, [], [row({ words: 'Second.' })], 100);
    expect([part!.topicId, part!.known, part!.comes]).toEqual(['f', 1, []]);
  });

  it('counts what a topic has no room for', () => {
    const [part] = plan(
      ['a', 'b', 'c'].map(words => row({ words })),
      2,
    );
    expect([part!.comes.map(c => c.words), part!.over]).toEqual([['a'], 2]);
  });
});
