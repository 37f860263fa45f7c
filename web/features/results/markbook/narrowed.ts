/** Which rows and columns of a markbook are shown, and in what order; apart from the table that shows them. */
import { percentOf } from '@ecoute/core/scoring/shares';
import { averageOf, isAveraged, type Average } from '@ecoute/core/statistics/averages';
import type { StartingPoint } from '@ecoute/core/timing/startingPoints';
import {
  averaged,
  type Markbook,
  type MarkbookCell,
  type MarkbookColumn,
  type MarkbookStudent,
} from '@ecoute/contract/results';

/** What the address says: empty for everything. */
export interface Narrowed {
  group: string;
  kind: StartingPoint | '';
  /** Code and words of a can-do statement, as `tagKey` puts them. */
  tag: string;
  /** Also those who left, and guests. */
  everybody: boolean;
  /** `name`, `average` or the id of a release. */
  sort: string;
  down: boolean;
}

export const tagKey = ({ code, words }: { code: string; words: string }) => `${code} ${words}`.trim();

export function narrowedIn(address: URLSearchParams): Narrowed {
  const sort = address.get('sort') ?? 'name';
  return {
    group: address.get('group') ?? '',
    kind: (address.get('kind') ?? '') as Narrowed['kind'],
    tag: address.get('tag') ?? '',
    everybody: address.get('who') === 'all',
    sort: sort.replace(/^-/, ''),
    down: sort.startsWith('-'),
  };
}

/** One row as it is shown. */
export interface Row {
  student: MarkbookStudent;
  cells: readonly (MarkbookCell | null)[];
  average: Average | null;
}

/** Places of the columns that are shown. */
export function columnsShown(book: Markbook, { kind, tag }: Narrowed): number[] {
  return book.columns.flatMap((c, i) =>
    (kind === '' || c.startingPoint === kind) && (tag === '' || c.tags.some(x => tagKey(x) === tag))
      ? [i]
      : [],
  );
}

/** What a cell is sorted by; null for nothing, which always comes last. */
function weight(cell: MarkbookCell | null, column: MarkbookColumn): number | null {
  if (!cell) return null;
  if (cell.level !== null) return cell.level;
  if (cell.points !== null && column.carries) return cell.points / column.carries;
  return cell.done;
}

/** The rows that are shown, in order, each with the average over the columns that are shown. */
export function rowsShown(book: Markbook, narrowed: Narrowed, columns: readonly number[]): Row[] {
  const all = book.students.flatMap((student, i): Row[] => {
    if (!narrowed.everybody && student.kind !== 'student') return [];
    if (narrowed.group !== '' && !student.groupIds.includes(narrowed.group)) return [];
    const cells = book.cells[i]!;
    const counted = columns.flatMap(at => (cells[at] ? [averaged(cells[at], book.columns[at]!)] : []));
    return [{ student, cells, average: averageOf(counted, book) }];
  });
  const at = book.columns.findIndex(c => c.releaseId === narrowed.sort);
  const way = narrowed.down ? -1 : 1;
  if (narrowed.sort === 'name' || (narrowed.sort !== 'average' && at < 0))
    return narrowed.down ? all.reverse() : all;
  const of = (row: Row) =>
    at >= 0
      ? weight(row.cells[at] ?? null, book.columns[at]!)
      : row.average && row.average.given / row.average.most;
  return all.sort((a, b) => {
    const [x, y] = [of(a), of(b)];
    if (x === null || y === null) return Number(x === null) - Number(y === null);
    return way * (x - y);
  });
}

/** What a column says of the rows that are shown: a share, the middle level, or how many are done; null of nothing. */
export function columnSummary(book: Markbook, rows: readonly Row[], at: number): string | null {
  const column = book.columns[at]!;
  const cells = rows.flatMap(r => r.cells[at] ?? []);
  if (column.scheme === 'level') {
    const levels = cells.flatMap(c => c.level ?? []).sort((a, b) => a - b);
    // Levels have an order and no distances: the one in the middle says it, an average would not. Of two, the lower.
    const middle = levels[(levels.length - 1) >> 1];
    return middle === undefined ? null : `middle ${column.scale[middle] ?? ''} of ${levels.length}`;
  }
  if (column.scheme === 'done') {
    const some = cells.filter(c => c.done !== null);
    const whole = some.filter(c => c.done === column.items).length;
    return some.length === 0 ? null : `${whole} of ${some.length} all done`;
  }
  const counted = cells.map(c => averaged(c, column)).filter(c => isAveraged(c, book));
  const average = averageOf(counted, book);
  return average === null ? null : `${percentOf(average.given, average.most)} % of ${average.count}`;
}

/** The rule by which averages are made, in words. */
export function ruleWords({ missingCounts }: Pick<Markbook, 'missingCounts'>): string {
  return `Averages are points reached of points carried, so an assessment weighs as much as it carries. What is excused or not wholly marked is left out; what is missing ${
    missingCounts ? 'counts as none of its points' : 'is left out too'
  }. Levels and “done” are not averaged.`;
}
