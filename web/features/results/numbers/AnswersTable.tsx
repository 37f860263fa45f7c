import { ArrowDown, ArrowUp, ListMusic } from 'lucide-react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { FIGURES, type Figure } from '@ecoute/core/audio/evidence';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { clock } from '@ecoute/core/timing/words';
import type { ReleaseNumbers } from '@ecoute/contract/results';
import { Button } from '../../../parts/Button';
import { FIGURE_WORDS, figureWords } from '../../../parts/figureWords';
import { inTurn } from '../../../parts/player/inTurn';
import { HeardInPlace } from '../../../parts/player/HeardInPlace';
import { trackOf } from '../../../parts/player/PlayButton';
import { when } from '../../../parts/when';
import { useReleaseEvidenceQuery } from '../../evidence/endpoints';
import { FigureChoice } from '../FigureChoice';
import { answerRows, sorted, type AnswerRow, type Sort } from './answerTable';

const ROW_PX = 60;

const trackOfRow = (row: AnswerRow) =>
  row.takeId && row.durationMs !== null
    ? trackOf(row.takeId, row.studentName, 'student', row.durationMs)
    : null;

function Sounds({ row, fullMs }: { row: AnswerRow; fullMs: number }) {
  const track = trackOfRow(row);
  if (track)
    return (
      <HeardInPlace
        track={track}
        fullMs={fullMs}
        height={36}
        plays={row.studentName}
        label={`Answer of ${row.studentName}`}
      />
    );
  return (
    <span className="text-sm text-soft">{row.passed ? 'passed' : row.written ? 'in writing' : 'a file'}</span>
  );
}

/** All answers of an item, played in place, in any order; of hundreds only those in sight are in the page. */
export function AnswersTable({
  numbers,
  itemId,
  only,
}: {
  numbers: ReleaseNumbers;
  itemId: string;
  /** Sittings of a bar that was pressed; null for all. */
  only: ReadonlySet<string> | null;
}) {
  const { data: evidence } = useReleaseEvidenceQuery(numbers.releaseId);
  const measured = useMemo(() => evidence?.takes ?? {}, [evidence]);
  const offered = useMemo(() => {
    const takes = numbers.answers.flatMap(a =>
      a.itemId === itemId && a.takeId ? (measured[a.takeId] ?? []) : [],
    );
    return FIGURES.filter(f => takes.some(t => t.figures[f] !== undefined));
  }, [numbers, itemId, measured]);
  const [wished, setWished] = useState<Figure | null>(null);
  const figure = wished && offered.includes(wished) ? wished : (offered[0] ?? null);
  const [sort, setSort] = useState<Sort>('name');
  const [down, setDown] = useState(false);
  const rows = useMemo(
    () => sorted(answerRows(numbers, itemId, figure, measured, only), sort, down),
    [numbers, itemId, figure, measured, only, sort, down],
  );
  const fullMs = Math.max(1_000, ...rows.map(r => r.durationMs ?? 0));
  const item = numbers.items.find(i => i.id === itemId)!;
  const box = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_PX,
    overscan: 6,
  });
  const tracks = rows.flatMap(r => trackOfRow(r) ?? []);
  const hasPoints = item.carries > 0 && numbers.carries !== null;
  const columns: [Sort, string, string][] = [
    ['name', 'student', 'minmax(9rem,1fr)'],
    ['length', 'answer', 'minmax(12rem,2fr)'],
    ...(hasPoints ? ([['points', 'score', '6rem']] as [Sort, string, string][]) : []),
    ['takes', 'takes', '4.5rem'],
    ['hearings', 'hearings', '5.5rem'],
    ...(figure ? ([[figure, FIGURE_WORDS[figure].name(), '9rem']] as [Sort, string, string][]) : []),
    ['handedIn', 'handed in', '9rem'],
  ];
  const grid = { gridTemplateColumns: columns.map(c => c[2]).join(' ') };
  return (
    <div>
      <div className="mb-2 flex flex-wrap items-center gap-3">
        {offered.length > 0 && (
          <FigureChoice label="Measured" figure={figure} offered={offered} onChange={setWished} />
        )}
        <Button disabled={tracks.length === 0} onClick={() => inTurn.begin(`item ${item.number}`, tracks)}>
          <ListMusic aria-hidden className="size-5" />
          Play these {tracks.length} in turn
        </Button>
      </div>
      <div
        ref={box}
        role="table"
        aria-label={`Answers to item ${item.number}`}
        aria-rowcount={rows.length + 1}
        tabIndex={0}
        className="max-h-[70dvh] overflow-auto border border-line bg-sheet"
      >
        <div className="min-w-[54rem]">
          <div
            role="row"
            aria-rowindex={1}
            className="sticky top-0 z-10 grid border-b-2 border-edge bg-sheet px-3"
            style={grid}
          >
            {columns.map(([by, name]) => (
              <span
                key={by}
                role="columnheader"
                aria-sort={sort === by ? (down ? 'descending' : 'ascending') : undefined}
              >
                <button
                  type="button"
                  onClick={() => {
                    setDown(sort === by ? !down : by !== 'name');
                    setSort(by);
                  }}
                  className="flex min-h-11 items-center gap-1 text-start text-sm font-semibold"
                >
                  {name}
                  {sort === by &&
                    (down ? (
                      <ArrowDown aria-hidden className="size-4" />
                    ) : (
                      <ArrowUp aria-hidden className="size-4" />
                    ))}
                </button>
              </span>
            ))}
          </div>
          <div className="relative" style={{ height: list.getTotalSize() }}>
            {list.getVirtualItems().map(({ index, start }) => {
              const row = rows[index]!;
              return (
                <div
                  key={row.sittingId}
                  role="row"
                  aria-rowindex={index + 2}
                  className="absolute inset-x-0 grid items-center gap-x-0 border-b border-line px-3"
                  style={{ ...grid, top: start, height: ROW_PX }}
                >
                  <span role="cell" className="min-w-0 pe-3">
                    <Link
                      to={`/listen/${numbers.releaseId}?sitting=${row.sittingId}&item=${row.itemId}`}
                      className="block truncate font-semibold underline decoration-line underline-offset-2 hover:decoration-ink"
                    >
                      {row.studentName}
                    </Link>
                  </span>
                  <span role="cell" className="flex min-w-0 items-center gap-2 pe-3">
                    <span className="min-w-0 flex-1">
                      <Sounds row={row} fullMs={fullMs} />
                    </span>
                    <span className="tabular text-sm text-soft">
                      {row.durationMs === null ? '' : clock(row.durationMs)}
                    </span>
                  </span>
                  {hasPoints && (
                    <span role="cell" className="tabular">
                      {row.points === null ? (
                        <span className="text-sm text-soft">not yet</span>
                      ) : (
                        pointsText(toHundredths(row.points))
                      )}
                    </span>
                  )}
                  <span role="cell" className="tabular">
                    {row.takes || '–'}
                  </span>
                  <span role="cell" className="tabular">
                    {row.hearings || '–'}
                  </span>
                  {figure && (
                    <span role="cell" className="tabular">
                      {row.figure === null ? '–' : figureWords(figure, row.figure)}
                    </span>
                  )}
                  <span role="cell" className="text-sm text-soft">
                    {row.handedInAt ? when(row.handedInAt) : ''}
                  </span>
                </div>
              );
            })}
          </div>
        </div>
      </div>
    </div>
  );
}
