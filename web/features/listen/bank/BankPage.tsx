import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import type { DragEndEvent, UniqueIdentifier } from '@dnd-kit/core';
import { arrayMove, sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import { Download, Upload } from 'lucide-react';
import Papa from 'papaparse';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { bankRows } from '@ecoute/core/feedback/bankFile';
import type { DraftTopic } from '@ecoute/core/feedback/topics';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../../base/api';
import { useTitle } from '../../../base/useTitle';
import { Button, buttonClass } from '../../../parts/Button';
import { Empty } from '../../../parts/Empty';
import { Failed, Loading } from '../../../parts/Loading';
import { Notice } from '../../../parts/Notice';
import { textOfFile } from '../../../parts/textOfFile';
import {
  useBankLatelyQuery,
  useBankQuery,
  useChangeTopicMutation,
  useMakeTopicsMutation,
  useOrderTopicsMutation,
  useReadInBankMutation,
} from './endpoints';
import { Lately } from './Lately';
import { NewTopicForm } from './NewTopicForm';
import { ReadInDialog, type ReadFile } from './ReadInDialog';
import { TopicEditor } from './TopicEditor';
import { TopicOrder } from './TopicOrder';

const LARGEST_BYTES = 1024 * 1024;
const AWAY = 'This could not be stored just now. Try again.';

/** The comment bank: topics and comments in the teacher's order, one's own and the departments'. */
export function BankPage() {
  useTitle('Comment bank');
  const [waitsForClip, setWaitsForClip] = useState(false);
  const { data, error, isLoading, refetch } = useBankQuery(undefined, {
    // A clip that was just spoken is heard as soon as it is stored.
    pollingInterval: waitsForClip ? 2_000 : 0,
  });
  const isWaiting =
    data?.some(t =>
      t.comments.some(c => c.voiceId && (c.voiceState === 'arriving' || c.voiceState === 'checking')),
    ) ?? false;
  if (isWaiting !== waitsForClip) setWaitsForClip(isWaiting);
  // Asked for here as well: what comes later would move the topics under the hand.
  const lately = useBankLatelyQuery();
  const [make] = useMakeTopicsMutation();
  const [order] = useOrderTopicsMutation();
  const [change] = useChangeTopicMutation();
  const [readIn] = useReadInBankMutation();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [read, setRead] = useState<ReadFile | null>(null);
  /** A topic that was just made: it is shown, and one goes on typing there. */
  const [made, setMade] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  if (isLoading || lately.isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const makeTopics = async (topics: DraftTopic[], praise = false, departmentId: string | null = null) => {
    setTrouble(null);
    try {
      const before = new Set(data.map(t => t.id));
      const now = await make(topics.map(t => ({ ...t, praise, departmentId }))).unwrap();
      // By its name as well: one that was put back in the same moment is new here too.
      const names = new Set(topics.map(t => t.name.trim()));
      setMade(now.findLast(t => !before.has(t.id) && names.has(t.name))?.id ?? null);
      return true;
    } catch (failed) {
      setTrouble(refusalOf(failed)?.message ?? AWAY);
      return false;
    }
  };
  const look = async (chosen: File) => {
    setTrouble(null);
    if (chosen.size > LARGEST_BYTES) return setTrouble('A comment bank has at most 1 MB. Divide the file.');
    const { data: cells } = Papa.parse<string[]>(await textOfFile(chosen), { skipEmptyLines: 'greedy' });
    const { rows, problems } = bankRows(cells, { comment: LIMITS.note, praise: LIMITS.praise });
    if (rows.length === 0)
      return setTrouble(
        'No comment was found in this file. It needs a column with comments, and may have topic and link.',
      );
    if (rows.length > LIMITS.bankRows)
      return setTrouble(
        `A file has at most ${LIMITS.bankRows} comments, and this one ${rows.length}. Divide it.`,
      );
    const wanted = {
      fileName: chosen.name.slice(0, 255),
      rows: rows.map(r => ({
        ...r,
        topic: r.topic.slice(0, LIMITS.title),
        department: r.department.slice(0, LIMITS.title),
      })),
      trial: true,
    };
    try {
      setRead({ wanted, plan: await readIn(wanted).unwrap(), problems });
    } catch (failed) {
      setTrouble(refusalOf(failed)?.message ?? AWAY);
    }
  };
  /** A comment, as it is called aloud while it is moved; or the topic that it would come to. */
  const said = (id: UniqueIdentifier) => {
    const topic = data.find(t => t.id === id || t.comments.some(c => c.id === id));
    const at = topic?.comments.findIndex(c => c.id === id) ?? -1;
    return at < 0
      ? `the topic ${topic?.name ?? ''}`
      : `place ${at + 1} of ${topic!.comments.length} in ${topic!.name}`;
  };
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const source = data.find(t => t.comments.some(c => c.id === active.id));
    const target = data.find(t => t.id === over.id || t.comments.some(c => c.id === over.id));
    if (!source || !target || source.praise !== target.praise) return;
    const own = target.comments.map(c => c.id);
    const at = own.indexOf(String(over.id));
    const next =
      source.id === target.id
        ? arrayMove(own, own.indexOf(String(active.id)), Math.max(0, at))
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
              if (chosen) void look(chosen);
            }}
          />
        </div>
      </div>
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
      <Lately />
      <NewTopicForm onMake={makeTopics} />
      {data.length === 0 && (
        <Empty title="Nothing in your bank yet">
          Make a topic, make one from a rubric, or bring the comments you keep elsewhere as a CSV file.
        </Empty>
      )}
      <div className="grid grid-cols-1 items-start gap-4 lg:grid-cols-[15rem_minmax(0,1fr)]">
        {data.length > 1 && (
          <nav
            aria-label="Topics"
            className="lg:sticky lg:top-4 lg:max-h-[calc(100dvh-6rem)] lg:overflow-y-auto"
          >
            <TopicOrder
              topics={data}
              onOrder={ids => void order(ids)}
              onGo={id => document.getElementById(`topic-${id}`)?.scrollIntoView({ block: 'start' })}
            />
          </nav>
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
              onDragStart: ({ active }) => `It is lifted, ${said(active.id)}.`,
              onDragOver: ({ active, over }) =>
                over && over.id !== active.id
                  ? `Here it would be at ${said(over.id)}.`
                  : `It is lifted, ${said(active.id)}.`,
              onDragEnd: ({ over }) => (over ? `It is put down at ${said(over.id)}.` : 'It stays.'),
              onDragCancel: () => 'It stays where it was.',
            },
          }}
        >
          <div className={`grid grid-cols-1 gap-4 ${data.length > 1 ? '' : 'lg:col-span-2'}`}>
            {data.map(t => (
              <TopicEditor key={t.id} topic={t} isNew={t.id === made} />
            ))}
          </div>
        </DndContext>
      </div>
      {read && <ReadInDialog file={read} onClose={() => setRead(null)} />}
    </section>
  );
}
