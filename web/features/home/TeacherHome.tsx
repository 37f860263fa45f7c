import { Link, useNavigate } from 'react-router';
import { blankContent } from '@ecoute/contract/blank';
import { clock, inWords } from '@ecoute/core/timing/words';
import { handedInOf } from '@ecoute/core/timing/sittingState';
import { useMe } from '../../base/useMe';
import { useTitle } from '../../base/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { SmallStrip } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { useListenAhead } from '../listen/useListenAhead';
import { useReleasesQuery } from '../release/endpoints';
import { newItem } from '../set/draft';
import { useMakeAssessmentMutation } from '../set/endpoints';

/** Counts what matters: minutes to listen to, what is due, who still waits. */
export function TeacherHome() {
  const me = useMe();
  useTitle('Today');
  const ahead = useListenAhead();
  const [make, made] = useMakeAssessmentMutation();
  const navigate = useNavigate();
  const { data, error, isLoading, refetch } = useReleasesQuery(undefined, { pollingInterval: 60_000 });
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  // Who plans and does not teach hears nobody, and is sent to nobody's recordings.
  const own = data.filter(r => r.hears);
  const waiting = own.filter(r => r.waitingSittings > 0);
  const minutes = waiting.reduce((sum, r) => sum + r.waitingMs, 0);
  const toGive = own.filter(r => r.counts.marked > 0);
  const toAnswer = own.filter(r => r.counts.repliesWait > 0);
  const now = new Date().toISOString();
  const coming = data
    .filter(r => r.dueAt > now && r.opensAt <= now && !r.hidden)
    .sort((a, b) => a.dueAt.localeCompare(b.dueAt));
  if (data.length === 0)
    return (
      <Empty
        title={`Good to have you here, ${me.displayName}.`}
        action={
          <Button
            look="main"
            disabled={made.isLoading}
            onClick={() =>
              void make(blankContent('homework', { items: [newItem('homework')] }))
                .unwrap()
                .then(
                  a => navigate(`/set/${a.id}`),
                  () => navigate('/set'),
                )
            }
          >
            Set a first assessment
          </Button>
        }
      >
        Nothing is released yet. Set an assessment, release it to a class, and what your students record will
        wait for you here.
      </Empty>
    );
  return (
    <div className="grid grid-cols-1 gap-10">
      <section>
        <h1 className="text-3xl">
          {own.length === 0
            ? 'You plan for others: their teachers hear what is recorded.'
            : waiting.length === 0
              ? 'Nothing waits to be heard.'
              : minutes > 0
                ? `${capital(inWords(minutes))} to listen to`
                : 'All is heard; something is still to be scored.'}
        </h1>
        {waiting.length > 0 && (
          <ul className="mt-5 grid gap-px bg-line">
            {waiting.map(r => (
              <li
                key={r.id}
                className="grid items-center gap-x-6 gap-y-2 bg-sheet px-5 py-4 sm:grid-cols-[7rem_minmax(0,1fr)_minmax(8rem,16rem)_auto]"
              >
                <span className="tabular text-2xl">{clock(r.waitingMs)}</span>
                <span className="min-w-0">
                  <span className="block text-lg font-semibold">{r.title}</span>
                  <span className="text-soft">
                    {r.className} · {r.waitingSittings}{' '}
                    {r.waitingSittings === 1 ? 'sitting waits' : 'sittings wait'}
                    {r.counts.late > 0 && ` · ${r.counts.late} late`}
                  </span>
                </span>
                <SmallStrip items={r.outline.items} />
                <ButtonLink look="main" to={`/listen/${r.id}`} {...ahead(r.id)}>
                  Listen
                </ButtonLink>
              </li>
            ))}
          </ul>
        )}
      </section>
      <div className={`grid gap-10 ${toAnswer.length > 0 ? 'md:grid-cols-3' : 'md:grid-cols-2'}`}>
        {toAnswer.length > 0 && (
          <section>
            <h2 className="text-xl">Students have answered you</h2>
            <ul className="mt-3 divide-y divide-line">
              {toAnswer.map(r => (
                <li key={r.id} className="flex flex-wrap items-baseline gap-x-4 py-3">
                  <Link
                    to={`/listen/${r.id}?show=replies`}
                    className="font-semibold underline underline-offset-4"
                  >
                    {r.title}
                  </Link>
                  <span className="ms-auto">
                    {r.counts.repliesWait === 1
                      ? '1 waits for your reply'
                      : `${r.counts.repliesWait} wait for your reply`}
                  </span>
                </li>
              ))}
            </ul>
          </section>
        )}
        <section>
          <h2 className="text-xl">Due</h2>
          {coming.length === 0 && <p className="mt-2 text-soft">Nothing is due.</p>}
          <ul className="mt-3 divide-y divide-line">
            {coming.map(r => (
              <li key={r.id} className="flex flex-wrap items-baseline gap-x-4 py-3">
                <Link to={`/release/${r.id}`} className="font-semibold underline underline-offset-4">
                  {r.title}
                </Link>
                <span className="text-soft">{when(r.dueAt)}</span>
                <span className="ms-auto">
                  {handedInOf(r.counts)} of {r.counts.students} handed in
                </span>
              </li>
            ))}
          </ul>
        </section>
        <section>
          <h2 className="text-xl">Marked, feedback to give</h2>
          {toGive.length === 0 && <p className="mt-2 text-soft">Nobody waits for feedback.</p>}
          <ul className="mt-3 divide-y divide-line">
            {toGive.map(r => (
              <li key={r.id} className="flex flex-wrap items-baseline gap-x-4 py-3">
                <Link to={`/listen/${r.id}`} className="font-semibold underline underline-offset-4">
                  {r.title}
                </Link>
                <span className="ms-auto">
                  {r.counts.marked} {r.counts.marked === 1 ? 'student waits' : 'students wait'}
                </span>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </div>
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
