import { ToggleGroup } from 'radix-ui';
import { useState } from 'react';
import { Link } from 'react-router';
import { clock, inWords } from '@ecoute/core/timing/words';
import type { ReleaseSummary } from '@ecoute/contract/releases';
import { handedInOf } from '@ecoute/core/timing/sittingState';
import { useTitle } from '../../base/useTitle';
import { ButtonLink } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { SmallStrip } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { useReleasesQuery } from '../release/endpoints';
import { useListenAhead } from './useListenAhead';
import { byUrgency, QUEUE_COUNTS, type QueueCount } from './queue';

/** How many students of a release are where; only what there is. */
function Counts({ release }: { release: ReleaseSummary }) {
  const found = QUEUE_COUNTS.filter(c => c.of(release) > 0);
  return (
    <ul className="flex flex-wrap gap-x-4 text-sm" aria-label={`Students of ${release.title}`}>
      {found.map(c => (
        <li key={c.key} className={c.key === 'waiting' ? 'font-semibold' : 'text-soft'}>
          <span className="tabular">{c.of(release)}</span> {c.words}
        </li>
      ))}
    </ul>
  );
}

/** What there is to listen to, by release; what waits longest first. */
export function QueuePage() {
  useTitle('Listen');
  const [filter, setFilter] = useState<QueueCount['key'] | 'all'>('all');
  const ahead = useListenAhead();
  const { data, error, isLoading, refetch } = useReleasesQuery(undefined, { pollingInterval: 30_000 });
  if (isLoading) return <Loading height={76} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const now = new Date().toISOString();
  const begun = data.filter(
    r =>
      r.hears &&
      (handedInOf(r.counts) > 0 || r.counts.underWay > 0 || (r.counts.missing > 0 && r.dueAt < now)),
  );
  const filters = QUEUE_COUNTS.filter(c => begun.some(r => c.of(r) > 0));
  const chosen = filters.find(f => f.key === filter);
  const shown = [...begun].filter(r => !chosen || chosen.of(r) > 0).sort(byUrgency);
  const left = begun.reduce((sum, r) => sum + r.waitingMs, 0);
  return (
    <section>
      <h1 className="text-3xl">
        Listen{' '}
        {left > 0 && <span className="ms-4 text-lg font-normal text-soft">{inWords(left)} to hear</span>}
      </h1>
      {filters.length > 1 && (
        <ToggleGroup.Root
          type="single"
          aria-label="Show releases with"
          value={filter}
          onValueChange={v => setFilter((v || 'all') as typeof filter)}
          className="mt-3 flex flex-wrap gap-x-5"
        >
          {[{ key: 'all' as const, words: 'all' }, ...filters].map(f => (
            <ToggleGroup.Item
              key={f.key}
              value={f.key}
              className="min-h-10 border-b-3 border-transparent data-[state=on]:border-ink data-[state=on]:font-semibold"
            >
              {f.words}{' '}
              <span className="tabular">
                {'of' in f ? begun.reduce((sum, r) => sum + f.of(r), 0) : begun.length}
              </span>
            </ToggleGroup.Item>
          ))}
        </ToggleGroup.Root>
      )}
      <div className="mt-4">
        {shown.length === 0 ? (
          <Empty
            title="Nothing to listen to yet"
            action={
              <ButtonLink look="main" to="/release">
                See what is released
              </ButtonLink>
            }
          >
            As soon as a student hands in, it waits here.
          </Empty>
        ) : (
          <ul className="grid grid-cols-1 gap-px bg-line">
            {shown.map(r => (
              <li key={r.id}>
                <Link
                  to={`/listen/${r.id}`}
                  {...ahead(r.id)}
                  className="grid items-center gap-x-6 gap-y-1 bg-sheet px-5 py-4 hover:bg-sunk sm:grid-cols-[7rem_minmax(0,1fr)_minmax(8rem,16rem)]"
                >
                  <span className={`tabular text-2xl ${r.waitingSittings === 0 ? 'text-soft' : ''}`}>
                    {clock(r.waitingMs)}
                  </span>
                  <span className="min-w-0">
                    <span className="block text-lg font-semibold">{r.title}</span>
                    <span className="text-sm text-soft">
                      {r.className} · due {when(r.dueAt)}
                    </span>
                  </span>
                  <SmallStrip items={r.outline.items} />
                  <span className="sm:col-span-2 sm:col-start-2">
                    <Counts release={r} />
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        )}
      </div>
    </section>
  );
}
