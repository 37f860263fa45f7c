import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { LIMITS } from '@ecoute/contract/limits';
import type { ReleaseSummary } from '@ecoute/contract/releases';
import { handedInOf } from '@ecoute/core/timing/sittingState';
import { serverNow } from '../../base/clock';
import { useTitle } from '../../base/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { Segments } from '../../parts/Segments';
import { SmallStrip } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { Calendar } from './calendar/Calendar';
import { useReleasesBeforeQuery, useReleasesQuery } from './endpoints';
import { standsWords } from './terms';

type View = 'list' | 'week' | 'month';
const VIEWS: readonly { value: View; name: string }[] = [
  { value: 'list', name: 'List' },
  { value: 'week', name: 'Week' },
  { value: 'month', name: 'Month' },
];

function Row({ release: r }: { release: ReleaseSummary }) {
  return (
    <li>
      <Link
        to={`/release/${r.id}`}
        className="grid items-center gap-x-6 gap-y-2 bg-sheet px-5 py-4 hover:bg-sunk sm:grid-cols-[minmax(0,1.2fr)_minmax(8rem,1fr)_14rem]"
      >
        <span className="min-w-0">
          <span className="block text-lg font-semibold">{r.title}</span>
          <span className="text-sm text-soft">
            {r.className}
            {r.groupName && `, ${r.groupName}`} · {standsWords(r, serverNow(), when)}
          </span>
          {r.note && <span className="block text-sm">“{r.note}”</span>}
        </span>
        <SmallStrip items={r.outline.items} />
        <span className="text-sm sm:text-end">
          {handedInOf(r.counts)} of {r.counts.students} handed in
          {r.counts.underWay > 0 && `, ${r.counts.underWay} under way`}
          {r.counts.missing > 0 && `, ${r.counts.missing} missing`}
        </span>
      </Link>
    </li>
  );
}

/** The page of older releases after one; more of them on demand. */
function Earlier({ after }: { after: string }) {
  const [open, setOpen] = useState(false);
  const { data } = useReleasesBeforeQuery(after, { skip: !open });
  if (!open)
    return (
      <div>
        <Button onClick={() => setOpen(true)}>Earlier releases</Button>
      </div>
    );
  if (!data) return <Loading height={76} />;
  if (data.length === 0) return <p className="text-soft">There are no earlier ones.</p>;
  return (
    <>
      <ul className="grid grid-cols-1 gap-px bg-line">
        {data.map(r => (
          <Row key={r.id} release={r} />
        ))}
      </ul>
      <Earlier after={data.at(-1)!.id} />
    </>
  );
}

function ReleaseList() {
  const { data, error, isLoading, refetch } = useReleasesQuery(undefined, { pollingInterval: 60_000 });
  if (isLoading) return <Loading height={76} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  if (data.length === 0)
    return (
      <Empty title="Nothing released yet">
        A release gives an assessment to a class, a group or single students, with a time when it is due.
      </Empty>
    );
  return (
    <>
      <ul className="grid grid-cols-1 gap-px bg-line">
        {data.slice(0, LIMITS.releasesPage).map(r => (
          <Row key={r.id} release={r} />
        ))}
      </ul>
      {data.length >= LIMITS.releasesPage && <Earlier after={data[LIMITS.releasesPage - 1]!.id} />}
    </>
  );
}

/** What is released and planned: as a list, or on the days of a week or a month. */
export function ReleasesPage() {
  useTitle('Release');
  const [asked, setAsked] = useSearchParams();
  const kept = VIEWS.find(
    v => v.value === (asked.get('view') ?? localStorage.getItem('ecoute-release-view')),
  );
  const view = kept?.value ?? 'list';
  return (
    <section className="grid grid-cols-1 gap-5">
      <div className="flex flex-wrap items-center gap-4">
        <h1 className="text-3xl">Release</h1>
        <Segments
          label="Shown as"
          value={view}
          options={VIEWS}
          onChange={chosen => {
            localStorage.setItem('ecoute-release-view', chosen);
            setAsked({ view: chosen }, { replace: true });
          }}
        />
        <ButtonLink look="main" to="/release/new" className="ms-auto">
          Release an assessment
        </ButtonLink>
      </div>
      {view === 'list' ? <ReleaseList /> : <Calendar key={view} view={view} />}
    </section>
  );
}
