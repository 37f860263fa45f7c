import {
  closestCenter,
  DndContext,
  KeyboardSensor,
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
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { Download, Upload } from 'lucide-react';
import Papa from 'papaparse';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { bankRows } from '@ecoute/core/feedback/comments';
import {
  topicOfStatements,
  topicsOfRows,
  topicsOfRubric,
  type DraftTopic,
} from '@ecoute/core/feedback/topics';
import type { Topic } from '@ecoute/contract/commentBank';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../../base/api';
import { useTitle } from '../../../base/useTitle';
import { Button, buttonClass } from '../../../parts/Button';
import { Empty } from '../../../parts/Empty';
import { Field, inputClass } from '../../../parts/Field';
import { Failed, Loading } from '../../../parts/Loading';
import { Notice } from '../../../parts/Notice';
import { textOfFile } from '../../../parts/textOfFile';
import { Tick } from '../../../parts/Tick';
import { useAssessmentsQuery, useDepartmentsQuery, useTagListsQuery } from '../../set/endpoints';
import {
  useBankQuery,
  useChangeTopicMutation,
  useMakeTopicsMutation,
  useOrderTopicsMutation,
  usePutTopicBackMutation,
} from './endpoints';
import { TopicEditor } from './TopicEditor';

const LARGEST_BYTES = 5 * 1024 * 1024;

/** A topic from nothing, from a rubric, from a list of statements. */
function NewTopicForm({
  onMake,
}: {
  onMake: (topics: DraftTopic[], praise: boolean, of: string | null) => Promise<boolean>;
}) {
  const [name, setName] = useState('');
  const [praise, setPraise] = useState(false);
  const [of, setOf] = useState('');
  const [from, setFrom] = useState('');
  const { data: departments = [] } = useDepartmentsQuery();
  const { data: assessments = [] } = useAssessmentsQuery();
  const { data: lists = [] } = useTagListsQuery();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [kind, id] = from.split(' ');
  const make = async () => {
    setTrouble(null);
    let topics: DraftTopic[] = [{ name, comments: [] }];
    if (kind === 'rubric') {
      const rubric = assessments.find(a => a.id === id)?.content.scoring.rubric;
      topics = rubric ? topicsOfRubric(rubric) : [];
      if (topics.length === 0)
        return setTrouble(
          'This assessment has no rubric whose levels are described. Describe them, or choose another.',
        );
    } else if (kind === 'list') {
      const list = lists.find(l => l.id === id);
      if (list) topics = [topicOfStatements(list.name, list.tags.slice(0, LIMITS.topicComments / 2))];
    }
    if (await onMake(topics, praise && from === '', of || null)) {
      setName('');
      setFrom('');
    }
  };
  return (
    <form
      className="flex flex-wrap items-end gap-x-4 gap-y-3 bg-sheet p-4"
      onSubmit={event => {
        event.preventDefault();
        void make();
      }}
    >
      <Field label="A new topic" className="min-w-48 flex-1">
        {ties => (
          <input
            {...ties}
            dir="auto"
            maxLength={LIMITS.title}
            disabled={from !== ''}
            value={from === '' ? name : 'named by what it is made from'}
            onChange={e => setName(e.target.value)}
            className={inputClass}
          />
        )}
      </Field>
      <Field label="made from">
        {ties => (
          <select
            {...ties}
            value={from}
            onChange={e => setFrom(e.target.value)}
            className={`${inputClass} max-w-64`}
          >
            <option value="">nothing</option>
            <optgroup label="the rubric of">
              {assessments
                .filter(a => a.content.scoring.kind === 'rubric')
                .map(a => (
                  <option key={a.id} value={`rubric ${a.id}`}>
                    {a.content.title}
                  </option>
                ))}
            </optgroup>
            <optgroup label="the statements of">
              {lists.map(l => (
                <option key={l.id} value={`list ${l.id}`}>
                  {l.name}
                </option>
              ))}
            </optgroup>
          </select>
        )}
      </Field>
      {departments.length > 0 && (
        <Field label="for">
          {ties => (
            <select {...ties} value={of} onChange={e => setOf(e.target.value)} className={inputClass}>
              <option value="">me alone</option>
              {departments.map(d => (
                <option key={d.id} value={d.id}>
                  {d.name}
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
      <Tick checked={praise} onChange={setPraise}>
        small praise
      </Tick>
      <Button look="main" type="submit" disabled={from === '' && name.trim() === ''}>
        Make it
      </Button>
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
    </form>
  );
}

/** The comment bank: topics and comments in the teacher's order, one's own and the departments'. */
export function BankPage() {
  useTitle('Comment bank');
  const { data, error, isLoading, refetch } = useBankQuery();
  const [make] = useMakeTopicsMutation();
  const [order] = useOrderTopicsMutation();
  const [change] = useChangeTopicMutation();
  const [putBack] = usePutTopicBackMutation();
  const [removed, setRemoved] = useState<Topic | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const makeTopics = async (topics: DraftTopic[], praise = false, departmentId: string | null = null) => {
    setTrouble(null);
    try {
      await make(topics.map(t => ({ ...t, praise, departmentId }))).unwrap();
      return true;
    } catch (failed) {
      setTrouble(refusalOf(failed)?.message ?? 'This could not be stored just now. Try again.');
      return false;
    }
  };
  const read = async (chosen: File) => {
    setTold(null);
    setTrouble(null);
    if (chosen.size > LARGEST_BYTES) return setTrouble('A comment bank has at most 5 MB. Divide the file.');
    const { data: cells } = Papa.parse<string[]>(await textOfFile(chosen), { skipEmptyLines: 'greedy' });
    const { rows, problems } = bankRows(cells, LIMITS.note);
    if (rows.length === 0)
      return setTrouble(
        'No comment was found in this file. It needs a column with comments, and may have topic and link.',
      );
    if (!(await makeTopics(topicsOfRows(rows)))) return;
    const left = problems.map(p => `row ${p.row}: ${p.problem}`).join(' ');
    setTold(`${rows.length} comments came in.${left && ` Left out: ${left}`}`);
  };
  /** A topic or a comment, as it is called aloud while it is moved. */
  const said = (id: UniqueIdentifier) => {
    const topic = data.find(t => t.id === id);
    const comment = data.flatMap(t => t.comments).find(c => c.id === id);
    return topic ? `Topic ${topic.name}` : `“${comment?.words.slice(0, 40) ?? ''}”`;
  };
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const ids = data.map(t => t.id);
    const [from, to] = [ids.indexOf(String(active.id)), ids.indexOf(String(over.id))];
    if (from >= 0 && to >= 0) return void order(arrayMove(ids, from, to));
    // A comment: within its topic, or into another.
    const source = data.find(t => t.comments.some(c => c.id === active.id));
    const target = data.find(t => t.id === over.id || t.comments.some(c => c.id === over.id));
    if (!source || !target || source.praise !== target.praise) return;
    const own = target.comments.map(c => c.id);
    const at = own.indexOf(String(over.id));
    const next =
      source.id === target.id
        ? arrayMove(own, own.indexOf(String(active.id)), at)
        : [...own.slice(0, Math.max(0, at)), String(active.id), ...own.slice(Math.max(0, at))];
    void change({ id: target.id, name: target.name, order: next });
  };
  return (
    <section className="grid grid-cols-1 gap-4">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <div>
          <p className="text-soft">
            <Link to="/listen" className="underline underline-offset-4">
              Listen
            </Link>
          </p>
          <h1 className="text-2xl">Comment bank</h1>
        </div>
        <p className="max-w-xl text-soft">On a lane, C finds these by typing and puts them in.</p>
        <div className="ms-auto flex flex-wrap gap-3">
          <a href="/api/comment-bank.csv" download className={buttonClass()}>
            <Download aria-hidden className="size-5" /> CSV
          </a>
          <Button onClick={() => file.current?.click()}>
            <Upload aria-hidden className="size-5" /> From a CSV file
          </Button>
          <input
            ref={file}
            type="file"
            hidden
            aria-label="A CSV file with comments"
            accept=".csv,.txt,.tsv,text/csv"
            onChange={e => {
              const chosen = e.target.files?.[0];
              e.target.value = '';
              if (chosen) void read(chosen);
            }}
          />
        </div>
      </div>
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
      {told && <Notice action={<Button onClick={() => setTold(null)}>Good</Button>}>{told}</Notice>}
      {removed && (
        <Notice
          action={
            <Button
              onClick={() =>
                void putBack(removed.id)
                  .unwrap()
                  .then(
                    () => setRemoved(null),
                    () => undefined,
                  )
              }
            >
              Put it back
            </Button>
          }
        >
          The topic “{removed.name}” is taken away.
        </Notice>
      )}
      <NewTopicForm onMake={makeTopics} />
      {data.length === 0 && (
        <Empty title="Nothing in your bank yet">
          Make a topic, make one from a rubric, or bring the comments you keep elsewhere as a CSV file.
        </Empty>
      )}
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={onDragEnd}
        accessibility={{
          screenReaderInstructions: {
            draggable: 'Space lifts it, arrow keys move it, Space puts it down, Escape leaves it.',
          },
          announcements: {
            onDragStart: ({ active }) => `${said(active.id)} is lifted.`,
            onDragOver: ({ active, over }) =>
              over && over.id !== active.id ? `It would take the place of ${said(over.id)}.` : undefined,
            onDragEnd: ({ active, over }) =>
              over && over.id !== active.id ? `It has the place of ${said(over.id)} now.` : 'It stays.',
            onDragCancel: () => 'It stays where it was.',
          },
        }}
      >
        <SortableContext items={data.map(t => t.id)} strategy={verticalListSortingStrategy}>
          <div className="grid grid-cols-1 gap-4">
            {data.map(t => (
              <TopicEditor key={t.id} topic={t} onRemoved={setRemoved} />
            ))}
          </div>
        </SortableContext>
      </DndContext>
    </section>
  );
}
