import { Plus } from 'lucide-react';
import { useCallback, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { pointsText } from '@ecoute/core/scoring/points';
import { reachable } from '@ecoute/core/scoring/scheme';
import type { AssessmentDraft } from '@ecoute/contract/assessments';
import { planOf, talkOf } from '@ecoute/contract/assessment/discussion';
import { carriedPoints } from '@ecoute/contract/assessment/points';
import { releaseProblems } from '@ecoute/contract/assessment/problems';
import { useTitle } from '../../base/useTitle';
import { Button, buttonClass } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { Strip, StripLegend } from '../../parts/strip/Strip';
import {
  untouched,
  duplicated,
  moved,
  unlike,
  withAnother,
  withItem,
  withPlan,
  withoutItem,
  withoutSection,
  withSetting,
  withSectionAt,
  withStartingPoint,
  withTaken,
} from './draft';
import type { KeptState } from '../../base/kept/kept';
import { Foresight } from './whole/Foresight';
import { ItemBank } from './items/ItemBank';
import { ItemEditor } from './items/ItemEditor';
import { ItemList } from './items/ItemList';
import { useArrivedVoices } from './items/useArrivedVoices';
import { SeveralItems } from './items/SeveralItems';
import { DiscussionEditor } from './discussion/DiscussionEditor';
import { PagesIn } from './material/PagesIn';
import { RichEditor } from './material/RichEditor';
import { ScoringEditor } from './scoring/ScoringEditor';
import { StartingPoints } from './shelf/StartingPoints';
import { VoiceSlot } from './items/VoiceSlot';
import { WholeEditor } from './whole/WholeEditor';
import { useAssessmentQuery, usePutAwayMutation } from './endpoints';
import { StepsBack } from './steps/StepsBack';
import { useSteps } from './steps/useSteps';
import { useAutosave } from './useAutosave';

const SAVED: Record<KeptState, string> = {
  still: 'Everything is saved',
  saved: 'Everything is saved',
  changed: 'Saving in a moment …',
  saving: 'Saving …',
  refused: 'Not saved: a marked field needs mending',
  away: 'Kept on this device; saved when Ecoute answers again',
  conflict: 'Changed in two places',
};

const CHANGED_SINCE =
  'This assessment was changed elsewhere after what this device kept. Look at both, then choose.';

function Editor({ stored }: { stored: AssessmentDraft }) {
  const saved = useAutosave(stored);
  const { content, state, fields, refusal, theirs, flush } = saved;
  const steps = useSteps(stored.id, content, saved.change);
  const { change } = steps;
  const [open, setOpen] = useState<string | null>(content.items[0]?.id ?? null);
  /** The item that was just added. */
  const [fresh, setFresh] = useState<string | null>(null);
  const [away, setAway] = useState(stored.away);
  const [putAway] = usePutAwayMutation();
  const [isNew] = useState(content.title === '');
  const isStored = state === 'still' || state === 'saved';
  const navigate = useNavigate();
  useTitle(content.title || 'New assessment');
  const onItsWay = useArrivedVoices(stored.id, content, change);
  const problems = [...releaseProblems(content), ...(onItsWay ? [onItsWay] : [])];
  const plan = planOf(content);
  const total = reachable(content.scoring.kind, carriedPoints(content));
  const toggle = useCallback((id: string) => setOpen(now => (now === id ? null : id)), []);
  const settle = (keep: 'here' | 'stored') => {
    if (keep === 'stored' && theirs) steps.forget(theirs);
    saved.settle(keep);
  };
  const add = () => {
    const { content: next, id } = withAnother(content);
    change(() => next);
    setOpen(id);
    setFresh(id);
  };
  const release = async () => {
    if (await flush()) await navigate(`/release/new?assessment=${stored.id}`);
  };
  const rehearse = async () => {
    if (await flush()) await navigate(`/set/${stored.id}/rehearsal`);
  };
  const problemsOf = (index: number) =>
    Object.fromEntries(
      Object.entries(fields).flatMap(([k, v]) =>
        k.startsWith(`items.${index}.`) ? [[k.split('.').slice(2).join('.'), v]] : [],
      ),
    );

  return (
    <div className="grid grid-cols-1 gap-5">
      {/* What is saved, the way back and the way on are in sight wherever one types; nothing else stands over it. */}
      <div
        data-stays-above
        className="z-20 -mx-4 flex flex-wrap items-center gap-x-5 gap-y-2 bg-ground px-4 py-2 sm:sticky sm:top-0"
      >
        <Link to="/set" className="text-soft underline underline-offset-4">
          Set
        </Link>
        <span role="status" className={`text-sm ${isStored ? 'text-soft' : ''}`}>
          {SAVED[state]}
        </span>
        <StepsBack steps={steps} />
        <span className="ms-auto flex flex-wrap items-center gap-4">
          {problems[0] && <span className="text-sm text-soft">{problems[0]}</span>}
          <a
            href={`/api/assessments/${stored.id}/package`}
            download
            className={buttonClass('quiet')}
            onClick={event => {
              // The package is made of what is stored.
              if (!isStored) event.preventDefault();
            }}
            aria-disabled={!isStored || undefined}
          >
            Package for colleagues
          </a>
          {!plan && (
            <Button disabled={content.items.length === 0} onClick={() => void rehearse()}>
              Try it as a student
            </Button>
          )}
          <Button look="main" disabled={problems.length > 0} onClick={() => void release()}>
            Release …
          </Button>
        </span>
      </div>
      {away && (
        <Notice
          action={
            <Button
              onClick={() =>
                void putAway({ id: stored.id, away: null })
                  .unwrap()
                  .then(
                    () => setAway(null),
                    () => undefined,
                  )
              }
            >
              Put it back
            </Button>
          }
        >
          {away === 'thrown'
            ? 'This is thrown away: it cannot be released, and goes for good thirty days after.'
            : 'This is put away: it is not on your shelf.'}
        </Notice>
      )}
      {stored.releases > 0 && (
        <p className="text-sm text-soft">
          Released {stored.releases === 1 ? 'once' : `${stored.releases} times`} already.{' '}
          {stored.following > 0
            ? `${stored.following === 1 ? 'One of them has' : `${stored.following} of them have`} not opened and ${stored.following === 1 ? 'follows' : 'follow'} what you change here, while nothing is missing. What is open stays as it is; nobody’s work changes.`
            : 'What you change here reaches later releases only; nobody’s work changes.'}
        </p>
      )}
      {state === 'conflict' && theirs && (
        <Notice
          kind="trouble"
          action={
            <span className="flex gap-3">
              <Button look="main" onClick={() => settle('here')}>
                Keep what is here
              </Button>
              <Button onClick={() => settle('stored')}>Take the other</Button>
            </span>
          }
        >
          {refusal?.message ?? CHANGED_SINCE}
          <ul className="mt-1 list-disc ps-6">
            {unlike(content, theirs).map(line => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </Notice>
      )}
      {state === 'away' && refusal && <Notice kind="offline">{refusal.message}</Notice>}
      {state === 'refused' && refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
      <div className="grid gap-4 lg:grid-cols-2">
        <div className="grid content-start gap-4 lg:pt-1">
          <Field label="Title" error={fields['title']}>
            {ties => (
              <input
                {...ties}
                autoFocus={isNew}
                value={content.title}
                onChange={e => change(c => ({ ...c, title: e.target.value }))}
                placeholder="What students will look for"
                className={`${inputClass} text-xl font-semibold`}
              />
            )}
          </Field>
          <StartingPoints content={content} onChoose={point => change(c => withStartingPoint(c, point))} />
        </div>
        <div className="grid content-start gap-2">
          <RichEditor
            assessmentId={stored.id}
            place={stored.id}
            label={plan ? 'What is expected' : 'Directions'}
            error={fields['directions'] ?? fields['directionsRich'] ?? null}
            placeholder={
              plan
                ? 'How people talk with each other here; stands above the discussion'
                : 'How to go about it; shown once, before the first item'
            }
            plain={content.directions}
            doc={content.directionsRich}
            onChange={({ plain, doc }) => change(c => ({ ...c, directions: plain, directionsRich: doc }))}
          />
          <VoiceSlot
            assessmentId={stored.id}
            place={stored.id}
            what={plan ? 'welcome' : 'directions'}
            title={plan ? 'Welcome' : 'Directions'}
            voice={content.directionsVoice}
            onChange={directionsVoice => change(c => ({ ...c, directionsVoice }))}
          />
        </div>
      </div>
      {plan && (
        <DiscussionEditor
          content={content}
          plan={plan}
          fields={fields}
          onPlan={changed => change(c => withPlan(c, changed))}
          onTalk={changed => change(c => withItem(c, talkOf(c)?.id ?? '', changed))}
        />
      )}
      <WholeEditor
        assessmentId={stored.id}
        content={content}
        fields={fields}
        onChange={changed => change(c => ({ ...c, ...changed }))}
      />
      <ScoringEditor
        assessmentId={stored.id}
        content={content}
        fields={fields}
        onChange={scoring => change(c => ({ ...c, scoring: { ...c.scoring, ...scoring } }))}
        onCarry={points => change(c => ({ ...c, items: c.items.map(i => ({ ...i, points })) }))}
      />
      <section aria-label="Strip" className="border-b border-line pb-2">
        {/* People talk over days: nothing of a discussion lies in the time of a sitting. */}
        {!plan && (
          <Strip
            items={content.items}
            current={open}
            onChoose={setOpen}
            onResize={(id, kind, ms) =>
              change(c => withItem(c, id, kind === 'prepare' ? { prepareMs: ms } : { answerLimitMs: ms }))
            }
          />
        )}
        <div className="mt-1 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1">
          {!plan && <StripLegend />}
          {total !== null && (
            <p className="text-sm">
              <strong>{pointsText(total)} points</strong> to reach
            </p>
          )}
        </div>
        {!plan && <Foresight content={content} />}
      </section>
      <ItemList
        content={content}
        open={open}
        onOpen={toggle}
        onClose={() => setOpen(null)}
        onMove={(id, overId) => change(c => moved(c, id, overId))}
        onSection={(id, changed) =>
          change(c => ({ ...c, sections: c.sections.map(s => (s.id === id ? { ...s, ...changed } : s)) }))
        }
        onDissolve={id => change(c => withoutSection(c, id))}
        editor={(item, index) => (
          <ItemEditor
            assessmentId={stored.id}
            item={item}
            point={content.startingPoint}
            scheme={content.scoring.kind}
            problems={problemsOf(index)}
            isFresh={item.id === fresh}
            onChange={changed => change(c => withItem(c, item.id, changed))}
            onRemove={() => {
              change(c => withoutItem(c, item.id));
              setOpen(null);
            }}
            onCopy={() => change(c => duplicated(c, item.id))}
            onSection={
              item.sectionId !== null && content.items[index - 1]?.sectionId !== item.sectionId
                ? undefined
                : () => change(c => withSectionAt(c, item.id))
            }
          />
        )}
      />
      <div className="flex flex-wrap gap-3">
        <Button onClick={add}>
          <Plus aria-hidden className="size-5" /> {plan ? 'Add a starting point' : 'Add an item'}
        </Button>
        {!plan && (
          <SeveralItems
            content={content}
            onSet={(ids, setting) => change(c => withSetting(c, ids, setting))}
          />
        )}
        <ItemBank
          assessmentId={stored.id}
          onTake={items => {
            change(c => withTaken(c, items));
            setOpen(items[0]?.id ?? null);
          }}
        />
        <PagesIn
          assessmentId={stored.id}
          content={content}
          onItems={items => {
            // A first item that nothing was put into makes way.
            change(c => ({ ...c, items: [...c.items.filter(i => i.id !== untouched(c)), ...items] }));
            setOpen(items[0]?.id ?? null);
          }}
        />
      </div>
    </div>
  );
}

export function EditorPage() {
  const { id = '' } = useParams();
  // A copy from before somebody else's save would be a false conflict: the editor opens on what is stored now.
  const { data, error, isLoading, isFetching, refetch } = useAssessmentQuery(id, {
    refetchOnMountOrArgChange: true,
    refetchOnFocus: false,
    refetchOnReconnect: false,
  });
  if (isLoading || (!data && isFetching)) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  return <Editor key={data.id} stored={data} />;
}
