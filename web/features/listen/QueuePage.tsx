import { Link } from 'react-router';
import { clock } from '@ecoute/core/timing/words';
import { useTitle } from '../../app/useTitle';
import { ButtonLink } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { SmallStrip } from '../../parts/strip/Strip';
import { useReleasesQuery } from '../release/endpoints';

/** What there is to listen to, by release; what waits longest first. */
export function QueuePage() {
  useTitle('Listen');
  const { data, error, isLoading, refetch } = useReleasesQuery(undefined, { pollingInterval: 30_000 });
  if (isLoading) return <Loading height={76} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const heard = data.filter(r => r.counts.handedIn + r.counts.marked + r.counts.returned > 0);
  const ordered = [...heard].sort(
    (a, b) => Number(b.waitingSittings > 0) - Number(a.waitingSittings > 0) || a.dueAt.localeCompare(b.dueAt),
  );
  return (
    <section>
      <h1 className="text-3xl">Listen</h1>
      <div className="mt-5">
        {ordered.length === 0 ? (
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
            {ordered.map(r => (
              <li key={r.id}>
                <Link
                  to={`/listen/${r.id}`}
                  className="grid items-center gap-x-6 gap-y-2 bg-sheet px-5 py-4 hover:bg-sunk sm:grid-cols-[7rem_minmax(0,1.2fr)_minmax(8rem,1fr)_13rem]"
                >
                  <span className={`tabular text-2xl ${r.waitingSittings === 0 ? 'text-soft' : ''}`}>
                    {clock(r.waitingMs)}
                  </span>
                  <span className="min-w-0">
                    <span className="block text-lg font-semibold">{r.title}</span>
                    <span className="text-sm text-soft">{r.className}</span>
                  </span>
                  <SmallStrip items={r.outline.items} />
                  <span className="text-sm sm:text-end">
                    {r.waitingSittings > 0 ? `${r.waitingSittings} to mark` : 'all marked'}, {r.counts.marked}{' '}
                    to return, {r.counts.returned} returned
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
