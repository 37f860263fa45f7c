import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
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
import { GripVertical } from 'lucide-react';
import type { Topic } from '@ecoute/contract/commentBank';

function TopicLine({ topic, onGo }: { topic: Topic; onGo: () => void }) {
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: topic.id,
  });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`flex items-center bg-sheet ${isDragging ? 'relative z-10 outline-2 outline-ink' : ''}`}
    >
      <button
        type="button"
        {...attributes}
        {...listeners}
        aria-label={`Move the topic ${topic.name}`}
        className="grid size-10 shrink-0 cursor-grab touch-none place-items-center"
      >
        <GripVertical aria-hidden className="size-5" />
      </button>
      <button type="button" dir="auto" onClick={onGo} className="min-h-10 min-w-0 flex-1 truncate text-start">
        {topic.name}
      </button>
      <span className="tabular px-3 text-sm text-soft">{topic.comments.length}</span>
    </li>
  );
}

/** All topics by name: a press leads to one, dragging or the keyboard puts them in order. */
export function TopicOrder({
  topics,
  onOrder,
  onGo,
}: {
  topics: readonly Topic[];
  onOrder: (ids: string[]) => void;
  onGo: (id: string) => void;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = topics.map(t => t.id);
  const nameOf = (id: UniqueIdentifier) => topics.find(t => t.id === id)?.name ?? '';
  const placeOf = (id: UniqueIdentifier) => `place ${ids.indexOf(String(id)) + 1} of ${ids.length}`;
  const lifted = (id: UniqueIdentifier) => `${nameOf(id)} is lifted, ${placeOf(id)}.`;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (over && active.id !== over.id)
          onOrder(arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id))));
      }}
      accessibility={{
        screenReaderInstructions: {
          draggable: 'Space lifts it, arrow keys move it, Space puts it down, Escape leaves it.',
        },
        announcements: {
          onDragStart: ({ active }) => lifted(active.id),
          onDragOver: ({ active, over }) =>
            over && over.id !== active.id ? `Here it would be at ${placeOf(over.id)}.` : lifted(active.id),
          onDragEnd: ({ active, over }) =>
            over ? `${nameOf(active.id)} is at ${placeOf(over.id)}.` : 'It stays.',
          onDragCancel: () => 'It stays where it was.',
        },
      }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <ol aria-label="Topics, in order" className="grid gap-px bg-line">
          {topics.map(t => (
            <TopicLine key={t.id} topic={t} onGo={() => onGo(t.id)} />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}
