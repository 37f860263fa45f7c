import { useEffect, useState } from 'react';
import { useParams } from 'react-router';
import { useMe } from '../../../base/useMe';
import { useTitle } from '../../../base/useTitle';
import { Button, ButtonLink } from '../../../parts/Button';
import { counted } from '../../../parts/counted';
import { Empty } from '../../../parts/Empty';
import { Failed, Loading } from '../../../parts/Loading';
import { useResultsClassesQuery } from '../endpoints';
import { ResultsHead } from '../ResultsHead';
import { Difference } from './Difference';
import { useAtSchoolQuery } from './endpoints';
import { Handings } from './Handings';
import { WhichClass } from './WhichClass';
import { WhoIsWho } from './WhoIsWho';

/** While something is being handed over it is asked after so often. */
const ASK_MS = 1_000;

/** Handing a class's scores over to the school's own system: which class, who is who, what would be sent, what was. */
export function HandOverPage() {
  const { id } = useParams();
  const classId = id!;
  const me = useMe();
  const { data: classes } = useResultsClassesQuery();
  const [isAsking, setAsking] = useState(false);
  const { currentData, error, refetch } = useAtSchoolQuery(classId, {
    refetchOnMountOrArgChange: true,
    pollingInterval: isAsking ? ASK_MS : 0,
  });
  const isUnderWay = currentData?.handings.some(h => h.state === 'waiting' || h.state === 'running') ?? false;
  useEffect(() => setAsking(isUnderWay), [isUnderWay]);
  /** What is changed by hand: which class, or who is who. */
  const [changes, setChanges] = useState<'class' | 'people' | null>(null);
  /** Each time something has ended there is another difference. */
  const ended = currentData?.handings.filter(h => h.endedAt !== null).length ?? 0;
  const name = classes?.find(c => c.id === classId)?.name ?? 'Results';
  useTitle(`Hand over, ${name}`);
  const at = currentData;
  return (
    <section>
      <ResultsHead classId={classId} className={name} teaches />
      <div className="mt-5 grid gap-8">
        {!at ? (
          error ? (
            <Failed error={error} again={() => void refetch()} />
          ) : (
            <Loading height={60} />
          )
        ) : !at.isSetUp ? (
          <Empty
            title="No school system is set up"
            action={me.isAdmin ? <ButtonLink to="/administration">To Administration</ButtonLink> : undefined}
          >
            Scores can be handed over to the school’s own system, if it speaks OneRoster 1.2. An administrator
            of this Ecoute says where it is, under Administration. Until then, the gradebook can be taken
            along as a file: Markbook, Take it along.
          </Empty>
        ) : at.linked === null || changes === 'class' ? (
          <section aria-labelledby="which">
            <h2 id="which" className="mb-2 text-xl">
              Which class it is
            </h2>
            <WhichClass classId={classId} onDone={() => setChanges('people')} />
          </section>
        ) : changes === 'people' || at.matched === 0 ? (
          <section aria-labelledby="who">
            <h2 id="who" className="mb-2 text-xl">
              Who is who in “{at.linked.title}”
            </h2>
            <WhoIsWho classId={classId} onDone={() => setChanges(null)} />
          </section>
        ) : (
          <>
            <p className="flex flex-wrap items-center gap-x-4">
              <span>
                It is “{at.linked.title}” at the school, with {counted(at.matched, 'student')} matched
                {at.unmatched.length > 0 && `, ${at.unmatched.length} not`}.
              </span>
              <Button look="quiet" disabled={isUnderWay} onClick={() => setChanges('people')}>
                Who is who …
              </Button>
              <Button look="quiet" disabled={isUnderWay} onClick={() => setChanges('class')}>
                Another class …
              </Button>
            </p>
            <section aria-labelledby="difference">
              <h2 id="difference" className="mb-2 text-xl">
                What would be sent
              </h2>
              <Difference key={ended} classId={classId} isUnderWay={isUnderWay} />
            </section>
            <section aria-labelledby="handed">
              <h2 id="handed" className="mb-2 text-xl">
                What was handed over
              </h2>
              <Handings classId={classId} handings={at.handings} />
            </section>
          </>
        )}
        {at?.isSimulated && (
          <p className="text-sm text-soft">
            In the demo this is a simulated school system.{' '}
            <a
              href="/school-system"
              target="_blank"
              rel="noreferrer"
              className="underline underline-offset-4"
            >
              Look at what it has
            </a>
            , and make it slow or broken.
          </p>
        )}
      </div>
    </section>
  );
}
