import { useDraggable } from '@dnd-kit/core';
import { GripVertical } from 'lucide-react';
import type { AssessmentSummary } from '@ecoute/contract/assessments';
import { SmallStrip } from '../../../parts/strip/Strip';

/** An assessment on the calendar’s shelf, to be put on a day. */
export function ShelfItem({ assessment }: { assessment: AssessmentSummary }) {
  const { title, items, startingPoint } = assessment.content;
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({
    id: `shelf:${assessment.id}`,
    data: { title, assessmentId: assessment.id, isTalk: startingPoint === 'discussion' },
  });
  return (
    <li className={isDragging ? 'opacity-50' : ''}>
      <div
        ref={setNodeRef}
        {...attributes}
        {...listeners}
        aria-label={`Put ${title} on a day`}
        className="flex cursor-grab touch-none items-center gap-2 bg-sheet px-2 py-2"
      >
        <GripVertical aria-hidden className="size-4 shrink-0 text-soft" />
        <span className="min-w-0 flex-1">
          <span className="block truncate font-semibold">{title}</span>
          {startingPoint === 'discussion' ? (
            <span className="text-sm text-soft">a discussion</span>
          ) : (
            <SmallStrip items={items} />
          )}
        </span>
      </div>
    </li>
  );
}
