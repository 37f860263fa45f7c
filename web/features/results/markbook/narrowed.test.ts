import type { Markbook, MarkbookCell, MarkbookColumn } from '@ecoute/contract/results';
import { cellLine, cellSaid } from './cellWords';
import { columnsShown, columnSummary, narrowedIn, rowsShown, ruleWords } from './narrowed';

const column = (over: Partial<MarkbookColumn>): MarkbookColumn =>
  ({
    releaseId: 'r',
    startingPoint: 'homework',
    scheme: 'points',
    carries: 10,
    scale: [],
    items: 2,
    tags: [],
    ...over,
  }) as MarkbookColumn;
const cell = (over: Partial<MarkbookCell> = {}): MarkbookCell => ({
  sittingId: 's',
  state: 'feedbackGiven',
  late: false,
  missing: false,
  excused: false,
  askedAgain: false,
  namesHidden: false,
  points: null,
  done: null,
  level: null,
  answered: 2,
  finished: 2,
  unseen: false,
  ...over,
});
const LEVELS = ['A1', 'A2', 'B1'];

const book = (over: Partial<Markbook> = {}): Markbook =>
  ({
    missingCounts: false,
    columns: [
      column({ releaseId: 'p', tags: [{ code: 'X', words: 'can' }] }),
      column({ releaseId: 'l', scheme: 'level', carries: null, scale: LEVELS, startingPoint: 'placement' }),
    ],
    students: [
      { id: 'a', displayName: 'Amara', groupIds: ['g'], kind: 'student' },
      { id: 'b', displayName: 'Bram', groupIds: [], kind: 'student' },
      { id: 'c', displayName: 'Chiyo', groupIds: [], kind: 'student' },
      { id: 'z', displayName: 'Zora', groupIds: [], kind: 'left' },
    ],
    cells: [
      [cell({ points: 4 }), cell({ level: 2 })],
      [cell({ points: 9 }), cell({ level: 0 })],
      [cell({ state: 'notOpened', missing: true }), null],
      [cell({ points: 10 }), null],
    ],
    ...over,
  }) as Markbook;

const shown = (query: string, of = book()) => {
  const narrowed = narrowedIn(new URLSearchParams(query));
  return rowsShown(of, narrowed, columnsShown(of, narrowed));
};
const names = (query: string, of = book()) => shown(query, of).map(r => r.student.displayName);

describe('the rows and columns of a markbook', () => {
  it('are those of the class, of a group, of a kind, of a statement; whoever left on request', () => {
    expect(names('')).toEqual(['Amara', 'Bram', 'Chiyo']);
    expect(names('who=all')).toContain('Zora');
    expect(names('group=g')).toEqual(['Amara']);
    expect(columnsShown(book(), narrowedIn(new URLSearchParams('kind=placement')))).toEqual([1]);
    expect(columnsShown(book(), narrowedIn(new URLSearchParams('tag=X can')))).toEqual([0]);
  });

  it('lie by name, by average, by score or level; who has none is last whichever way', () => {
    expect(names('sort=-name')).toEqual(['Chiyo', 'Bram', 'Amara']);
    expect(names('sort=average')).toEqual(['Amara', 'Bram', 'Chiyo']);
    expect(names('sort=-p')).toEqual(['Bram', 'Amara', 'Chiyo']);
    expect(names('sort=l')).toEqual(['Bram', 'Amara', 'Chiyo']);
    // A release that is no longer there sorts nothing.
    expect(names('sort=gone')).toEqual(['Amara', 'Bram', 'Chiyo']);
  });

  it('average what can be averaged, by the class’s rule', () => {
    expect(shown('').map(r => r.average)).toEqual([
      { given: 400, most: 1_000, count: 1 },
      { given: 900, most: 1_000, count: 1 },
      null,
    ]);
    const strict = book({ missingCounts: true });
    expect(shown('', strict)[2]!.average).toEqual({ given: 0, most: 1_000, count: 1 });
    expect(columnSummary(book(), shown(''), 0)).toBe('65 % of 2');
    expect(columnSummary(strict, shown('', strict), 0)).toBe('43 % of 3');
    // Levels have a middle and no mean.
    expect(columnSummary(book(), shown(''), 1)).toBe('middle A1 of 2');
    expect(columnSummary(book(), [], 0)).toBeNull();
    expect(ruleWords({ missingCounts: true })).toContain('counts as none');
  });
});

describe('a cell of the markbook', () => {
  it('says what its scheme says, and no number where that has none', () => {
    expect(cellSaid(cell({ points: 7.5 }), column({}))).toMatchObject({ score: '7.5', of: '/ 10' });
    expect(
      cellSaid(cell({ level: 1 }), column({ scheme: 'level', scale: LEVELS, carries: null })),
    ).toMatchObject({
      score: 'A2',
      of: '',
    });
    expect(cellSaid(cell({ done: 1 }), column({ scheme: 'done' })).of).toBe('of 2 done');
    expect(cellLine(cell(), column({ scheme: 'none', carries: null }))).toBe('feedback given');
    expect(cellLine(null, column({}))).toBe('not for them');
  });

  it('says by word what stands in the way of a score', () => {
    expect(cellLine(cell({ state: 'handedIn', finished: 1 }), column({}))).toBe('1 of 2 marked');
    expect(cellLine(cell({ state: 'notOpened', missing: true }), column({}))).toBe('missing');
    expect(cellLine(cell({ state: 'notOpened', excused: true }), column({}))).toBe('excused');
    expect(cellLine(cell({ points: 3, unseen: true }), column({}))).toBe(
      '3 / 10, feedback given, score held',
    );
    expect(cellLine(cell({ state: 'marked', points: 3, unseen: true, late: true }), column({}))).toBe(
      '3 / 10, marked, late',
    );
    // Whose voice it is must not be known.
    expect(cellLine(cell({ namesHidden: true, points: 9, late: true }), column({}))).toBe(
      'heard without names',
    );
  });
});
