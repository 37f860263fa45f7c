import { useDraggable, useDroppable } from '@dnd-kit/core';
import { EyeOff } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { ReleaseEntry } from '@ecoute/contract/releases';
import { addDays } from '@ecoute/core/timing/wallTime';
import { refusalOf } from '../../../base/api';
import { serverNow } from '../../../base/clock';
import { when } from '../../../parts/when';
import { useChangeReleaseMutation } from '../endpoints';
import { draftOf, standsWords, termsOf } from '../terms';
import { BarCard } from './BarCard';
import { barsOf, type Bar } from './grid';

interface WeekProps {
  monday: string;
  /** The month whose days are drawn in full; null for any. */
  month: string | null;
  today: string;
  zone: string;
  releases: readonly ReleaseEntry[];
  holidayOn: (day: string) => string | null;
  onRepeat: (release: ReleaseEntry) => void;
  /** Something was done: what, and the way back where there is one. */
  onDone: (words: string, undo?: () => Promise<unknown>) => void;
  onTrouble: (message: string | null) => void;
}

const dayInWords = (day: string) =>
  new Intl.DateTimeFormat('en-GB', { dateStyle: 'full', timeZone: 'UTC' }).format(new Date(`${day}T00:00Z`));

function DayCell({
  day,
  column,
  lines,
  faint,
  today,
  holiday,
}: {
  day: string;
  column: number;
  lines: number;
  faint: boolean;
  today: boolean;
  holiday: string | null;
}) {
  const { setNodeRef, isOver } = useDroppable({ id: day });
  return (
    <div
      ref={setNodeRef}
      data-day={day}
      aria-label={`${dayInWords(day)}${holiday ? `, ${holiday}` : ''}`}
      role="group"
      style={{ gridColumn: column + 1, gridRow: `1 / span ${lines + 2}` }}
      className={`min-w-0 border-e border-b border-line px-2 py-1 ${holiday ? 'bg-sunk' : 'bg-sheet'} ${isOver ? 'outline-3 -outline-offset-3 outline-ink' : ''}`}
    >
      <span
        className={`tabular text-sm ${today ? 'bg-ink px-1 font-semibold text-sheet' : faint ? 'text-soft' : ''}`}
      >
        {Number(day.slice(8))}
      </span>
      {holiday && <span className="ms-2 text-xs text-soft">{holiday}</span>}
    </div>
  );
}

/** One release in one week; it opens to what can be done with it, and can be taken up. */
function ReleaseBar({
  bar,
  zone,
  onRepeat,
  onDone,
  onTrouble,
}: { bar: Bar } & Pick<WeekProps, 'zone' | 'onRepeat' | 'onDone' | 'onTrouble'>) {
  const { release } = bar;
  const [note, setNote] = useState(release.note);
  const [change] = useChangeReleaseMutation();
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({
    id: `release:${release.id}:${bar.from}:${bar.opensHere}`,
    data: { title: release.title, release },
  });
  const keep = (over: object) =>
    change({ id: release.id, ...termsOf(draftOf(release, zone), zone).terms!, ...over })
      .unwrap()
      .then(
        () => onTrouble(null),
        (problem: unknown) => onTrouble(refusalOf(problem)?.message ?? null),
      );
  return (
    <Popover.Root onOpenChange={open => !open && note.trim() !== release.note && void keep({ note })}>
      <Popover.Trigger asChild>
        <button
          type="button"
          ref={setNodeRef}
          {...attributes}
          {...listeners}
          aria-label={`${release.title}, ${release.className}, ${standsWords(release, serverNow(), when)}`}
          style={{
            gridColumn: `${bar.from + 1} / span ${bar.to - bar.from + 1}`,
            gridRow: bar.lane + 2,
            // A teacher’s stretch has a slanted edge, where it begins.
            clipPath: bar.opensHere ? 'polygon(10px 0, 100% 0, 100% 100%, 0 100%)' : undefined,
          }}
          className={`z-10 my-0.5 flex h-6.5 min-w-0 touch-none items-center gap-1 bg-saffron-wash pe-2 text-start text-sm text-saffron-ink ${bar.opensHere ? 'ms-0.5 ps-4' : 'ps-2'} ${bar.dueHere ? 'me-1 border-e-4 border-saffron' : ''} ${isDragging ? 'opacity-50' : ''}`}
        >
          {release.hidden && <EyeOff aria-hidden className="size-4 shrink-0" />}
          <span className="truncate">
            <span className="font-semibold">{release.title}</span>
            {release.note && ` · ${release.note}`}
          </span>
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <BarCard
          release={release}
          zone={zone}
          note={note}
          onNote={setNote}
          onRepeat={() => onRepeat(release)}
          onDone={onDone}
          onTrouble={onTrouble}
        />
      </Popover.Portal>
    </Popover.Root>
  );
}

/** One week: its days, and the releases that lie over them. */
export function Week({ monday, month, today, zone, releases, holidayOn, ...does }: WeekProps) {
  const bars = barsOf(releases, monday, zone);
  const lines = Math.max(month ? 2 : 6, ...bars.map(b => b.lane + 1));
  return (
    <div
      className="grid grid-cols-7 border-s border-line"
      style={{ gridTemplateRows: `1.75rem repeat(${lines}, 1.875rem) 0.25rem` }}
    >
      {Array.from({ length: 7 }, (_, i) => addDays(monday, i)).map((day, i) => (
        <DayCell
          key={day}
          day={day}
          column={i}
          lines={lines}
          faint={month !== null && day.slice(0, 7) !== month}
          today={day === today}
          holiday={holidayOn(day)}
        />
      ))}
      {bars.map(bar => (
        <ReleaseBar key={bar.release.id} bar={bar} zone={zone} {...does} />
      ))}
    </div>
  );
}
