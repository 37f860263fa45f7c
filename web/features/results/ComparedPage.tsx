import { ArrowRight, ListMusic } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { FIGURES, type Figure } from '@ecoute/core/audio/evidence';
import type { Compared, ComparedStudent, MarkbookColumn } from '@ecoute/contract/results';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Field, inputClass } from '../../parts/Field';
import { FIGURE_WORDS, figureText, figureWords } from '../../parts/figureWords';
import { Failed, Loading } from '../../parts/Loading';
import { inTurn } from '../../parts/player/inTurn';
import { trackOf } from '../../parts/player/PlayButton';
import { cameTo, likelyPair, shiftWords } from './compared';
import { useComparedQuery, useMarkbookQuery } from './endpoints';
import { EquallyLoud } from './EquallyLoud';
import { FigureChoice } from './FigureChoice';
import { ResultsHead } from './ResultsHead';

const dayOf = (iso: string) =>
  new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' }).format(new Date(iso));

type Pair = Compared['pairs'][number];

function ReleaseChoice({
  label,
  value,
  columns,
  onChange,
}: {
  label: string;
  value: string;
  columns: readonly MarkbookColumn[];
  onChange: (id: string) => void;
}) {
  return (
    <Field label={label}>
      {ties => (
        <select
          {...ties}
          value={value}
          onChange={e => onChange(e.target.value)}
          className={`${inputClass} max-w-[30rem]`}
        >
          <option value="">choose one</option>
          {columns.map(c => (
            <option key={c.releaseId} value={c.releaseId}>
              {c.title}, {dayOf(c.dueAt)}
              {c.note && ` (${c.note})`}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}

const tracksOf = (student: ComparedStudent, pairs: readonly Pair[]) =>
  pairs.flatMap(pair => {
    const before = student.before.takes.find(t => t.itemId === pair.before);
    const after = student.after.takes.find(t => t.itemId === pair.after);
    return [
      ...(before
        ? [trackOf(before.takeId, `${student.displayName}, before`, 'student', before.durationMs)]
        : []),
      ...(after ? [trackOf(after.takeId, `${student.displayName}, after`, 'student', after.durationMs)] : []),
    ];
  });

function Table({ data, pairs, figure }: { data: Compared; pairs: readonly Pair[]; figure: Figure | null }) {
  const cellClass = 'border-b border-line px-3 py-2 text-start align-middle';
  const figureOf = (student: ComparedStudent, which: 'before' | 'after') => {
    const own = student[which].takes.filter(t => pairs.some(p => p[which] === t.itemId));
    const values = own.flatMap(t => (figure ? (t.figures[figure] ?? []) : []));
    return values.length === 0 ? null : values.reduce((a, b) => a + b, 0) / values.length;
  };
  return (
    <div className="overflow-x-auto bg-sheet" tabIndex={0} role="region" aria-label="From one to the other">
      <table className="w-full min-w-[42rem]">
        <thead>
          <tr className="text-sm">
            <th className={cellClass}>student</th>
            <th className={cellClass}>before</th>
            <th className={cellClass}>after</th>
            {figure && <th className={cellClass}>{FIGURE_WORDS[figure].name()}</th>}
            <th className={cellClass}>hear both</th>
          </tr>
        </thead>
        <tbody>
          {data.students.map(student => {
            const tracks = tracksOf(student, pairs);
            const [b, a] = [figureOf(student, 'before'), figureOf(student, 'after')];
            return (
              <tr key={student.id}>
                <th className={cellClass}>
                  <Link
                    to={`/results/${data.classId}/students/${student.id}`}
                    className="underline decoration-line underline-offset-2"
                  >
                    {student.displayName}
                  </Link>
                </th>
                <td className={cellClass}>{cameTo(data.before, student.before)}</td>
                <td className={`${cellClass} font-semibold`}>
                  <span className="flex items-center gap-2">
                    <ArrowRight aria-label="to" className="size-4" />
                    {cameTo(data.after, student.after)}
                  </span>
                </td>
                {figure && (
                  <td className={`${cellClass} tabular`}>
                    {b === null || a === null ? '–' : `${figureText(figure, b)} → ${figureWords(figure, a)}`}
                  </td>
                )}
                <td className={cellClass}>
                  <Button
                    disabled={tracks.length === 0}
                    aria-label={`Play ${student.displayName} before and after`}
                    onClick={() => inTurn.begin('before and after', tracks)}
                  >
                    <ListMusic aria-hidden className="size-5" />
                    {tracks.length}
                  </Button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** Which item of the one stands for which of the other. */
function Pairing({
  data,
  pairs,
  onPairs,
}: {
  data: Compared;
  pairs: readonly Pair[];
  onPairs: (pairs: Pair[]) => void;
}) {
  return (
    <details className="mt-3">
      <summary className="min-h-11 cursor-pointer py-2 font-semibold">Which item belongs to which</summary>
      <ul className="grid gap-2">
        {data.before.items.map(item => (
          <li key={item.id} className="flex flex-wrap items-center gap-3">
            <span className="min-w-0 basis-80 truncate">
              {item.number} · {item.prompt || 'spoken prompt'}
            </span>
            <ArrowRight aria-hidden className="size-4" />
            <select
              aria-label={`Item ${item.number} before is held against`}
              value={pairs.find(p => p.before === item.id)?.after ?? ''}
              onChange={e =>
                onPairs([
                  ...pairs.filter(p => p.before !== item.id && p.after !== e.target.value),
                  ...(e.target.value ? [{ before: item.id, after: e.target.value }] : []),
                ])
              }
              className={`${inputClass} !w-auto max-w-80`}
            >
              <option value="">none</option>
              {data.after.items.map(a => (
                <option key={a.id} value={a.id}>
                  {a.number} · {a.prompt || 'spoken prompt'}
                </option>
              ))}
            </select>
          </li>
        ))}
      </ul>
    </details>
  );
}

function Both({ data }: { data: Compared }) {
  const [own, setOwn] = useState<Pair[] | null>(null);
  const pairs = own ?? data.pairs;
  const offered = useMemo(
    () =>
      FIGURES.filter(f =>
        data.students.some(
          s =>
            s.before.takes.some(t => t.figures[f] !== undefined) &&
            s.after.takes.some(t => t.figures[f] !== undefined),
        ),
      ),
    [data],
  );
  const [wished, setWished] = useState<Figure | null>(null);
  const figure = wished && offered.includes(wished) ? wished : (offered[0] ?? null);
  if (data.students.length === 0)
    return (
      <Empty title="Nobody has sat both yet">
        {data.onlyBefore.length + data.onlyAfter.length > 0
          ? 'Those who sat only one of the two are named below once somebody has sat both.'
          : 'As soon as somebody hands in both, they are held against each other here.'}
      </Empty>
    );
  return (
    <>
      <div className="bg-sheet px-5 py-4">
        <h2 className="text-xl">What became of the group</h2>
        {shiftWords(data).map(sentence => (
          <p key={sentence} className="max-w-prose">
            {sentence}
          </p>
        ))}
      </div>
      <div className="mt-4 mb-2 flex flex-wrap items-end gap-4">
        {offered.length > 0 && (
          <FigureChoice
            label="Measured, before and after"
            figure={figure}
            offered={offered}
            onChange={setWished}
          />
        )}
        <EquallyLoud />
      </div>
      <Table data={data} pairs={pairs} figure={figure} />
      <Pairing data={data} pairs={pairs} onPairs={setOwn} />
      {(['onlyBefore', 'onlyAfter'] as const).map(
        which =>
          data[which].length > 0 && (
            <p key={which} className="mt-2 text-sm text-soft">
              Only {which === 'onlyBefore' ? 'before' : 'after'}: {data[which].join(', ')}
            </p>
          ),
      )}
    </>
  );
}

function Loaded({ classId, before, after }: { classId: string; before: string; after: string }) {
  const { currentData, error, refetch } = useComparedQuery({ classId, before, after });
  if (!currentData)
    return error ? <Failed error={error} again={() => void refetch()} /> : <Loading height={76} />;
  return <Both key={before + after} data={currentData} />;
}

/** The same class measured twice. */
export function ComparedPage() {
  const classId = useParams().id!;
  const [address, setAddress] = useSearchParams();
  const { data: book, error, refetch } = useMarkbookQuery({ classId, from: '', to: '' });
  useTitle(book ? `Before and after, ${book.className}` : 'Before and after');
  if (!book) return error ? <Failed error={error} again={() => void refetch()} /> : <Loading height={76} />;
  const likely = likelyPair(book.columns);
  const before = address.get('before') ?? likely?.before ?? '';
  const after = address.get('after') ?? likely?.after ?? '';
  const choose = (change: Record<string, string>) =>
    setAddress({ before, after, ...change }, { replace: true });
  return (
    <section>
      <ResultsHead classId={classId} className={book.className} teaches={book.teaches} />
      <div className="mt-3 flex flex-wrap items-end gap-4">
        <ReleaseChoice
          label="Before"
          value={before}
          columns={book.columns}
          onChange={id => choose({ before: id })}
        />
        <ReleaseChoice
          label="After"
          value={after}
          columns={book.columns}
          onChange={id => choose({ after: id })}
        />
      </div>
      <div className="mt-3">
        {before && after && before !== after ? (
          <Loaded classId={classId} before={before} after={after} />
        ) : (
          <Empty title={before === after && before ? 'These are the same' : 'Choose two assessments'}>
            One that was released twice, or two whose items ask for the same.
          </Empty>
        )}
      </div>
    </section>
  );
}
