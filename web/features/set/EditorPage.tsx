import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  MeasuringStrategy,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical, Plus, Undo2 } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { promptMs, stripOf } from '@ecoute/core/timing/strip';
import { clock, inWords } from '@ecoute/core/timing/words';
import {
  releaseProblems,
  type AssessmentContent,
  type AssessmentDraft,
  type Item,
} from '@ecoute/contract/assessments';
import { useTitle } from '../../app/useTitle';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { Strip, StripLegend } from '../../parts/strip/Strip';
import { duplicated, newItem, withItem } from './draft';
import { ItemEditor } from './ItemEditor';
import { useAssessmentQuery } from './endpoints';
import { useAutosave, type SaveState } from './useAutosave';

const SAVED: Record<SaveState, string> = {
  saved: 'Everything is saved',
  changed: 'Saving in a moment …',
  saving: 'Saving …',
  invalid: 'Not saved: a marked field needs mending',
  offline: 'Kept on this device; saved when Ecoute answers again',
  conflict: 'Changed in two places',
};

function ItemRow({
  item,
  index,
  open,
  onOpen,
  children,
}: {
  item: Item;
  index: number;
  open: boolean;
  onOpen: () => void;
  children: React.ReactNode;
}) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: item.id,
  });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      className={`bg-sheet ${isDragging ? 'relative z-10 outline-2 outline-ink' : ''}`}
    >
      <div className="flex items-stretch">
        <button
          type="button"
          {...attributes}
          {...listeners}
          aria-label={`Move item ${index + 1}`}
          className="grid w-11 shrink-0 touch-none place-items-center text-soft"
        >
          <GripVertical aria-hidden className="size-5" />
        </button>
        <button
          type="button"
          aria-expanded={open}
          onClick={onOpen}
          className="flex min-h-14 min-w-0 flex-1 flex-wrap items-center gap-x-4 py-2 pr-5 text-left"
        >
          <span className="text-lg font-semibold">{index + 1}</span>
          <span
            className={`min-w-0 flex-1 basis-40 truncate ${item.promptText ? 'font-passage' : 'text-soft'}`}
          >
            {item.promptText || (item.promptRecordingId ? 'spoken prompt' : 'no prompt yet')}
          </span>
          <span className="tabular text-sm text-soft">
            {clock(promptMs(item))} – {clock(item.prepareMs)} – {clock(item.answerLimitMs)}
          </span>
          <span className="tabular w-20 text-right text-sm">{pointsText(toHundredths(item.points))} pts</span>
        </button>
      </div>
      {open && children}
    </li>
  );
}

function Editor({ stored }: { stored: AssessmentDraft }) {
  const { content, change, state, fields, refusal, settle, flush } = useAutosave(stored);
  const [open, setOpen] = useState<string | null>(content.items[0]?.id ?? null);
  const [removed, setRemoved] = useState<AssessmentContent | null>(null);
  const navigate = useNavigate();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  useTitle(content.title || 'New assessment');
  const strip = stripOf(content.items);
  const problems = releaseProblems(content);
  const total = content.items.reduce((sum, i) => sum + toHundredths(i.points), 0);

  const place = (id: UniqueIdentifier) => content.items.findIndex(i => i.id === id) + 1;
  const moved = ({ active, over }: DragEndEvent) => {
    if (!over || over.id === active.id) return;
    change(c => {
      const at = (id: unknown) => c.items.findIndex(i => i.id === id);
      return { ...c, items: arrayMove(c.items, at(active.id), at(over.id)) };
    });
  };
  const add = () => {
    const last = content.items.at(-1);
    const item = {
      ...newItem(),
      ...(last && {
        prepareMs: last.prepareMs,
        answerLimitMs: last.answerLimitMs,
        takesAllowed: last.takesAllowed,
        points: last.points,
      }),
    };
    change(c => ({ ...c, items: [...c.items, item] }));
    setOpen(item.id);
  };
  const remove = (id: string) => {
    setRemoved(content);
    change(c => ({ ...c, items: c.items.filter(i => i.id !== id) }));
    setOpen(null);
  };
  const release = async () => {
    if (await flush()) await navigate(`/release/new?assessment=${stored.id}`);
  };

  return (
    <div className="grid grid-cols-1 gap-6">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-3">
        <Link to="/set" className="text-soft underline underline-offset-4">
          Set
        </Link>
        <span role="status" className={`text-sm ${state === 'saved' ? 'text-soft' : ''}`}>
          {SAVED[state]}
        </span>
        <span className="ml-auto flex flex-wrap items-center gap-4">
          {problems[0] && <span className="text-sm text-soft">{problems[0]}</span>}
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
      {state === 'conflict' && refusal && (
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
          {refusal.message}
        </Notice>
      )}
      {state === 'offline' && refusal && <Notice kind="offline">{refusal.message}</Notice>}
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
        <Field label="Directions" error={fields['directions']}>
          {ties => (
            <textarea
              {...ties}
              rows={2}
              value={content.directions}
              onChange={e => change(c => ({ ...c, directions: e.target.value }))}
              placeholder="How to go about it; shown once, before the first item"
              className={inputClass}
            />
          )}
        </Field>
      </div>
      <section aria-label="Strip" className="sticky top-0 z-20 border-b border-line bg-ground pt-1 pb-2">
        <Strip items={content.items} current={open} onChoose={setOpen} />
        <div className="mt-1 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1 text-sm">
          <StripLegend />
          <span>
            A sitting lasts <strong>{inWords(strip.lengthMs)}</strong>, up to{' '}
            <strong>{inWords(strip.answerMs)}</strong> of listening for each student ·{' '}
            <strong>{pointsText(total)} points</strong> to reach
          </span>
        </div>
      </section>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        // An open item is tall; lifted, it shows its one line, and places are measured as they are then.
        onDragStart={() => setOpen(null)}
        measuring={{ droppable: { strategy: MeasuringStrategy.Always } }}
        onDragEnd={moved}
        accessibility={{
          screenReaderInstructions: {
            draggable:
              'Space lifts this item, arrow up and down move it, Space puts it down, Escape leaves it where it was.',
          },
          announcements: {
            onDragStart: ({ active }) => `Item ${place(active.id)} is lifted.`,
            onDragOver: ({ over }) => (over ? `It would be item ${place(over.id)}.` : undefined),
            onDragEnd: ({ over }) => (over ? `It is item ${place(over.id)} now.` : 'It stays where it was.'),
            onDragCancel: () => 'It stays where it was.',
          },
        }}
      >
        <SortableContext items={content.items.map(i => i.id)} strategy={verticalListSortingStrategy}>
          <ol className="grid grid-cols-1 gap-px bg-line">
            {content.items.map((item, index) => (
              <ItemRow
                key={item.id}
                item={item}
                index={index}
                open={open === item.id}
                onOpen={() => setOpen(open === item.id ? null : item.id)}
              >
                <ItemEditor
                  assessmentId={stored.id}
                  item={item}
                  problems={Object.fromEntries(
                    Object.entries(fields).flatMap(([k, v]) =>
                      k.startsWith(`items.${index}.`) ? [[k.split('.')[2]!, v]] : [],
                    ),
                  )}
                  onChange={changed => change(c => withItem(c, item.id, changed))}
                  onRemove={() => remove(item.id)}
                  onCopy={() => change(c => duplicated(c, item.id))}
                />
              </ItemRow>
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      <div className="flex flex-wrap gap-3">
        <Button onClick={add}>
          <Plus aria-hidden className="size-5" /> Add an item
        </Button>
        {removed && (
          <Button
            onClick={() => {
              const back = removed;
              setRemoved(null);
              change(c => ({ ...c, items: back.items }));
            }}
          >
            <Undo2 aria-hidden className="size-5" /> Put the item back
          </Button>
        )}
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
