import Papa from 'papaparse';
import { gradebookFiles } from './gradebook';

const files = gradebookFiles({
  classId: 'class-1',
  schoolId: 'school',
  periodId: 'term-1',
  categories: [{ id: 'homework', title: 'Homework' }],
  lineItems: [
    {
      id: 'release-1',
      title: '=Two scales, and a "tune"',
      description: '',
      assignedAt: new Date('2026-11-01T08:00:00Z'),
      dueAt: new Date('2026-11-08T18:00:00Z'),
      categoryId: 'homework',
      most: 20,
    },
    {
      id: 'release-2',
      title: 'Where you stand',
      description: '',
      assignedAt: new Date('2026-11-01T08:00:00Z'),
      dueAt: new Date('2026-11-08T18:00:00Z'),
      categoryId: 'homework',
      most: null,
    },
  ],
  results: [
    {
      id: 's-1',
      lineItemId: 'release-1',
      studentId: 'p-1',
      status: 'fully graded',
      score: 13.5,
      words: '',
      at: new Date('2026-11-10T10:00:00Z'),
      isLate: true,
    },
    {
      id: 's-2',
      lineItemId: 'release-2',
      studentId: 'p-1',
      status: 'fully graded',
      score: null,
      words: 'A2',
      at: new Date('2026-11-10T10:00:00Z'),
      isLate: false,
    },
    {
      id: 's-3',
      lineItemId: 'release-1',
      studentId: 'p-2',
      status: 'not submitted',
      score: null,
      words: '',
      at: null,
      isLate: false,
    },
    {
      id: 's-4',
      lineItemId: 'release-2',
      studentId: 'p-2',
      status: 'exempt',
      score: null,
      words: '',
      at: null,
      isLate: false,
    },
  ],
});
const read = (name: string) =>
  Papa.parse<Record<string, string>>(files[name]!, { header: true, skipEmptyLines: true }).data;

describe('a gradebook for the school’s own system', () => {
  it('names its files in the manifest, and each once', () => {
    const manifest = new Map(read('manifest.csv').map(r => [r.propertyName, r.value]));
    expect(manifest.get('oneroster.version')).toBe('1.2');
    for (const file of ['categories', 'lineItems', 'results'])
      expect(manifest.get(`file.${file}`)).toBe('bulk');
    expect(manifest.get('file.users')).toBe('absent');
    expect(Object.keys(files)).toEqual(['manifest.csv', 'categories.csv', 'lineItems.csv', 'results.csv']);
  });

  it('says what can be reached, and nothing where there are no points', () => {
    expect(read('lineItems.csv').map(l => [l.resultValueMin, l.resultValueMax, l.dueDate])).toEqual([
      ['0', '20', '2026-11-08'],
      ['', '', '2026-11-08'],
    ]);
    // What would be a formula in a spreadsheet is text.
    expect(read('lineItems.csv')[0]!.title).toBe('\'=Two scales, and a "tune"');
  });

  it('gives a score as a number, a level in words, and says what was not handed in or need not be', () => {
    expect(
      read('results.csv').map(r => [r.scoreStatus, r.score, r.textScore, r.scoreDate, r.late, r.missing]),
    ).toEqual([
      ['fully graded', '13.5', '', '2026-11-10', 'true', 'false'],
      ['fully graded', '', 'A2', '2026-11-10', 'false', 'false'],
      ['not submitted', '', '', '', 'false', 'true'],
      ['exempt', '', '', '', 'false', 'false'],
    ]);
  });
});
