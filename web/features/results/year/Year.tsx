import { ArrowLeftRight, Clock4, ListMusic } from 'lucide-react';
import { useEffect, useRef, type ReactNode } from 'react';
import { Link, useSearchParams } from 'react-router';
import { clock } from '@ecoute/core/timing/words';
import type { AnswerKind } from '@ecoute/contract/assessment/kinds';
import type { StudentYear, YearSitting } from '@ecoute/contract/results';
import { locale, t } from '../../../base/i18n';
import { Button } from '../../../parts/Button';
import { Empty } from '../../../parts/Empty';
import { Field, inputClass } from '../../../parts/Field';
import { lazyPart } from '../../../parts/lazyPart';
import { HeardInPlace } from '../../../parts/player/HeardInPlace';
import { inTurn } from '../../../parts/player/inTurn';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { player, usePlayed } from '../../../parts/player/usePlayer';
import { Flag } from '../../../parts/StateWord';
import { SmallStrip } from '../../../parts/strip/Strip';
import { EquallyLoud } from '../EquallyLoud';
import { answerWords, figuresOf, sittingWords, tagLines, tasksOf, type Dated, type Task } from './tasks';

const Curves = lazyPart(() => import('./Curves'));

const KINDS: Record<AnswerKind, () => string> = {
  reading: () => t('all that was read aloud'),
  conversation: () => t('all conversations'),
  score: () => t('all that was played from a score'),
  music: () => t('all music'),
  speaking: () => t('all that was spoken freely'),
  other: () => t('everything else'),
};

const dayOf = (iso: string) =>
  new Intl.DateTimeFormat(locale(), { day: 'numeric', month: 'short', year: 'numeric' }).format(
    new Date(iso),
  );

/** Where one reads more about a sitting: its lane for a teacher, its feedback for its student. */
export type PlaceOf = (sitting: YearSitting, itemId?: string) => string | null;

const trackOfAnswer = ({ sitting, answer }: Dated) =>
  trackOf(answer.takeId!, `${sitting.title}, ${dayOf(sitting.at)}`, 'student', answer.durationMs);

const titleOf = (task: Task) => task.prompt ?? KINDS[task.kind]();

/** Every sitting as its strip, in the order of the dates: the latest at the end, and in sight. */
function Line({ sittings, placeOf }: { sittings: readonly YearSitting[]; placeOf: PlaceOf }) {
  const line = useRef<HTMLOListElement>(null);
  const hasClasses = new Set(sittings.map(s => s.className)).size > 1;
  useEffect(() => {
    if (line.current) line.current.scrollLeft = line.current.scrollWidth;
  }, [sittings.length]);
  return (
    <ol
      ref={line}
      tabIndex={0}
      aria-label={t('Sittings in the order of their dates')}
      className="flex gap-px overflow-x-auto"
    >
      {sittings.map(s => {
        const tracks = s.answers
          .filter(a => a.takeId && a.durationMs !== null)
          .map(answer => trackOfAnswer({ sitting: s, answer }));
        const place = placeOf(s);
        const words = sittingWords(s);
        return (
          <li key={s.sittingId} className="flex w-52 shrink-0 flex-col gap-1 bg-sheet px-4 py-3">
            <span className="flex flex-wrap justify-between gap-x-2 text-sm text-soft">
              {dayOf(s.at)}
              {s.late && <Flag icon={Clock4} word={t('late')} />}
            </span>
            {hasClasses && <span className="truncate text-xs text-soft">{s.className}</span>}
            <span className="line-clamp-2 min-h-12 leading-tight font-semibold">
              {place ? (
                <Link
                  to={place}
                  className="underline decoration-line underline-offset-2 hover:decoration-ink"
                >
                  {s.title}
                </Link>
              ) : (
                s.title
              )}
            </span>
            <SmallStrip items={s.outline.items} answered={new Set(s.answers.map(a => a.itemId))} />
            <span className="mt-auto flex min-h-11 items-center justify-between gap-2">
              <span>
                {words === null ? (
                  <span className="text-sm text-soft">
                    {s.feedbackGiven ? t('feedback given') : t('handed in')}
                  </span>
                ) : (
                  <span className="tabular">{words}</span>
                )}
                {s.superseded && <span className="block text-xs text-soft">{t('does not count')}</span>}
              </span>
              {tracks.length > 0 && (
                <button
                  type="button"
                  aria-label={t('Play {{what}}', { what: `${s.title}, ${dayOf(s.at)}` })}
                  onClick={() => inTurn.begin(s.title, tracks)}
                  className="inline-grid min-h-11 min-w-11 place-items-center border-2 border-petrol bg-petrol-wash text-petrol-ink"
                >
                  <ListMusic aria-hidden className="size-5" />
                </button>
              )}
            </span>
          </li>
        );
      })}
    </ol>
  );
}

/** What can be done with an answer besides hearing it. */
export type ActsOf = (dated: Dated) => ReactNode;

function Answer({
  dated,
  fullMs,
  place,
  acts,
}: {
  dated: Dated;
  fullMs: number;
  place: string | null;
  acts?: ActsOf;
}) {
  const { sitting, answer } = dated;
  const track = trackOfAnswer(dated);
  return (
    <li
      className={`grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 gap-y-1 bg-sheet px-4 py-2 ${acts ? 'sm:grid-cols-[11rem_minmax(0,1fr)_6rem_11rem]' : 'sm:grid-cols-[11rem_minmax(0,1fr)_6rem]'}`}
    >
      <span className="min-w-0">
        <span className="block font-semibold">{dayOf(sitting.at)}</span>
        <span className="block truncate text-sm">
          {place ? (
            <Link to={place} className="underline decoration-line underline-offset-2">
              {sitting.title}
            </Link>
          ) : (
            sitting.title
          )}
        </span>
      </span>
      <span className="flex items-center gap-3 max-sm:order-last max-sm:col-span-2">
        <HeardInPlace
          track={track}
          fullMs={fullMs}
          height={40}
          plays={`${sitting.title}, ${dayOf(sitting.at)}`}
          label={t('Answer of {{date}}', { date: dayOf(sitting.at) })}
        />
      </span>
      <span className="text-end">
        <span className="tabular block font-semibold">{answerWords(answer) ?? '–'}</span>
        <span className="tabular text-sm text-soft">{clock(answer.durationMs ?? 0)}</span>
      </span>
      {acts && <span className="max-sm:order-last max-sm:col-span-2 sm:text-end">{acts(dated)}</span>}
    </li>
  );
}

/** One task over the dates: the recordings under each other, first against latest by a key, and what was measured. */
function Over({ tasks, placeOf, acts }: { tasks: readonly Task[]; placeOf: PlaceOf; acts?: ActsOf }) {
  // In the address: whoever comes back from a lane finds it as it was.
  const [address, setAddress] = useSearchParams();
  const task = tasks.find(x => x.key === address.get('task')) ?? tasks[0]!;
  const choose = (key: string) => {
    const next = new URLSearchParams(address);
    next.set('task', key);
    setAddress(next, { replace: true, preventScrollReset: true });
  };
  const [first, latest] = [task.answers[0]!, task.answers.at(-1)!];
  const isFirst = usePlayed(s => s.track?.id === first.answer.takeId);
  const swap = () => {
    const next = player.now().track?.id === first.answer.takeId ? latest : first;
    void player.play(trackOfAnswer(next));
  };
  const swapping = useRef(swap);
  useEffect(() => {
    swapping.current = swap;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== 'x' || event.ctrlKey || event.metaKey || event.altKey) return;
      if (
        event.target instanceof HTMLElement &&
        event.target.closest('input, textarea, select, [role=dialog]')
      )
        return;
      event.preventDefault();
      swapping.current();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  const fullMs = Math.max(...task.answers.map(d => d.answer.durationMs ?? 0));
  return (
    <section aria-labelledby="over" className="mt-8">
      <h2 id="over" className="text-xl">
        {t('The same, over the dates')}
      </h2>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <Field label={t('What')} className="min-w-0">
          {ties => (
            <select
              {...ties}
              value={task.key}
              onChange={e => choose(e.target.value)}
              className={`${inputClass} max-w-96`}
            >
              {tasks.map(x => (
                <option key={x.key} value={x.key}>
                  {titleOf(x)} ({x.answers.length})
                </option>
              ))}
            </select>
          )}
        </Field>
        <Button aria-keyshortcuts="x" onClick={swap}>
          <ArrowLeftRight aria-hidden className="size-5" />
          {isFirst ? t('Now the latest (X)') : t('First against latest (X)')}
        </Button>
        <EquallyLoud />
      </div>
      <ol className="mt-3 grid gap-px bg-line">
        {task.answers.map(d => (
          <Answer
            key={d.answer.takeId}
            dated={d}
            fullMs={fullMs}
            place={placeOf(d.sitting, d.answer.itemId)}
            acts={acts}
          />
        ))}
      </ol>
      {figuresOf(task).length > 0 && (
        <Curves key={task.key} task={task} onPlay={d => void player.play(trackOfAnswer(d))} />
      )}
    </section>
  );
}

function Statements({ sittings }: { sittings: readonly YearSitting[] }) {
  const lines = tagLines({ sittings: [...sittings] });
  if (lines.length === 0) return null;
  return (
    <section aria-labelledby="statements" className="mt-8">
      <h2 id="statements" className="text-xl">
        {t('Can-do, over the dates')}
      </h2>
      <ul className="mt-2 grid gap-px bg-line">
        {lines.map(line => (
          <li
            key={line.code + line.words}
            className="flex flex-wrap items-center gap-x-5 gap-y-1 bg-sheet px-4 py-2"
          >
            <span className="min-w-0 flex-1 basis-60">
              <span className="tabular text-sm text-soft">{line.code}</span> {line.words}
            </span>
            <span className="flex flex-wrap gap-2">
              {line.answers.map(d => {
                const words = answerWords(d.answer);
                return d.answer.takeId ? (
                  <PlayButton
                    key={d.sitting.sittingId + d.answer.itemId}
                    track={trackOfAnswer(d)}
                    label={`${words}, ${dayOf(d.sitting.at)}`}
                    text={words ?? ''}
                  />
                ) : (
                  <span key={d.sitting.sittingId + d.answer.itemId} className="tabular min-h-11 px-2 py-2">
                    {words}
                  </span>
                );
              })}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Recurring({ year, placeOf }: { year: StudentYear; placeOf: PlaceOf }) {
  const asked = year.sittings.filter(s => s.asked > 0);
  if (year.recurring.length === 0 && asked.length === 0) return null;
  return (
    <section aria-labelledby="recurring" className="mt-8">
      <h2 id="recurring" className="text-xl">
        {t('What keeps coming back')}
      </h2>
      {year.recurring.length > 0 && (
        <ul className="mt-2 grid gap-px bg-line">
          {year.recurring.slice(0, 12).map(r => (
            <li
              key={r.words}
              className="flex flex-wrap items-baseline justify-between gap-x-6 bg-sheet px-4 py-2"
            >
              <span dir="auto" className="min-w-0 flex-1 basis-72 border-s-3 border-saffron ps-3">
                {r.words}
              </span>
              <span className="text-sm text-soft">
                {t('{{number}} times, last {{date}}', { number: r.sittings, date: dayOf(r.lastAt) })}
              </span>
            </li>
          ))}
        </ul>
      )}
      {asked.length > 0 && (
        <ul className="mt-3 grid gap-px bg-line">
          {asked.map(s => {
            const place = placeOf(s);
            return (
              <li key={s.sittingId} className="flex flex-wrap justify-between gap-x-6 bg-sheet px-4 py-2">
                <span>
                  {place ? (
                    <Link to={place} className="underline decoration-line underline-offset-2">
                      {s.title}
                    </Link>
                  ) : (
                    s.title
                  )}
                  <span className="text-sm text-soft"> · {dayOf(s.at)}</span>
                </span>
                <span className="text-sm">
                  {t('Answers asked for: {{asked}}, given: {{replied}}.', {
                    asked: s.asked,
                    replied: Math.min(s.asked, s.replied),
                  })}
                </span>
              </li>
            );
          })}
        </ul>
      )}
    </section>
  );
}

/** One student over the dates. */
export function Year({
  year,
  sittings,
  placeOf,
  acts,
}: {
  year: StudentYear;
  sittings: readonly YearSitting[];
  placeOf: PlaceOf;
  acts?: ActsOf;
}) {
  const tasks = tasksOf(sittings);
  if (sittings.length === 0)
    return (
      <Empty title={t('Nothing handed in here yet')}>
        {t('With each recording that is handed in, there is more to hear and compare.')}
      </Empty>
    );
  return (
    <>
      <Line sittings={sittings} placeOf={placeOf} />
      {tasks.length > 0 && <Over tasks={tasks} placeOf={placeOf} acts={acts} />}
      <Statements sittings={sittings} />
      <Recurring year={year} placeOf={placeOf} />
    </>
  );
}
