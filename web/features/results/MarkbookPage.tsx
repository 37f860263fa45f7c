import { Printer } from 'lucide-react';
import { useCallback, useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { flushSync } from 'react-dom';
import { percentOf } from '@ecoute/core/scoring/shares';
import { toHundredths } from '@ecoute/core/scoring/points';
import { STARTING_POINTS } from '@ecoute/core/timing/startingPoints';
import type { Markbook } from '@ecoute/contract/results';
import { useTitle } from '../../base/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { Tick } from '../../parts/Tick';
import { useSmallScreen } from '../../parts/useSmallScreen';
import { useMarkbookQuery, type Days } from './endpoints';
import { Beside, type BesideHandle } from './markbook/Beside';
import { Grid, type Place } from './markbook/Grid';
import { keepPlace, keptPlace } from './markbook/keptPlace';
import { columnsShown, narrowedIn, rowsShown, ruleWords, tagKey } from './markbook/narrowed';
import { PrintedMarkbook } from './markbook/PrintedMarkbook';
import { RuleDialog } from './markbook/RuleDialog';
import { ResultsHead } from './ResultsHead';
import { TakeAlong } from './TakeAlong';
import { TermChoice, useTerm } from './TermChoice';

/** A choice among a few, with one for all of them. */
function Choice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly { value: string; name: string }[];
  onChange: (value: string) => void;
}) {
  if (options.length === 0) return null;
  return (
    <Field label={label}>
      {ties => (
        <select
          {...ties}
          value={value}
          onChange={e => onChange(e.target.value)}
          className={`${inputClass} !w-auto max-w-56`}
        >
          <option value="">all</option>
          {options.map(o => (
            <option key={o.value} value={o.value}>
              {o.name}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}

/** The averages of a class, as its coordinator sees them where no students are shown. */
function Averages({ book }: { book: Markbook }) {
  return (
    <ul className="grid gap-px bg-line">
      {book.columns.map((c, i) => {
        const average = book.averages?.[i];
        return (
          <li key={c.releaseId} className="flex flex-wrap justify-between gap-x-6 bg-sheet px-5 py-3">
            <Link
              to={`/results/releases/${c.releaseId}`}
              className="font-semibold underline decoration-line underline-offset-2 hover:decoration-ink"
            >
              {c.title}
            </Link>
            {average ? (
              <span className="tabular">
                {percentOf(toHundredths(average.given), toHundredths(average.most))} % · of {average.count}
              </span>
            ) : (
              <span className="text-sm text-soft">
                {c.carries === null ? 'no points to average' : 'too few to tell without naming somebody'}
              </span>
            )}
          </li>
        );
      })}
    </ul>
  );
}

function Whole({
  book,
  term,
  days,
  onAddress,
}: {
  book: Markbook;
  term: string;
  days: Days;
  onAddress: (change: Record<string, string>) => void;
}) {
  const [address] = useSearchParams();
  const said = address.toString();
  const narrowed = useMemo(() => narrowedIn(new URLSearchParams(said)), [said]);
  const columns = useMemo(() => columnsShown(book, narrowed), [book, narrowed]);
  const rows = useMemo(() => rowsShown(book, narrowed, columns), [book, narrowed, columns]);
  // By what it is of, not by row and column: sorting and narrowing move rows under it.
  const [kept, setKept] = useState(() => keptPlace(book.classId));
  const here = useMemo((): Place | null => {
    const row = rows.findIndex(r => r.student.id === kept?.studentId);
    const column = columns.findIndex(c => book.columns[c]!.releaseId === kept?.releaseId);
    return row < 0 || column < 0 ? null : { row, column };
  }, [kept, rows, columns, book]);
  const [isRule, setRule] = useState(false);
  const [isTaking, setTaking] = useState(false);
  const [isPrinting, setPrinting] = useState(false);
  const isSmall = useSmallScreen();
  const beside = useRef<BesideHandle>(null);
  const navigate = useNavigate();
  const kinds = STARTING_POINTS.filter(k => book.columns.some(c => c.startingPoint === k));
  const tags = [...new Map(book.columns.flatMap(c => c.tags.map(t => [tagKey(t), t]))).values()];
  const others = book.students.filter(s => s.kind !== 'student').length;
  const row = here ? rows[here.row] : undefined;
  const at = here ? columns[here.column] : undefined;
  const cell = row && at !== undefined ? (row.cells[at] ?? null) : null;
  const sort = (by: string) =>
    onAddress({
      sort: narrowed.sort === by ? (narrowed.down ? by : `-${by}`) : by === 'name' ? by : `-${by}`,
    });
  const print = () => {
    flushSync(() => setPrinting(true));
    // Some browsers go on while their dialog is open.
    window.addEventListener('afterprint', () => setPrinting(false), { once: true });
    window.print();
  };
  const onHere = useCallback(
    (place: Place) => {
      const next = {
        studentId: rows[place.row]!.student.id,
        releaseId: book.columns[columns[place.column]!]!.releaseId,
      };
      setKept(next);
      keepPlace(book.classId, next);
    },
    [rows, columns, book],
  );
  const filters = (
    <>
      <Choice
        label="Group"
        value={narrowed.group}
        options={book.groups.map(g => ({ value: g.id, name: g.name }))}
        onChange={group => onAddress({ group })}
      />
      <Choice
        label="Kind"
        value={narrowed.kind}
        options={kinds.length > 1 ? kinds.map(k => ({ value: k, name: k })) : []}
        onChange={kind => onAddress({ kind })}
      />
      <Choice
        label="Can-do"
        value={narrowed.tag}
        options={tags.map(t => ({ value: tagKey(t), name: tagKey(t) }))}
        onChange={tag => onAddress({ tag })}
      />
      {others > 0 && (
        <Tick checked={narrowed.everybody} onChange={on => onAddress({ who: on ? 'all' : '' })}>
          who left, and guests ({others})
        </Tick>
      )}
    </>
  );
  const isNarrowed =
    narrowed.group !== '' || narrowed.kind !== '' || narrowed.tag !== '' || narrowed.everybody;
  return (
    <>
      {isPrinting && <PrintedMarkbook book={book} rows={rows} columns={columns} />}
      <div className="print:hidden">
        <div className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2">
          <TermChoice term={term} onTerm={id => onAddress({ term: id })} />
          {isSmall ? (
            <details className="w-full">
              <summary className="min-h-11 cursor-pointer py-2 font-semibold">
                Show only some{isNarrowed && ' (as chosen)'}
              </summary>
              <div className="flex flex-wrap items-end gap-x-4 gap-y-2">{filters}</div>
            </details>
          ) : (
            filters
          )}
          <span className="ms-auto flex gap-2">
            {book.teaches && <Button onClick={() => setRule(true)}>How it adds up …</Button>}
            {book.teaches && <Button onClick={() => setTaking(true)}>Take it along …</Button>}
            <Button onClick={print}>
              <Printer aria-hidden className="size-5" />
              Print
            </Button>
          </span>
        </div>
        {book.more && (
          <Notice>These are the latest {book.columns.length}. Choose a term to see older ones.</Notice>
        )}
        {book.students.length === 0 ? (
          <Empty
            title="Nobody is in this class"
            action={
              <ButtonLink look="main" to={`/classes/${book.classId}`}>
                Add students
              </ButtonLink>
            }
          >
            Each student becomes a row here.
          </Empty>
        ) : columns.length === 0 || rows.length === 0 ? (
          <Empty title="Nothing here with these choices">
            {book.columns.length === 0
              ? 'Nothing that is due in this term has opened yet.'
              : 'Choose “all” in one of them.'}
          </Empty>
        ) : (
          <div className="mt-3 grid grid-cols-1 items-start gap-4 lg:grid-cols-[minmax(0,1fr)_21rem]">
            <div className="min-w-0">
              <Grid
                book={book}
                rows={rows}
                columns={columns}
                narrowed={narrowed}
                here={here}
                onHere={onHere}
                onSort={sort}
                onPlay={() => beside.current?.toggle()}
                onStep={by => beside.current?.step(by)}
                onOpen={() => {
                  if (cell?.sittingId && at !== undefined)
                    void navigate(
                      `/listen/${book.columns[at]!.releaseId}?by=student&sitting=${cell.sittingId}`,
                    );
                }}
              />
              <p className="mt-2 text-sm text-soft">
                {book.teaches &&
                  'Arrows move, Space plays, N and P go from answer to answer, Enter opens the lane. '}
                {ruleWords(book)}
              </p>
            </div>
            {book.teaches &&
              (row && at !== undefined ? (
                <div className="lg:sticky lg:top-4 lg:max-h-[calc(100dvh-6.5rem)] lg:overflow-y-auto">
                  <Beside
                    classId={book.classId}
                    student={row.student}
                    column={book.columns[at]!}
                    cell={cell}
                    handle={beside}
                  />
                </div>
              ) : (
                <p className="border border-dashed border-edge px-4 py-6 text-sm text-soft">
                  Choose a cell: its recordings, scores, comments and notes come here.
                </p>
              ))}
          </div>
        )}
        {isTaking && (
          <TakeAlong
            classId={book.classId}
            days={days}
            isTerm={term !== ''}
            onClose={() => setTaking(false)}
          />
        )}
        {isRule && <RuleDialog book={book} onClose={() => setRule(false)} />}
      </div>
    </>
  );
}

/** A class against everything released to it. */
export function MarkbookPage() {
  const classId = useParams().id!;
  const { term, days } = useTerm();
  const [, setAddress] = useSearchParams();
  const { currentData, data, error, refetch } = useMarkbookQuery({ classId, ...days });
  const book = currentData ?? data;
  useTitle(book ? `Markbook, ${book.className}` : 'Markbook');
  const onAddress = useCallback(
    (change: Record<string, string>) =>
      setAddress(
        before => {
          const next = new URLSearchParams(before);
          for (const [name, value] of Object.entries(change))
            if (value) next.set(name, value);
            else next.delete(name);
          return next;
        },
        { replace: true, preventScrollReset: true },
      ),
    [setAddress],
  );
  if (!book) return error ? <Failed error={error} again={() => void refetch()} /> : <Loading height={76} />;
  return (
    <section>
      <ResultsHead classId={classId} className={book.className} teaches={book.teaches} />
      {book.averages ? (
        <div className="mt-4">
          <p className="mb-3 max-w-prose text-soft">
            Its teachers let you see the class as a whole. {ruleWords(book)}
          </p>
          <Averages book={book} />
        </div>
      ) : book.columns.length === 0 && !term ? (
        <div className="mt-5">
          <Empty
            title="Nothing to add up yet"
            action={
              <ButtonLink look="main" to={`/release/new?class=${classId}`}>
                Release an assessment
              </ButtonLink>
            }
          >
            Each assessment that opens for this class becomes a column here.
          </Empty>
        </div>
      ) : (
        <Whole book={book} term={term} days={days} onAddress={onAddress} />
      )}
    </section>
  );
}
