import { ArrowDown, ArrowUp, ArrowUpDown } from 'lucide-react';
import { defaultRangeExtractor, useVirtualizer, type Range } from '@tanstack/react-virtual';
import { memo, useCallback, useEffect, useMemo, useRef, type KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { percentOf } from '@ecoute/core/scoring/shares';
import type { Markbook, MarkbookCell, MarkbookColumn, MarkbookStudent } from '@ecoute/contract/results';
import { SmallStrip } from '../../../parts/strip/Strip';
import { usePlayed } from '../../../parts/player/usePlayer';
import { useSmallScreen } from '../../../parts/useSmallScreen';
import { cellLine, cellSaid } from './cellWords';
import { columnSummary, type Narrowed, type Row } from './narrowed';

const ROW_PX = 56;
const HEAD_PX = 132;
const COLUMN_PX = 144;
const NAME_PX = 264;
const NAME_SMALL_PX = 168;

/** Where in the table somebody is: a row and a column of those that are shown. */
export interface Place {
  row: number;
  column: number;
}

const dayOf = (iso: string) =>
  new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' }).format(new Date(iso));

const cellId = ({ row, column }: Place) => `cell-${row}-${column}`;

const Cell = memo(function Cell({
  cell,
  column,
  row,
  at,
  left,
  isHere,
  onHere,
}: {
  cell: MarkbookCell | null;
  column: MarkbookColumn;
  row: number;
  at: number;
  left: number;
  isHere: boolean;
  onHere: (place: Place) => void;
}) {
  const said = cell && cellSaid(cell, column);
  return (
    <div
      id={cellId({ row, column: at })}
      role="gridcell"
      aria-colindex={at + 2}
      aria-selected={isHere}
      aria-label={cellLine(cell, column)}
      onClick={() => onHere({ row, column: at })}
      className={`absolute inset-y-0 flex flex-col justify-center border-s border-line px-2.5 ${
        isHere ? 'z-10 outline-3 -outline-offset-3 outline-ink' : ''
      } ${cell ? 'cursor-pointer' : 'bg-sunk'}`}
      style={{ left, width: COLUMN_PX }}
    >
      {said && (
        <>
          {said.score !== '' && (
            <span className="tabular leading-tight">
              <span className="font-semibold">{said.score}</span>{' '}
              <span className="text-sm text-soft">{said.of}</span>
            </span>
          )}
          <span className="flex flex-wrap gap-x-2 overflow-hidden text-xs leading-tight text-soft">
            {said.words
              .filter(w => !w.isQuiet)
              .map(({ icon: Icon, word }) => (
                <span key={word} className="inline-flex items-center gap-1">
                  <Icon aria-hidden className="size-3.5 shrink-0" />
                  {word}
                </span>
              ))}
          </span>
        </>
      )}
    </div>
  );
});

const isHandedIn = (cell: MarkbookCell | null) =>
  cell !== null && (cell.namesHidden || !['notOpened', 'underWay'].includes(cell.state));

/** Sorts by a column; pressed again the other way. */
function SortButton({
  what,
  by,
  narrowed,
  onSort,
}: {
  what: string;
  by: string;
  narrowed: Narrowed;
  onSort: (by: string) => void;
}) {
  const isOn = narrowed.sort === by;
  const Icon = !isOn ? ArrowUpDown : narrowed.down ? ArrowDown : ArrowUp;
  return (
    <button
      type="button"
      aria-label={`Sort by ${what}${isOn ? (narrowed.down ? ', now downwards' : ', now upwards') : ''}`}
      onClick={() => onSort(by)}
      className={`inline-grid size-8 shrink-0 place-items-center hover:bg-sunk ${isOn ? '' : 'text-soft'}`}
    >
      <Icon aria-hidden className="size-4" />
    </button>
  );
}

const ariaSort = (narrowed: Narrowed, by: string) =>
  narrowed.sort !== by ? undefined : narrowed.down ? 'descending' : 'ascending';

/** The head of a column: the assessment as its strip, when it is due, and what it came to. */
const ColumnHead = memo(function ColumnHead({
  column,
  summary,
  at,
  left,
  narrowed,
  onSort,
}: {
  column: MarkbookColumn;
  summary: string | null;
  at: number;
  left: number;
  narrowed: Narrowed;
  onSort: (by: string) => void;
}) {
  return (
    <div
      role="columnheader"
      aria-colindex={at + 2}
      aria-sort={ariaSort(narrowed, column.releaseId)}
      className="absolute top-0 flex h-full flex-col justify-end border-s border-line px-2.5 pb-1"
      style={{ left, width: COLUMN_PX }}
    >
      <Link
        to={`/results/releases/${column.releaseId}`}
        title={column.title}
        className="line-clamp-2 text-sm leading-tight font-semibold underline decoration-line underline-offset-2 hover:decoration-ink"
      >
        {column.title}
      </Link>
      <span className="truncate text-xs text-soft" title={column.note}>
        {dayOf(column.dueAt)}
        {column.hidden && ' · out of sight'}
        {column.note !== '' && ` · ${column.note}`}
      </span>
      <span className="my-1 block">
        <SmallStrip items={column.outline.items} />
      </span>
      <span className="flex items-center justify-between text-xs text-soft">
        <span className="truncate" title={summary ?? undefined}>
          {summary ?? 'none marked yet'}
        </span>
        <SortButton what={column.title} by={column.releaseId} narrowed={narrowed} onSort={onSort} />
      </span>
    </div>
  );
});

/** The head of a row: who it is, and their average. */
const RowHead = memo(function RowHead({
  student,
  average,
  classId,
  teaches,
  width,
}: {
  student: MarkbookStudent;
  average: Row['average'];
  classId: string;
  teaches: boolean;
  width: number;
}) {
  return (
    <div
      role="rowheader"
      aria-colindex={1}
      className="sticky start-0 z-20 flex h-full items-center justify-between gap-2 border-e-2 border-edge bg-sheet ps-3 pe-3"
      style={{ width }}
    >
      <span className="min-w-0">
        {teaches ? (
          <Link
            to={`/results/${classId}/students/${student.id}`}
            className="block truncate font-semibold underline decoration-line underline-offset-2 hover:decoration-ink"
          >
            {student.displayName}
          </Link>
        ) : (
          <span className="block truncate font-semibold">{student.displayName}</span>
        )}
        {student.kind !== 'student' && (
          <span className="block text-xs text-soft">
            {student.kind === 'guest' ? 'guest' : 'no longer in the class'}
          </span>
        )}
      </span>
      <span className="tabular text-end whitespace-nowrap">
        {average ? `${percentOf(average.given, average.most)} %` : '–'}
        {average && <span className="block text-xs text-soft">of {average.count}</span>}
      </span>
    </div>
  );
});

/**
 * Students against releases. Only what is in sight is in the page, in both directions; the table is one stop for Tab, and
 * arrows go about in it.
 */
export function Grid({
  book,
  rows,
  columns,
  narrowed,
  here,
  onHere,
  onSort,
  onPlay,
  onOpen,
  onStep,
}: {
  book: Markbook;
  rows: readonly Row[];
  /** Places of the columns that are shown, in the markbook's. */
  columns: readonly number[];
  narrowed: Narrowed;
  here: Place | null;
  onHere: (place: Place) => void;
  onSort: (by: string) => void;
  onPlay: () => void;
  onOpen: () => void;
  /** To the next answer of the cell, or the one before. */
  onStep: (by: 1 | -1) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const isSmall = useSmallScreen();
  // What lies at the bottom is not under the transport.
  const hasTransport = usePlayed(s => s.track !== null);
  const namePx = isSmall ? NAME_SMALL_PX : NAME_PX;
  // What the focus names must be in the page, however far somebody scrolled away from it.
  const keeping = (index: number | undefined) => (range: Range) => {
    const found = defaultRangeExtractor(range);
    return index === undefined || found.includes(index) ? found : [...found, index].sort((a, b) => a - b);
  };
  const down = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_PX,
    paddingStart: HEAD_PX,
    scrollPaddingStart: HEAD_PX,
    overscan: 6,
    rangeExtractor: keeping(here && here.row < rows.length ? here.row : undefined),
  });
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => box.current,
    estimateSize: () => COLUMN_PX,
    paddingStart: namePx,
    scrollPaddingStart: namePx,
    overscan: 3,
    rangeExtractor: keeping(here && here.column < columns.length ? here.column : undefined),
  });
  useEffect(() => across.measure(), [namePx, across]);
  // One looks first at where one was; else at the latest that somebody has handed in, not at what is still to come.
  const latest = useMemo(
    () => columns.findLastIndex(at => rows.some(r => isHandedIn(r.cells[at] ?? null))),
    [columns, rows],
  );
  const first = latest < 0 ? columns.length - 1 : latest;
  const isFresh = useRef(true);
  useEffect(() => {
    if (!isFresh.current || columns.length === 0) return;
    isFresh.current = false;
    if (here) {
      across.scrollToIndex(here.column, { align: 'center' });
      down.scrollToIndex(here.row, { align: 'center' });
    } else across.scrollToIndex(first, { align: 'end' });
  }, [columns.length, across, down, first, here]);

  const go = (place: Place) => {
    const row = Math.max(0, Math.min(rows.length - 1, place.row));
    const column = Math.max(0, Math.min(columns.length - 1, place.column));
    onHere({ row, column });
    down.scrollToIndex(row);
    across.scrollToIndex(column);
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget || event.altKey || event.metaKey) return;
    const { row, column } = here ?? { row: 0, column: first };
    const page = Math.max(1, Math.floor(((box.current?.clientHeight ?? 0) - HEAD_PX) / ROW_PX) - 1);
    const far = event.ctrlKey;
    const moves: Record<string, () => void> = {
      ArrowDown: () => go({ row: row + 1, column }),
      ArrowUp: () => go({ row: row - 1, column }),
      ArrowRight: () => go({ row, column: column + 1 }),
      ArrowLeft: () => go({ row, column: column - 1 }),
      PageDown: () => go({ row: row + page, column }),
      PageUp: () => go({ row: row - page, column }),
      Home: () => go({ row: far ? 0 : row, column: 0 }),
      End: () => go({ row: far ? rows.length : row, column: columns.length }),
      ' ': onPlay,
      Enter: onOpen,
      n: () => onStep(1),
      p: () => onStep(-1),
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    move();
  };
  const summaries = useMemo(() => columns.map(at => columnSummary(book, rows, at)), [book, rows, columns]);
  const latestSort = useRef(onSort);
  useEffect(() => {
    latestSort.current = onSort;
  });
  const sort = useCallback((by: string) => latestSort.current(by), []);
  const choose = useCallback(
    (place: Place) => {
      onHere(place);
      box.current?.focus({ preventScroll: true });
    },
    [onHere],
  );
  return (
    <div
      ref={box}
      role="grid"
      aria-label={`Markbook of ${book.className}`}
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length + 1}
      aria-activedescendant={
        here && rows[here.row] && columns[here.column] !== undefined ? cellId(here) : undefined
      }
      tabIndex={0}
      onKeyDown={onKey}
      onFocus={event => {
        if (event.target === event.currentTarget && !here && rows.length > 0 && columns.length > 0)
          onHere({ row: 0, column: first });
      }}
      className={`relative min-h-72 ${hasTransport ? 'max-h-[calc(100dvh-19.5rem)]' : 'max-h-[calc(100dvh-15rem)]'} overflow-auto overscroll-contain border border-line bg-sheet [contain:strict]`}
      style={{ height: down.getTotalSize() + 18 }}
    >
      <div
        className="relative"
        style={{ height: down.getTotalSize(), width: across.getTotalSize(), minWidth: '100%' }}
      >
        <div
          role="row"
          aria-rowindex={1}
          className="sticky top-0 z-30 border-b-2 border-edge bg-sheet"
          style={{ height: HEAD_PX }}
        >
          <div
            role="columnheader"
            aria-colindex={1}
            aria-sort={ariaSort(narrowed, 'name') ?? ariaSort(narrowed, 'average')}
            className="sticky start-0 z-10 flex h-full items-end justify-between gap-2 border-e-2 border-edge bg-sheet ps-3 pe-1 pb-1"
            style={{ width: namePx }}
          >
            <span className="flex items-center">
              Student
              <SortButton what="name" by="name" narrowed={narrowed} onSort={sort} />
            </span>
            <span className="flex items-center text-sm">
              {isSmall ? '%' : 'average'}
              <SortButton what="average" by="average" narrowed={narrowed} onSort={sort} />
            </span>
          </div>
          {across.getVirtualItems().map(({ index, start }) => (
            <ColumnHead
              key={columns[index]}
              column={book.columns[columns[index]!]!}
              summary={summaries[index] ?? null}
              at={index}
              left={start}
              narrowed={narrowed}
              onSort={sort}
            />
          ))}
        </div>
        {down.getVirtualItems().map(({ index, start }) => {
          const { student, cells, average } = rows[index]!;
          return (
            <div
              key={student.id}
              role="row"
              aria-rowindex={index + 2}
              className="absolute inset-x-0 border-b border-line"
              style={{ top: start, height: ROW_PX }}
            >
              <RowHead
                student={student}
                average={average}
                classId={book.classId}
                teaches={book.teaches}
                width={namePx}
              />
              {across.getVirtualItems().map(({ index: at, start: left }) => (
                <Cell
                  key={columns[at]}
                  cell={cells[columns[at]!] ?? null}
                  column={book.columns[columns[at]!]!}
                  row={index}
                  at={at}
                  left={left}
                  isHere={here?.row === index && here.column === at}
                  onHere={choose}
                />
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}
