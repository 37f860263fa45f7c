import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  MeasuringStrategy,
  PointerSensor,
  useSensor,
  useSensors,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import { Fragment, memo, type ReactNode } from 'react';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { isNumbered } from '@ecoute/core/scoring/scheme';
import { differences, type StartingPoint } from '@ecoute/core/timing/startingPoints';
import { isRecorded, promptMs } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import type { AssessmentContent, Item, Section } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import { Button } from '../../../parts/Button';
import { inputClass } from '../../../parts/Field';
import { Tick } from '../../../parts/Tick';
import { inLine } from './itemSearch';
import { POINT_WORDS } from '../whole/policyWords';

function RowHead({
  item,
  index,
  point,
  carries,
}: {
  item: Item;
  index: number;
  point: StartingPoint;
  carries: number;
}) {
  const spoken = isRecorded(item.answerBy);
  const unlike = differences(item, point).length;
  return (
    <>
      <span className="text-lg font-semibold">{index + 1}</span>
      <span className={`min-w-0 flex-1 basis-40 truncate ${item.promptText ? 'font-passage' : 'text-soft'}`}>
        {inLine(item) ||
          (point === 'discussion' ? (spoken ? 'no question yet' : 'nothing on it yet') : 'no prompt yet')}
      </span>
      {unlike > 0 && point !== 'discussion' && (
        <span className="text-sm text-saffron-ink">
          {unlike === 1 ? 'one setting differs' : `${unlike} settings differ`} from{' '}
          {POINT_WORDS[point].name.toLowerCase()}
        </span>
      )}
      <span className="tabular text-sm text-soft">
        {point === 'discussion'
          ? spoken
            ? `up to ${clock(item.answerLimitMs)} each`
            : 'a starting point'
          : spoken
            ? `${clock(promptMs(item))} – ${clock(item.prepareMs)} – ${clock(item.answerLimitMs)}`
            : item.answerBy === 'text'
              ? 'in writing'
              : item.answerBy === 'file'
                ? 'a file'
                : 'material'}
      </span>
      <span className="tabular w-20 text-end text-sm">
        {carries === 0 ? '' : `${pointsText(toHundredths(carries))} pts`}
      </span>
    </>
  );
}

const ItemRow = memo(function ItemRow({
  item,
  index,
  point,
  carries,
  open,
  onOpen,
  children,
}: {
  item: Item;
  index: number;
  point: StartingPoint;
  /** Points that the item shows in its line; 0 for none. */
  carries: number;
  open: boolean;
  onOpen: (id: string) => void;
  children: ReactNode;
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
          onClick={() => onOpen(item.id)}
          className="flex min-h-14 min-w-0 flex-1 flex-wrap items-center gap-x-4 py-2 pe-5 text-start"
        >
          <RowHead item={item} index={index} point={point} carries={carries} />
        </button>
      </div>
      {children}
    </li>
  );
});

function SectionHead({
  section,
  onChange,
  onDissolve,
}: {
  section: Section;
  onChange: (change: Partial<Section>) => void;
  onDissolve: () => void;
}) {
  return (
    <li className="flex flex-wrap items-center gap-x-5 gap-y-2 bg-sunk px-5 py-2">
      <input
        aria-label="Title of the section"
        value={section.title}
        placeholder="A section: give it a title"
        onChange={e => onChange({ title: e.target.value })}
        className={`${inputClass} !w-auto min-w-60 flex-1 font-semibold`}
      />
      <Tick checked={section.shuffled} onChange={shuffled => onChange({ shuffled })}>
        Another order for each sitting
      </Tick>
      <Button onClick={onDissolve}>Dissolve the section</Button>
    </li>
  );
}

/** The items in order, under their sections; the open one shows its editor in its place. */
export function ItemList({
  content,
  open,
  onOpen,
  onClose,
  onMove,
  onSection,
  onDissolve,
  editor,
}: {
  content: AssessmentContent;
  open: string | null;
  /** Opens an item, or closes it when it is open. */
  onOpen: (id: string) => void;
  onClose: () => void;
  onMove: (id: string, overId: string) => void;
  onSection: (id: string, change: Partial<Section>) => void;
  onDissolve: (id: string) => void;
  editor: (item: Item, index: number) => ReactNode;
}) {
  const { items, sections } = content;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const place = (id: UniqueIdentifier) => items.findIndex(i => i.id === id) + 1;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      // An open item is tall; lifted, it shows its one line, and places are measured as they are then.
      onDragStart={onClose}
      measuring={{ droppable: { strategy: MeasuringStrategy.Always } }}
      onDragEnd={({ active, over }) => over && onMove(String(active.id), String(over.id))}
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
      <SortableContext items={items.map(i => i.id)} strategy={verticalListSortingStrategy}>
        <ol className="grid grid-cols-1 gap-px bg-line">
          {items.map((item, index) => {
            const begins = item.sectionId !== null && items[index - 1]?.sectionId !== item.sectionId;
            const section = begins ? sections.find(s => s.id === item.sectionId) : undefined;
            return (
              <Fragment key={item.id}>
                {section && (
                  <SectionHead
                    section={section}
                    onChange={change => onSection(section.id, change)}
                    onDissolve={() => onDissolve(section.id)}
                  />
                )}
                {item.wordsBefore && (
                  <li className="border-s-4 border-saffron bg-saffron-wash px-5 py-1 text-sm">
                    <span className="font-semibold">On the way to item {index + 1}:</span>{' '}
                    {item.wordsBefore.text || 'spoken'}
                  </li>
                )}
                <ItemRow
                  item={item}
                  index={index}
                  point={content.startingPoint}
                  carries={isNumbered(content.scoring.kind) ? carriedBy(content, item) : 0}
                  open={open === item.id}
                  onOpen={onOpen}
                >
                  {open === item.id ? editor(item, index) : null}
                </ItemRow>
              </Fragment>
            );
          })}
        </ol>
      </SortableContext>
    </DndContext>
  );
}
