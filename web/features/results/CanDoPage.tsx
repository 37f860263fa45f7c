import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { CanDo } from '@ecoute/contract/results';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { counted } from '../../parts/counted';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { inTurn } from '../../parts/player/inTurn';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { when } from '../../parts/when';
import { shownWords, togetherWords } from './canDo';
import { useCanDoQuery } from './endpoints';
import { ResultsHead } from './ResultsHead';
import { TermChoice, useTerm } from './TermChoice';

/** What stands behind a cell: each recording, with the way to its lane. */
function Behind({ data, row, tag }: { data: CanDo; row: number; tag: number }) {
  const student = data.students[row]!;
  const all = data.shown[row]![tag]!;
  const tracks = all.flatMap(s =>
    s.takeId ? [trackOf(s.takeId, `${student.displayName}, ${s.title}`, 'student', s.durationMs)] : [],
  );
  return (
    <section aria-label="What stands behind it" className="border border-line bg-sheet px-4 py-3">
      <h2 className="text-lg leading-tight font-semibold">{student.displayName}</h2>
      <p className="text-sm text-soft">
        {data.tags[tag]!.code} {data.tags[tag]!.words}
      </p>
      {tracks.length > 1 && (
        <Button className="mt-2" onClick={() => inTurn.begin(data.tags[tag]!.words, tracks)}>
          Play these {tracks.length} in turn
        </Button>
      )}
      <ol className="mt-2">
        {all.toReversed().map(s => {
          return (
            <li key={s.sittingId + s.itemId} className="flex items-center gap-3 border-t border-line py-2">
              {s.takeId ? (
                <PlayButton
                  track={trackOf(s.takeId, `${student.displayName}, ${s.title}`, 'student', s.durationMs)}
                  label={`${s.title}, ${when(s.at)}`}
                />
              ) : (
                <span className="w-11 text-sm text-soft">in writing</span>
              )}
              <span className="min-w-0 flex-1">
                <span className="block truncate">
                  <Link
                    to={`/listen/${s.releaseId}?by=student&sitting=${s.sittingId}&item=${s.itemId}`}
                    className="underline decoration-line underline-offset-2"
                  >
                    {s.title}
                  </Link>
                </span>
                <span className="text-sm text-soft">{when(s.at)}</span>
              </span>
              <span className="tabular font-semibold">{shownWords(s)}</span>
            </li>
          );
        })}
      </ol>
    </section>
  );
}

function Table({
  data,
  chosen,
  onChoose,
}: {
  data: CanDo;
  chosen: { row: number; tag: number } | null;
  onChoose: (at: { row: number; tag: number }) => void;
}) {
  const rows = data.students.flatMap((s, i) =>
    s.kind === 'student' || data.shown[i]!.some(x => x.length > 0) ? [i] : [],
  );
  const cellClass = 'border-b border-s border-line px-2 py-1 text-start align-top';
  return (
    <div
      className="max-h-[calc(100dvh-14rem)] overflow-auto border border-line bg-sheet print:max-h-none print:overflow-visible"
      tabIndex={0}
      role="region"
      aria-label="What recordings show"
    >
      <table className="border-separate border-spacing-0">
        <thead>
          <tr>
            <th className="sticky start-0 top-0 z-20 min-w-44 border-e-2 border-b-2 border-edge bg-sheet px-3 py-2 text-start align-bottom">
              Student
            </th>
            {data.tags.map(t => (
              <th
                key={t.code + t.words}
                className="sticky top-0 z-10 max-w-44 min-w-36 border-s border-b-2 border-line border-b-edge bg-sheet px-2 py-2 text-start align-bottom text-sm"
              >
                {t.code && <span className="tabular block text-soft">{t.code}</span>}
                {t.words}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(row => (
            <tr key={data.students[row]!.id}>
              <th className="sticky start-0 z-10 border-e-2 border-b border-line border-e-edge bg-sheet px-3 py-1 text-start">
                <Link
                  to={`/results/${data.classId}/students/${data.students[row]!.id}`}
                  className="underline decoration-line underline-offset-2"
                >
                  {data.students[row]!.displayName}
                </Link>
              </th>
              {data.tags.map((t, tag) => {
                const all = data.shown[row]![tag]!;
                const isHere = chosen?.row === row && chosen.tag === tag;
                return (
                  <td key={t.code + t.words} className={cellClass}>
                    {all.length > 0 && (
                      <button
                        type="button"
                        aria-pressed={isHere}
                        aria-label={`${data.students[row]!.displayName}, ${t.words} ${togetherWords(all)}, ${counted(all.length, 'recording')}`}
                        onClick={() => onChoose({ row, tag })}
                        className={`min-h-11 w-full px-1 text-start hover:bg-sunk ${isHere ? 'outline-3 outline-ink' : ''}`}
                      >
                        <span className="tabular font-semibold">{togetherWords(all)}</span>
                        <span className="block text-xs text-soft">{counted(all.length, 'recording')}</span>
                      </button>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** A class against what can be done: by statement instead of by release. */
export function CanDoPage() {
  const classId = useParams().id!;
  const { term, days, onTerm } = useTerm();
  const { currentData, data, error, refetch } = useCanDoQuery({ classId, ...days });
  const [chosen, setChosen] = useState<{ row: number; tag: number } | null>(null);
  const shown = currentData ?? data;
  useTitle(shown ? `Can-do, ${shown.className}` : 'Can-do');
  if (!shown) return error ? <Failed error={error} again={() => void refetch()} /> : <Loading height={76} />;
  const isThere = chosen && (shown.shown[chosen.row]?.[chosen.tag]?.length ?? 0) > 0;
  return (
    <section>
      <ResultsHead classId={classId} className={shown.className} teaches />
      <div className="mt-3 print:hidden">
        <TermChoice term={term} onTerm={onTerm} />
      </div>
      {shown.tags.length === 0 ? (
        <div className="mt-3">
          <Empty title="No can-do statement yet">
            Give items tags while setting them. What their recordings show is gathered here, by statement and
            student.
          </Empty>
        </div>
      ) : (
        <div className="mt-3 grid grid-cols-1 items-start gap-4 lg:grid-cols-[minmax(0,1fr)_21rem]">
          <div className="min-w-0">
            <Table data={shown} chosen={chosen} onChoose={setChosen} />
            <p className="mt-2 max-w-prose text-sm text-soft">
              A cell puts together what finished answers show: the highest level, the share of all points, how
              often it was done. A statement may be shown by few recordings: press it to hear them.
            </p>
          </div>
          <div className="print:hidden">
            {isThere ? (
              <Behind data={shown} row={chosen.row} tag={chosen.tag} />
            ) : (
              <p className="border border-dashed border-edge px-4 py-6 text-sm text-soft">
                Choose a cell: the recordings behind it come here.
              </p>
            )}
          </div>
        </div>
      )}
    </section>
  );
}
