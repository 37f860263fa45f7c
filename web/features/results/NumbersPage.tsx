import { X } from 'lucide-react';
import { useMemo, useState, type ReactNode } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import type { ReleaseNumbers } from '@ecoute/contract/results';
import { clock } from '@ecoute/core/timing/words';
import { useTitle } from '../../base/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { counted } from '../../parts/counted';
import { Empty } from '../../parts/Empty';
import { inFigures } from '../../parts/figureWords';
import { Failed, Loading } from '../../parts/Loading';
import { inTurn } from '../../parts/player/inTurn';
import { trackOf } from '../../parts/player/PlayButton';
import { when } from '../../parts/when';
import { useNumbersQuery } from './endpoints';
import { AnswersTable } from './numbers/AnswersTable';
import { Bars, barsOfPoints, type DrawnBar } from './numbers/Bars';
import {
  CRITERION_SENTENCE,
  ITEM_SENTENCES,
  noTrustWords,
  percent,
  pointFigure,
  tellsWord,
  trustWords,
} from './numbers/numberWords';

function Fact({ name, value, children }: { name: string; value: string; children: ReactNode }) {
  return (
    <div>
      <dt className="text-sm font-semibold">{name}</dt>
      <dd>
        <span className="tabular text-xl">{value}</span>
        <span className="block max-w-prose text-sm text-soft">{children}</span>
      </dd>
    </div>
  );
}

const cellClass = 'border-b border-line px-3 py-2 text-start align-top';

/** A share as a bar beside its figure. */
function Share({ share }: { share: number | null }) {
  if (share === null) return <>–</>;
  return (
    <span className="flex items-center gap-2">
      <span aria-hidden className="block h-3 w-16 border border-petrol">
        <span className="block h-full bg-petrol" style={{ width: `${100 * share}%` }} />
      </span>
      <span className="tabular">{percent(share)}</span>
    </span>
  );
}

function Tells({ value }: { value: number | null }) {
  if (value === null) return <span className="text-sm text-soft">too few to say</span>;
  return (
    <>
      {tellsWord(value)} <span className="tabular text-sm text-soft">{inFigures(value, 2)}</span>
    </>
  );
}

function Items({
  numbers,
  itemId,
  onItem,
}: {
  numbers: ReleaseNumbers;
  itemId: string;
  onItem: (id: string) => void;
}) {
  const { figures, items, carries, scheme } = numbers;
  return (
    <section aria-labelledby="items" className="mt-8">
      <h2 id="items" className="text-xl">
        Item by item
      </h2>
      <div className="mt-2 overflow-x-auto bg-sheet" tabIndex={0} role="region" aria-label="Item by item">
        <table className="w-full min-w-[52rem]">
          <thead>
            <tr className="text-sm">
              <th className={cellClass}>item</th>
              <th className={cellClass}>answers</th>
              {carries !== null && (
                <>
                  <th className={cellClass}>reached</th>
                  <th className={cellClass}>spread</th>
                  <th className={cellClass}>tells strong from weak</th>
                </>
              )}
              {scheme === 'done' && <th className={cellClass}>done</th>}
              <th className={cellClass}>takes</th>
              <th className={cellClass}>hearings</th>
              <th className={cellClass}>time used</th>
            </tr>
          </thead>
          <tbody>
            {items.map((item, i) => {
              const f = figures.items[i]!;
              const isHere = item.id === itemId;
              return (
                <tr key={item.id} className={isHere ? 'bg-sunk' : ''}>
                  <th className={`${cellClass} max-w-72`}>
                    <button
                      type="button"
                      aria-pressed={isHere}
                      onClick={() => onItem(item.id)}
                      className="min-h-8 text-start font-semibold underline decoration-line underline-offset-2 hover:decoration-ink"
                    >
                      {item.number} · {item.prompt || 'spoken prompt'}
                    </button>
                  </th>
                  <td className={cellClass}>
                    <span className="tabular">{f.answered}</span>
                    {f.passed > 0 && <span className="block text-sm text-soft">{f.passed} passed</span>}
                    {f.unanswered > 0 && (
                      <span className="block text-sm text-soft">{f.unanswered} without</span>
                    )}
                  </td>
                  {carries !== null && (
                    <>
                      <td className={cellClass}>
                        {item.carries > 0 ? (
                          <>
                            <Share share={f.share} />
                            <span className="text-sm text-soft">of {item.carries}</span>
                          </>
                        ) : (
                          <span className="text-sm text-soft">carries none</span>
                        )}
                      </td>
                      <td className={`${cellClass} tabular`}>
                        {f.spread === null || item.carries === 0 ? '–' : pointFigure(f.spread)}
                      </td>
                      <td className={cellClass}>{item.carries > 0 ? <Tells value={f.tells} /> : '–'}</td>
                    </>
                  )}
                  {scheme === 'done' && (
                    <td className={`${cellClass} tabular`}>
                      {f.done ?? 0} of {f.answered}
                    </td>
                  )}
                  <td className={`${cellClass} tabular`}>{f.takes === null ? '–' : inFigures(f.takes, 0)}</td>
                  <td className={`${cellClass} tabular`}>
                    {f.hearings === null ? '–' : inFigures(f.hearings, 0)}
                  </td>
                  <td className={`${cellClass} tabular`}>
                    {f.timeMs === null ? '–' : clock(f.timeMs)}
                    {f.timeShare !== null && (
                      <span className="block text-sm text-soft">{percent(f.timeShare)} of the limit</span>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <dl className="mt-2 grid gap-x-6 gap-y-1 text-sm sm:grid-cols-2">
        {ITEM_SENTENCES.filter(([name]) => carries !== null || !/reached|spread|tells/.test(name)).map(
          ([name, sentence]) => (
            <div key={name}>
              <dt className="inline font-semibold">{name}: </dt>
              <dd className="inline text-soft">{sentence}</dd>
            </div>
          ),
        )}
      </dl>
    </section>
  );
}

/** Shades from the lowest level to the highest, all of one colour: an order, not kinds. */
function shade(level: number, levels: number): number {
  return 0.25 + (0.75 * (level + 1)) / levels;
}

function Criteria({
  numbers,
  onLevel,
}: {
  numbers: ReleaseNumbers;
  /** Plays the answers that were given a level; left out where nobody may hear them. */
  onLevel?: (place: number, level: number) => void;
}) {
  if (numbers.criteria.length === 0) return null;
  return (
    <section aria-labelledby="criteria" className="mt-8">
      <h2 id="criteria" className="text-xl">
        Criterion by criterion
      </h2>
      <div
        className="mt-2 overflow-x-auto bg-sheet"
        tabIndex={0}
        role="region"
        aria-label="Criterion by criterion"
      >
        <table className="w-full min-w-[44rem]">
          <thead>
            <tr className="text-sm">
              <th className={cellClass}>criterion</th>
              <th className={cellClass}>levels given</th>
              <th className={cellClass}>reached</th>
              <th className={cellClass}>tells strong from weak</th>
            </tr>
          </thead>
          <tbody>
            {numbers.criteria.map((criterion, i) => {
              const f = numbers.figures.criteria[i]!;
              const all = f.counts.reduce((sum, n) => sum + n, 0);
              return (
                <tr key={criterion.id}>
                  <th className={cellClass}>{criterion.name}</th>
                  <td className={cellClass}>
                    <span aria-hidden className="flex h-4 w-56 gap-px border border-petrol">
                      {f.counts.map(
                        (n, level) =>
                          n > 0 && (
                            <span
                              key={level}
                              className="block bg-petrol"
                              style={{ width: `${(100 * n) / all}%`, opacity: shade(level, f.counts.length) }}
                            />
                          ),
                      )}
                    </span>
                    {all === 0 ? (
                      <span className="block text-sm text-soft">none yet</span>
                    ) : (
                      <span className="flex flex-wrap gap-x-4 text-sm">
                        {criterion.levels.map((name, level) => {
                          const count = f.counts[level] ?? 0;
                          const words = `${name} ${count}`;
                          return onLevel && count > 0 ? (
                            <button
                              key={level}
                              type="button"
                              aria-label={`${criterion.name}, ${words}. Play them`}
                              onClick={() => onLevel(i, level)}
                              className="min-h-8 underline decoration-line underline-offset-2 hover:decoration-ink"
                            >
                              {words}
                            </button>
                          ) : (
                            <span key={level} className="py-1 text-soft">
                              {words}
                            </span>
                          );
                        })}
                      </span>
                    )}
                  </td>
                  <td className={cellClass}>
                    <Share share={f.share} />
                  </td>
                  <td className={cellClass}>
                    <Tells value={f.tells} />
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <p className="mt-2 max-w-prose text-sm text-soft">{CRITERION_SENTENCE}</p>
    </section>
  );
}

function Numbers({ numbers }: { numbers: ReleaseNumbers }) {
  const { figures, scale, carries, teaches } = numbers;
  // In the address: whoever comes back from a lane finds the item that they came from.
  const [address, setAddress] = useSearchParams();
  const itemId = (numbers.items.find(i => i.id === address.get('item')) ?? numbers.items[0])?.id ?? '';
  const setItemId = (item: string) => setAddress({ item }, { replace: true, preventScrollReset: true });
  /** What is looked at alone: a bar that was pressed. */
  const [chosen, setChosen] = useState<(DrawnBar & { of: string }) | null>(null);
  const only = useMemo(() => (chosen ? new Set(chosen.sittingIds) : null), [chosen]);
  const item = numbers.items.find(i => i.id === itemId);
  const itemFigures = figures.items.find(i => i.itemId === itemId);
  const names = useMemo(() => new Map(numbers.sittings.map(s => [s.id, s.studentName])), [numbers]);
  /** Plays those of a bar, and leaves only them in the table. */
  const hear = (of: string, itemIds: readonly string[]) => (bar: DrawnBar) => {
    if (chosen?.name === bar.name && chosen.of === of) {
      setChosen(null);
      inTurn.end();
      return;
    }
    setChosen({ ...bar, of });
    const tracks = bar.sittingIds.flatMap(id =>
      numbers.answers
        .filter(a => a.sittingId === id && itemIds.includes(a.itemId) && a.takeId && a.durationMs !== null)
        .map(a => trackOf(a.takeId!, names.get(id) ?? '', 'student', a.durationMs)),
    );
    inTurn.begin(`${bar.name} ${of}`, tracks);
  };
  const all = numbers.items.map(i => i.id);
  const bars: DrawnBar[] = figures.levels
    ? figures.levels.map((l, i) => ({ name: scale[i] ?? String(i + 1), ...l }))
    : barsOfPoints(figures.bars);
  const unit = figures.levels ? 'as the overall level' : 'points';
  return (
    <>
      <section
        aria-labelledby="whole"
        className="mt-4 grid gap-x-10 gap-y-5 bg-sheet px-5 py-4 lg:grid-cols-2"
      >
        <div className="min-w-0">
          <h2 id="whole" className="text-xl">
            How it came out
          </h2>
          <p className="text-soft">
            {counted(figures.handedIn, 'student')} handed in, {figures.marked} wholly marked.
          </p>
          {bars.some(b => b.count > 0) ? (
            <>
              <Bars
                bars={bars}
                label="Distribution of the whole"
                unit={unit}
                chosen={chosen?.of === unit ? chosen.name : null}
                onChoose={teaches ? hear(unit, all) : undefined}
              />
              {teaches && <p className="text-sm text-soft">Press a bar to hear those in it.</p>}
            </>
          ) : (
            <p className="mt-4 text-soft">
              {figures.levels
                ? 'No overall level is given yet.'
                : carries === null
                  ? 'This is not scored in points, so there is nothing to spread out.'
                  : 'Nothing is wholly marked yet.'}
            </p>
          )}
        </div>
        {carries !== null && (
          <dl className="grid content-start gap-4">
            {figures.mean !== null && (
              <Fact name="average" value={`${pointFigure(figures.mean)} of ${carries}`}>
                All points of those who are wholly marked, shared out evenly.
              </Fact>
            )}
            {figures.middle !== null && (
              <Fact name="middle" value={pointFigure(figures.middle)}>
                Half of the class has at least this much. Far from the average: a few lie far off.
              </Fact>
            )}
            {figures.spread !== null && (
              <Fact name="spread" value={pointFigure(figures.spread)}>
                Most students lie within this many points of the average.
              </Fact>
            )}
            <div>
              <dt className="text-sm font-semibold">how far a score can be trusted</dt>
              <dd className="max-w-prose text-sm">
                {figures.reliability ? trustWords(figures.reliability) : noTrustWords(figures)}
              </dd>
            </div>
          </dl>
        )}
      </section>
      <Items numbers={numbers} itemId={itemId} onItem={setItemId} />
      <Criteria
        numbers={numbers}
        onLevel={
          teaches
            ? (place, level) => {
                const criterion = numbers.criteria[place]!;
                inTurn.begin(
                  `${criterion.name}: ${criterion.levels[level]}`,
                  numbers.answers
                    .filter(a => a.levels[place] === level && a.takeId && a.durationMs !== null)
                    .map(a => trackOf(a.takeId!, names.get(a.sittingId) ?? '', 'student', a.durationMs)),
                );
              }
            : undefined
        }
      />
      {teaches && item && itemFigures && (
        <section aria-labelledby="answers" className="mt-8">
          <h2 id="answers" className="text-xl">
            Answers to item {item.number}
          </h2>
          <p className="max-w-prose text-soft">{item.prompt}</p>
          {itemFigures.bars.some(b => b.count > 0) && (
            <div className="mt-2 max-w-2xl bg-sheet px-4 py-3">
              <Bars
                bars={barsOfPoints(itemFigures.bars)}
                label={`Distribution of item ${item.number}`}
                unit={`points on item ${item.number}`}
                chosen={chosen?.of === `points on item ${item.number}` ? chosen.name : null}
                onChoose={hear(`points on item ${item.number}`, [item.id])}
              />
            </div>
          )}
          {chosen && (
            <p className="mt-2 flex flex-wrap items-center gap-3">
              Only {chosen.name} {chosen.of}: {counted(chosen.count, 'student')}
              <Button onClick={() => setChosen(null)}>
                <X aria-hidden className="size-5" />
                Show all
              </Button>
            </p>
          )}
          <div className="mt-3">
            <AnswersTable numbers={numbers} itemId={itemId} only={only} />
          </div>
        </section>
      )}
    </>
  );
}

/** One release in numbers. */
export function NumbersPage() {
  const id = useParams().id!;
  const { currentData, data, error, refetch } = useNumbersQuery(id);
  const numbers = currentData ?? data;
  useTitle(numbers ? `${numbers.title} in numbers` : 'Results');
  if (!numbers)
    return error ? <Failed error={error} again={() => void refetch()} /> : <Loading height={76} />;
  return (
    <section>
      <p className="text-sm">
        <Link to={`/results/${numbers.classId}`} className="underline underline-offset-4">
          Markbook of {numbers.className}
        </Link>
      </p>
      <h1 className="text-3xl">{numbers.title}</h1>
      <p className="text-soft">
        {numbers.className} · due {when(numbers.dueAt)}
      </p>
      {numbers.figures.handedIn === 0 ? (
        <div className="mt-5">
          <Empty
            title="Nobody has handed in yet"
            action={<ButtonLink to={`/release/${id}`}>See who is at it</ButtonLink>}
          >
            Figures begin with the first answer, and say more the more there are.
          </Empty>
        </div>
      ) : (
        <Numbers numbers={numbers} />
      )}
    </section>
  );
}
