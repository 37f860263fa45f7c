import { Copy } from 'lucide-react';
import { useNavigate, Link } from 'react-router';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { blankContent } from '@ecoute/contract/blank';
import { stripOf } from '@ecoute/core/timing/strip';
import { inWords } from '@ecoute/core/timing/words';
import { refusalOf } from '../../app/api';
import { useTitle } from '../../app/useTitle';
import { Button } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { SmallStrip, StripLegend } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { useAssessmentsQuery, useMakeAssessmentMutation } from './endpoints';
import { newItem } from './draft';
import { PackageIn } from './PackageIn';

/** The shelf: what a teacher has set, last changed first. */
export function SetPage() {
  useTitle('Set');
  const { data, error, isLoading, refetch } = useAssessmentsQuery(undefined, {
    refetchOnMountOrArgChange: true,
  });
  const [make, made] = useMakeAssessmentMutation();
  const navigate = useNavigate();
  const begin = () =>
    make(blankContent('homework', { items: [newItem('homework')] }))
      .unwrap()
      .then(
        a => navigate(`/set/${a.id}`),
        () => undefined,
      );
  const copy = (content: AssessmentContent) =>
    make({
      ...content,
      title: `${content.title.trim() || 'Without a title'}, a copy`.slice(0, LIMITS.title),
      items: content.items.map(i => ({ ...i, id: crypto.randomUUID() })),
    })
      .unwrap()
      .then(
        a => navigate(`/set/${a.id}`),
        () => undefined,
      );
  const refusal = refusalOf(made.error);
  const add = (
    <Button look="main" onClick={() => void begin()} disabled={made.isLoading}>
      Set a new assessment
    </Button>
  );
  return (
    <section>
      <div className="flex flex-wrap items-center gap-4">
        <h1 className="text-3xl">Set</h1>
        {data && (
          <>
            <span className="ml-auto" />
            <PackageIn />
            {data.length > 0 && add}
          </>
        )}
      </div>
      {refusal && (
        <div className="mt-4">
          <Notice kind="trouble">{refusal.message}</Notice>
        </div>
      )}
      <div className="mt-5">
        {isLoading ? (
          <Loading height={76} />
        ) : !data ? (
          <Failed error={error} again={() => void refetch()} />
        ) : data.length === 0 ? (
          <Empty title="Nothing set yet" action={add}>
            An assessment is a row of prompts and answers in time. Write or speak a prompt, say how long an
            answer may last, and it is ready to release.
          </Empty>
        ) : (
          <>
            <ul className="grid grid-cols-1 gap-px bg-line">
              {data.map(a => {
                const strip = stripOf(a.content.items);
                return (
                  <li key={a.id} className="flex items-stretch bg-sheet">
                    <Link
                      to={`/set/${a.id}`}
                      className="grid min-w-0 flex-1 items-center gap-x-6 gap-y-2 px-5 py-4 hover:bg-sunk sm:grid-cols-[minmax(0,1.2fr)_minmax(8rem,1fr)_12rem]"
                    >
                      <span className="min-w-0">
                        <span className="block text-lg font-semibold">
                          {a.content.title.trim() || 'Without a title'}
                        </span>
                        <span className="text-sm text-soft">
                          {a.releases === 0
                            ? 'a draft'
                            : a.releases === 1
                              ? 'released once'
                              : `released ${a.releases} times`}{' '}
                          · changed {when(a.updatedAt)}
                        </span>
                      </span>
                      <SmallStrip items={a.content.items} />
                      <span className="text-sm sm:text-right">
                        {a.content.items.length} {a.content.items.length === 1 ? 'item' : 'items'},{' '}
                        {inWords(strip.lengthMs)}
                      </span>
                    </Link>
                    <button
                      type="button"
                      aria-label={`Copy ${a.content.title.trim() || 'the unnamed draft'}`}
                      title="Copy"
                      disabled={made.isLoading}
                      onClick={() => void copy(a.content)}
                      className="grid w-14 shrink-0 place-items-center border-l border-line hover:bg-sunk"
                    >
                      <Copy aria-hidden className="size-5" />
                    </button>
                  </li>
                );
              })}
            </ul>
            <div className="mt-4">
              <StripLegend />
            </div>
          </>
        )}
      </div>
    </section>
  );
}
