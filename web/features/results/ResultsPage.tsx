import { Link } from 'react-router';
import type { ResultsClass } from '@ecoute/contract/results';
import { useTitle } from '../../base/useTitle';
import { ButtonLink } from '../../parts/Button';
import { counted } from '../../parts/counted';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { useResultsClassesQuery } from './endpoints';

/** What somebody who does not teach the class is told of it. */
const SEEN = {
  nobody: 'its teachers have not opened its figures to coordinators',
  class: 'figures of the class as a whole',
  students: 'each student’s scores',
};

function Entry({ room }: { room: ResultsClass }) {
  const isShut = !room.teaches && room.figuresFor === 'nobody';
  const words = (
    <>
      <span className="block text-lg font-semibold">{room.name}</span>
      <span className="text-sm text-soft">
        {counted(room.students, 'student')} · {counted(room.releases, 'assessment')}
        {!room.teaches && ` · ${SEEN[room.figuresFor]}`}
      </span>
    </>
  );
  if (isShut) return <div className="bg-sheet px-5 py-4">{words}</div>;
  return (
    <Link to={`/results/${room.id}`} className="block bg-sheet px-5 py-4 hover:bg-sunk">
      {words}
    </Link>
  );
}

/** The classes whose results one sees. */
export function ResultsPage() {
  useTitle('Results');
  const { data, error, refetch } = useResultsClassesQuery();
  return (
    <section>
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <h1 className="text-3xl">Results</h1>
        <Link to="/results/exports" className="flex min-h-11 items-center underline underline-offset-4">
          Exports
        </Link>
      </div>
      <p className="mt-1 max-w-prose text-soft">What all the listening adds up to, class by class.</p>
      <div className="mt-5">
        {!data ? (
          error ? (
            <Failed error={error} again={() => void refetch()} />
          ) : (
            <Loading height={76} />
          )
        ) : data.length === 0 ? (
          <Empty
            title="No class yet"
            action={
              <ButtonLink look="main" to="/classes">
                Make a class
              </ButtonLink>
            }
          >
            As soon as a class has been given an assessment, its markbook is here.
          </Empty>
        ) : (
          <ul className="grid gap-px bg-line">
            {data.map(room => (
              <li key={room.id}>
                <Entry room={room} />
              </li>
            ))}
          </ul>
        )}
      </div>
    </section>
  );
}
