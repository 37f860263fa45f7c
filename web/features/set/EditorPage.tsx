import { Plus, Undo2 } from 'lucide-react';
import { useCallback, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { pointsText } from '@ecoute/core/scoring/points';
import { reachable } from '@ecoute/core/scoring/scheme';
import type { AssessmentContent, AssessmentDraft } from '@ecoute/contract/assessments';
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
  withItemBack,
  withPoliciesBack,
  withSectionBack,
  withItem,
  withoutItem,
  withoutSection,
  withSectionAt,
  withStartingPoint,
} from './draft';
import type { KeptState } from '../../base/kept/kept';
import { Foresight } from './whole/Foresight';
import { ItemBank } from './items/ItemBank';
import { ItemEditor } from './items/ItemEditor';
import { ItemList } from './items/ItemList';
import { PagesIn } from './material/PagesIn';
import { POINT_WORDS } from './whole/policyWords';
import { RichEditor } from './material/RichEditor';
import { ScoringEditor } from './scoring/ScoringEditor';
import { StartingPoints } from './shelf/StartingPoints';
import { WholeEditor } from './whole/WholeEditor';
import { useAssessmentQuery } from './endpoints';
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

type Change = (content: AssessmentContent) => AssessmentContent;

function Editor({ stored }: { stored: AssessmentDraft }) {
  const { content, change, state, fields, refusal, theirs, settle, flush } = useAutosave(stored);
  const [open, setOpen] = useState<string | null>(content.items[0]?.id ?? null);
  /** The way back from the last large step; it takes back that step alone, not what was typed since. */
  const [undo, setUndo] = useState<{ words: string; back: Change } | null>(null);
  const isStored = state === 'still' || state === 'saved';
  const navigate = useNavigate();
  useTitle(content.title || 'New assessment');
  const problems = releaseProblems(content);
  const total = reachable(content.scoring.kind, carriedPoints(content));
  const toggle = useCallback((id: string) => setOpen(now => (now === id ? null : id)), []);
  /** A step that can be taken back. */
  const step = (words: string, next: Change, back: Change) => {
    setUndo({ words, back });
    change(next);
  };
  const add = () => {
    const { content: next, id } = withAnother(content);
    change(() => next);
    setOpen(id);
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
      <div className="flex flex-wrap items-center gap-x-5 gap-y-3">
        <Link to="/set" className="text-soft underline underline-offset-4">
          Set
        </Link>
        <span role="status" className={`text-sm ${isStored ? 'text-soft' : ''}`}>
          {SAVED[state]}
        </span>
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
          <Button disabled={content.items.length === 0} onClick={() => void rehearse()}>
            Try it as a student
          </Button>
          <Button look="main" disabled={problems.length > 0} onClick={() => void release()}>
            Release …
          </Button>
        </span>
      </div>
      {stored.releases > 0 && (
        <p className="text-sm text-soft">
          Released {stored.releases === 1 ? 'once' : `${stored.releases} times`} already. What you change here
          reaches later releases only; nobody’s work changes.
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
        <Field label="Title" error={fields['title']}>
          {ties => (
            <input
              {...ties}
              value={content.title}
              onChange={e => change(c => ({ ...c, title: e.target.value }))}
              placeholder="What students will look for"
              className={`${inputClass} text-xl font-semibold`}
            />
          )}
        </Field>
        <RichEditor
          assessmentId={stored.id}
          place={stored.id}
          label="Directions"
          error={fields['directions'] ?? fields['directionsRich'] ?? null}
          placeholder="How to go about it; shown once, before the first item"
          plain={content.directions}
          doc={content.directionsRich}
          onChange={({ plain, doc }) => change(c => ({ ...c, directions: plain, directionsRich: doc }))}
        />
      </div>
      <StartingPoints
        content={content}
        onChoose={point =>
          step(
            `Back to ${POINT_WORDS[content.startingPoint].name.toLowerCase()} as it was`,
            c => withStartingPoint(c, point),
            c => withPoliciesBack(c, content),
          )
        }
      />
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
        onCarry={points =>
          step(
            'Points of the items as they were',
            c => ({ ...c, items: c.items.map(i => ({ ...i, points })) }),
            c => ({
              ...c,
              items: c.items.map(i => ({
                ...i,
                points: content.items.find(o => o.id === i.id)?.points ?? i.points,
              })),
            }),
          )
        }
      />
      <section aria-label="Strip" className="sticky top-0 z-20 border-b border-line bg-ground pt-1 pb-2">
        <Strip
          items={content.items}
          current={open}
          onChoose={setOpen}
          onResize={(id, kind, ms) =>
            change(c => withItem(c, id, kind === 'prepare' ? { prepareMs: ms } : { answerLimitMs: ms }))
          }
        />
        <div className="mt-1 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1">
          <StripLegend />
          {undo && (
            <button
              type="button"
              className="inline-flex min-h-8 items-center gap-2 border-2 border-edge bg-sheet px-3 text-sm font-semibold"
              onClick={() => {
                change(undo.back);
                setUndo(null);
              }}
            >
              <Undo2 aria-hidden className="size-4" /> {undo.words}
            </button>
          )}
          {total !== null && (
            <p className="text-sm">
              <strong>{pointsText(total)} points</strong> to reach
            </p>
          )}
        </div>
        <Foresight content={content} />
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
        onDissolve={id =>
          step(
            'Put the section back',
            c => withoutSection(c, id),
            c => withSectionBack(c, content, id),
          )
        }
        editor={(item, index) => (
          <ItemEditor
            assessmentId={stored.id}
            item={item}
            point={content.startingPoint}
            scheme={content.scoring.kind}
            problems={problemsOf(index)}
            onChange={changed => change(c => withItem(c, item.id, changed))}
            onRemove={() => {
              step(
                'Put the item back',
                c => withoutItem(c, item.id),
                c => withItemBack(c, content, item.id),
              );
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
          <Plus aria-hidden className="size-5" /> Add an item
        </Button>
        <ItemBank
          assessmentId={stored.id}
          onTake={items => {
            change(c => ({ ...c, items: [...c.items, ...items] }));
            setOpen(items[0]?.id ?? null);
          }}
        />
        <PagesIn
          assessmentId={stored.id}
          point={content.startingPoint}
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
