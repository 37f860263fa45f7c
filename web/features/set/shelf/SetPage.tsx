import { useEffect, useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import type { AssessmentSummary, Away } from '@ecoute/contract/assessments';
import { blankContent } from '@ecoute/contract/blank';
import { refusalOf } from '../../../base/api';
import { useTitle } from '../../../base/useTitle';
import { Button } from '../../../parts/Button';
import { Empty } from '../../../parts/Empty';
import { Field, inputClass } from '../../../parts/Field';
import { Failed, Loading } from '../../../parts/Loading';
import { Notice } from '../../../parts/Notice';
import { StripLegend } from '../../../parts/strip/Strip';
import { when } from '../../../parts/when';
import {
  useAssessmentsQuery,
  useCopyAssessmentMutation,
  useKeepAsTemplateMutation,
  useMakeAssessmentMutation,
  usePutAwayAssessmentsQuery,
  usePutAwayMutation,
  useShelfQuery,
} from '../endpoints';
import { newItem } from '../draft';
import { plain } from '../items/itemSearch';
import { PackageIn } from './PackageIn';
import { PutAway } from './PutAway';
import { ShareDialog } from './ShareDialog';
import { ShelfRow } from './ShelfRow';

function Shelf({ title, children }: { title?: string; children: ReactNode }) {
  return (
    <section aria-label={title ?? 'Your assessments'} className="mt-6">
      {title && <h2 className="mb-2 text-xl">{title}</h2>}
      <ul className="grid grid-cols-1 gap-px bg-line">{children}</ul>
    </section>
  );
}

function released(count: number): string {
  return count === 0 ? 'a draft' : count === 1 ? 'released once' : `released ${count} times`;
}

/** A list that comes as long as this is cut there. */
const LISTED = 200;
const WORTH_SEARCHING = 8;
/** Not while the list is being drawn. */
const EDITOR_FETCHED_AFTER_MS = 250;

/** The shelf: templates, what a teacher has set (last changed first), and what colleagues show them. */
export function SetPage() {
  useTitle('Set');
  const fresh = { refetchOnMountOrArgChange: true };
  const [find, setFind] = useState('');
  const whole = useAssessmentsQuery(undefined, fresh);
  const isFull = (whole.data?.length ?? 0) >= LISTED;
  // A shelf that does not come whole is looked through by the server, any other one here, with each letter.
  const asked = isFull && find.trim() ? find.trim() : undefined;
  const { data, error, isLoading, refetch } = useAssessmentsQuery(asked, fresh);
  const { data: away = [] } = usePutAwayAssessmentsQuery(undefined, fresh);
  const [putAway, putting] = usePutAwayMutation();
  const [gone, setGone] = useState<{ id: string; words: string } | null>(null);
  const { data: shelf = [] } = useShelfQuery(undefined, fresh);
  useEffect(() => {
    if (!data) return;
    // The way from here leads into the editor: it is fetched while somebody looks.
    const soon = setTimeout(
      () => void import('../EditorPage').catch(() => undefined),
      EDITOR_FETCHED_AFTER_MS,
    );
    return () => clearTimeout(soon);
  }, [data]);
  const [make, made] = useMakeAssessmentMutation();
  const [copy, copied] = useCopyAssessmentMutation();
  const [keepAsTemplate] = useKeepAsTemplateMutation();
  const [sharing, setSharing] = useState<AssessmentSummary | null>(null);
  const navigate = useNavigate();
  const open = (making: Promise<{ id: string }>) =>
    void making.then(
      a => navigate(`/set/${a.id}`),
      () => undefined,
    );
  const begin = () => open(make(blankContent('homework', { items: [newItem('homework')] })).unwrap());
  const copyOf = (id: string) => open(copy(id).unwrap());
  const busy = made.isLoading || copied.isLoading;
  const refusal = refusalOf(made.error) ?? refusalOf(copied.error) ?? refusalOf(putting.error);
  const sought = (a: AssessmentSummary) =>
    !find.trim() ||
    plain([a.content.title, ...a.content.items.map(i => i.promptText)].join(' ')).includes(
      plain(find.trim()),
    );
  const own = (data ?? []).filter(a => !a.isTemplate && sought(a));
  const templates = [
    ...(data ?? []).filter(a => a.isTemplate && sought(a)).map(a => ({ a, from: 'yours' })),
    ...shelf
      .filter(a => a.isTemplate && sought(a))
      .map(a => ({ a, from: `${a.ownerName}, ${a.departmentName}` })),
  ];
  const colleagues = shelf.filter(a => !a.isTemplate && sought(a));
  const titleOf = (a: AssessmentSummary) => a.content.title.trim() || 'Without a title';
  const take = (a: AssessmentSummary, to: Away) =>
    void putAway({ id: a.id, away: to })
      .unwrap()
      .then(
        () =>
          setGone({
            id: a.id,
            words:
              to === 'kept'
                ? `“${titleOf(a)}” is put away. What is released from it goes on.`
                : `“${titleOf(a)}” is thrown away. For thirty days it is found below, under Put away.`,
          }),
        () => undefined,
      );
  const actions = (a: AssessmentSummary) => [
    {
      name: a.isTemplate ? 'No template any more' : 'Keep as a template',
      onChoose: () => void keepAsTemplate({ id: a.id, isTemplate: !a.isTemplate }),
    },
    { name: 'Show it to colleagues …', onChoose: () => setSharing(a) },
    { name: 'Put it away', onChoose: () => take(a, 'kept') },
    ...(a.releases === 0 ? [{ name: 'Throw this draft away', onChoose: () => take(a, 'thrown') }] : []),
  ];
  const add = (
    <Button look="main" onClick={begin} disabled={busy}>
      Set a new assessment
    </Button>
  );
  return (
    <section>
      <div className="flex flex-wrap items-center gap-4">
        <h1 className="text-3xl">Set</h1>
        {data && (
          <>
            <span className="ms-auto" />
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
      {isLoading ? (
        <div className="mt-5">
          <Loading height={76} />
        </div>
      ) : !data ? (
        <div className="mt-5">
          <Failed error={error} again={() => void refetch()} />
        </div>
      ) : (
        <>
          {gone && (
            <div className="mt-4">
              <Notice
                action={
                  <Button
                    onClick={() => {
                      void putAway({ id: gone.id, away: null });
                      setGone(null);
                    }}
                  >
                    Undo
                  </Button>
                }
              >
                {gone.words}
              </Notice>
            </div>
          )}
          {(find !== '' || data.length + shelf.length >= WORTH_SEARCHING) && (
            <Field label="Find by title or prompt" className="mt-4 max-w-md">
              {ties => (
                <input
                  {...ties}
                  type="search"
                  value={find}
                  onChange={e => setFind(e.target.value)}
                  className={inputClass}
                />
              )}
            </Field>
          )}
          {find.trim() && own.length + templates.length + colleagues.length === 0 && (
            <p className="mt-4 text-soft" role="status">
              Nothing on the shelf holds these words. Try fewer, or look under Put away.
            </p>
          )}
          {data.length === 0 && !find.trim() && (
            <div className="mt-5">
              <Empty title="Nothing set yet" action={add}>
                An assessment is a row of prompts and answers in time. Write or speak a prompt, say how long
                an answer may last, and it is ready to release.
              </Empty>
            </div>
          )}
          {own.length > 0 && (
            <Shelf>
              {own.map(a => (
                <ShelfRow
                  key={a.id}
                  assessment={a}
                  under={`${released(a.releases)} · changed ${when(a.updatedAt)}`}
                  to={`/set/${a.id}`}
                  copyName="Copy"
                  busy={busy}
                  onCopy={() => copyOf(a.id)}
                  actions={actions(a)}
                />
              ))}
            </Shelf>
          )}
          {templates.length > 0 && (
            <Shelf title="Templates">
              {templates.map(({ a, from }) => (
                <ShelfRow
                  key={a.id}
                  assessment={a}
                  under={from}
                  to={from === 'yours' ? `/set/${a.id}` : null}
                  copyName="Begin with a copy of"
                  busy={busy}
                  onCopy={() => copyOf(a.id)}
                  actions={from === 'yours' ? actions(a) : []}
                />
              ))}
            </Shelf>
          )}
          {colleagues.length > 0 && (
            <Shelf title="From colleagues">
              {colleagues.map(a => (
                <ShelfRow
                  key={a.id}
                  assessment={a}
                  under={`${a.ownerName}, ${a.departmentName}${a.edits ? ' · you may change it' : ''}`}
                  to={a.edits ? `/set/${a.id}` : null}
                  copyName="Take a copy of"
                  busy={busy}
                  onCopy={() => copyOf(a.id)}
                />
              ))}
            </Shelf>
          )}
          {data.length > 0 && (
            <div className="mt-4">
              <StripLegend />
            </div>
          )}
          <PutAway assessments={away} onBack={id => void putAway({ id, away: null })} />
        </>
      )}
      {sharing && (
        <ShareDialog
          assessmentId={sharing.id}
          title={sharing.content.title.trim() || 'Without a title'}
          onClose={() => setSharing(null)}
        />
      )}
    </section>
  );
}
