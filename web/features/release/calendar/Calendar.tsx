import {
  DndContext,
  DragOverlay,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Active,
  type CollisionDetection,
  type DragStartEvent,
  type DragEndEvent,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core';
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { releaseProblems } from '@ecoute/contract/assessment/problems';
import type { ReleaseEntry } from '@ecoute/contract/releases';
import { holidayOn } from '@ecoute/core/timing/series';
import { addDays, dayOf, daysBetween } from '@ecoute/core/timing/wallTime';
import { refusalOf } from '../../../base/api';
import { serverNow } from '../../../base/clock';
import { Button } from '../../../parts/Button';
import { Failed, Loading } from '../../../parts/Loading';
import { Notice } from '../../../parts/Notice';
import { useAssessmentsQuery } from '../../set/endpoints';
import { useCalendarQuery, useMoveReleasesMutation, useTakeBackMutation } from '../endpoints';
import { browserZone } from '../terms';
import { paged, weeksOf } from './grid';
import { Feed } from './Feed';
import { Holidays } from './Holidays';
import { PlaceDialog, type Placing } from './PlaceDialog';
import { ShelfItem } from './ShelfItem';
import { Week } from './Week';

interface Point {
  x: number;
  y: number;
}

/** What is dragged says where it is by its upper left corner, but for a pointer, which says so itself. */
const atPoint: CollisionDetection = ({
  pointerCoordinates,
  collisionRect,
  droppableContainers,
  droppableRects,
}) => {
  const at = pointerCoordinates ?? { x: collisionRect.left + 12, y: collisionRect.top + 12 };
  return droppableContainers
    .filter(({ id }) => {
      const rect = droppableRects.get(id);
      return rect && at.x >= rect.left && at.x < rect.right && at.y >= rect.top && at.y < rect.bottom;
    })
    .map(({ id }) => ({ id }));
};

const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 };

/** Arrow keys carry what was taken up from day to day; from the shelf, to today first. */
const byDays: KeyboardCoordinateGetter = (event, { context: { droppableRects, collisionRect, over } }) => {
  const step = STEPS[event.code];
  if (step === undefined || !collisionRect) return;
  event.preventDefault();
  const days = [...droppableRects.keys()].map(String).sort();
  const today = dayOf(serverNow(), browserZone());
  const target = over ? addDays(String(over.id), step) : (days.find(d => d >= today) ?? days[0]!);
  const rect = droppableRects.get(target);
  return rect ? { x: rect.left + 4, y: rect.top + 4 } : undefined;
};

/** What is dragged: an assessment of the shelf, or a release. */
type Dragged =
  { title: string; assessmentId: string; isTalk: boolean } | { title: string; release: ReleaseEntry };

const draggedOf = (active: Active) => active.data.current as Dragged;

interface Done {
  words: string;
  /** Null where there is no way back: it is said, and that is all. */
  undo: (() => Promise<unknown>) | null;
}

/** So many steps can be taken back, one after the other. */
const MOST_UNDO = 20;

const said = (day: string) =>
  new Intl.DateTimeFormat('en-GB', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    timeZone: 'UTC',
  }).format(new Date(`${day}T00:00Z`));

/** What was put on its days, in words. */
function placedWords(made: readonly ReleaseEntry[], zone: string): string {
  const days = [...new Set(made.map(r => dayOf(Date.parse(r.opensAt), zone)))];
  const on = days.length === 1 ? said(days[0]!) : `${days.length} days`;
  return `“${made[0]!.title}” is on ${on}${made.length > days.length ? `, ${made.length} releases in all` : ''}.`;
}

/** The term: releases on their days, moved by dragging or by keys, and an assessment put on a day. */
export function Calendar({ view }: { view: 'week' | 'month' }) {
  const zone = browserZone();
  const today = dayOf(serverNow(), zone);
  const [day, setDay] = useState(today);
  const weeks = weeksOf(day, view);
  const [from, to] = [weeks[0]!, addDays(weeks.at(-1)!, 7)];
  const { data, currentData, error, isLoading, refetch } = useCalendarQuery({ from, to });
  const shelf = useAssessmentsQuery();
  const [move, moving] = useMoveReleasesMutation();
  const [takeBack] = useTakeBackMutation();
  const [dragged, setDragged] = useState<Dragged | null>(null);
  const [placing, setPlacing] = useState<Placing | null>(null);
  const [steps, setSteps] = useState<readonly Done[]>([]);
  const done = steps.at(-1);
  const [trouble, setTrouble] = useState<string | null>(null);
  /** The day under what was taken up: a long bar moves by as much as the hand does. */
  const grasped = useRef<string | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: byDays }),
  );
  const ready = useMemo(
    () => (shelf.data ?? []).filter(a => !a.isTemplate && releaseProblems(a.content).length === 0),
    [shelf.data],
  );

  const did = (step: Done) => setSteps(before => [...before, step].slice(-MOST_UNDO));
  /** Takes back the last step. One that cannot be taken back any more gives way to the one before it. */
  const takeLastBack = useCallback(() => {
    if (!done) return;
    setTrouble(null);
    setSteps(before => before.filter(step => step !== done));
    void done.undo?.().catch((problem: unknown) => setTrouble(refusalOf(problem)?.message ?? null));
  }, [done]);

  useEffect(() => {
    const undo = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest('input, textarea, [contenteditable]');
      if (!(event.ctrlKey || event.metaKey) || event.key !== 'z' || typing) return;
      event.preventDefault();
      takeLastBack();
    };
    window.addEventListener('keydown', undo);
    return () => window.removeEventListener('keydown', undo);
  }, [takeLastBack]);

  const shift = (release: ReleaseEntry, days: number): Promise<unknown> =>
    move({ releaseIds: [release.id], days })
      .unwrap()
      .then(
        ([moved]) =>
          did({
            words: `“${release.title}” moved ${Math.abs(days) === 1 ? 'one day' : `${Math.abs(days)} days`} ${days > 0 ? 'later' : 'earlier'}.${
              moved &&
              !moved.hidden &&
              Date.parse(moved.opensAt) <= serverNow() &&
              Date.parse(release.opensAt) > serverNow()
                ? ' That day has begun: it is open now.'
                : ''
            }`,
            undo: () => move({ releaseIds: [release.id], days: -days }).unwrap(),
          }),
        (problem: unknown) => setTrouble(refusalOf(problem)?.message ?? null),
      );

  const graspedDay = (event: DragStartEvent): string | null => {
    const { clientX, clientY } = event.activatorEvent as Partial<MouseEvent>;
    const box = event.active.rect.current.initial;
    const at: Point | null =
      clientX !== undefined && clientY !== undefined
        ? { x: clientX, y: clientY }
        : box && { x: box.left + 12, y: box.top + 12 };
    const cell =
      at && document.elementsFromPoint(at.x, at.y).find(e => e instanceof HTMLElement && e.dataset.day);
    return (cell as HTMLElement | undefined)?.dataset.day ?? null;
  };

  const drop = ({ active, over }: DragEndEvent) => {
    const what = draggedOf(active);
    setDragged(null);
    if (!over) return;
    const target = String(over.id);
    setTrouble(null);
    if ('assessmentId' in what) return setPlacing({ ...what, day: target });
    const start = grasped.current ?? dayOf(Date.parse(what.release.opensAt), zone);
    const days = daysBetween(start, target);
    if (days !== 0) void shift(what.release, days);
  };

  if (isLoading || shelf.isLoading) return <Loading height={96} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const releases = (currentData ?? data).releases;
  const heading = new Intl.DateTimeFormat('en-GB', {
    month: 'long',
    year: 'numeric',
    ...(view === 'week' && { day: 'numeric' }),
    timeZone: 'UTC',
  }).format(new Date(`${view === 'week' ? weeks[0]! : day}T00:00Z`));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={atPoint}
      onDragStart={event => {
        grasped.current = graspedDay(event);
        setDragged(draggedOf(event.active));
      }}
      onDragCancel={() => setDragged(null)}
      onDragEnd={drop}
      accessibility={{
        announcements: {
          onDragStart: ({ active }) => `Took up ${draggedOf(active).title}. Arrow keys choose a day.`,
          onDragOver: ({ active, over }) =>
            over ? `${draggedOf(active).title}: ${said(String(over.id))}` : undefined,
          onDragEnd: ({ active, over }) =>
            over ? `${draggedOf(active).title} put on ${said(String(over.id))}.` : 'Let go of.',
          onDragCancel: ({ active }) => `${draggedOf(active).title} stays where it was.`,
        },
        screenReaderInstructions: {
          draggable:
            'Press Space to take it up, arrow keys to choose a day, Space again to put it there, Escape to leave it.',
        },
      }}
    >
      <div className="grid gap-6 lg:grid-cols-[15rem_minmax(0,1fr)]">
        <aside aria-label="Shelf" className="grid content-start gap-2 lg:sticky lg:top-4 lg:self-start">
          <h2 className="text-lg">Put on a day</h2>
          <p className="text-sm text-soft">
            Drag one onto a day, or take it up with Space and use the arrow keys.
          </p>
          <ul className="grid max-h-[28rem] gap-px overflow-y-auto bg-line">
            {ready.map(a => (
              <ShelfItem key={a.id} assessment={a} />
            ))}
          </ul>
          {ready.length === 0 && <p>Nothing on your shelf is ready to be released.</p>}
          <Holidays />
          <Feed />
        </aside>
        <div className="min-w-0">
          <div className="mb-3 flex flex-wrap items-center gap-2">
            <Button aria-label={`One ${view} earlier`} onClick={() => setDay(paged(day, view, -1))}>
              <ChevronLeft aria-hidden className="size-5" />
            </Button>
            <Button aria-label={`One ${view} later`} onClick={() => setDay(paged(day, view, 1))}>
              <ChevronRight aria-hidden className="size-5" />
            </Button>
            <Button look="quiet" onClick={() => setDay(today)}>
              Today
            </Button>
            <label className="flex items-center gap-2">
              <span className="sr-only">Go to a month</span>
              <input
                type="month"
                className="tabular min-h-11 border-2 border-edge bg-sheet px-2"
                value={day.slice(0, 7)}
                onChange={e => /^\d{4}-\d{2}$/.test(e.target.value) && setDay(`${e.target.value}-01`)}
              />
            </label>
            <h2 className="text-xl" aria-live="polite">
              {view === 'week' ? `Week of ${heading}` : heading}
            </h2>
          </div>
          {trouble && <Notice kind="trouble">{trouble}</Notice>}
          {done && (
            <div className="mb-3">
              <Notice
                action={
                  <Button disabled={moving.isLoading} onClick={takeLastBack}>
                    {done.undo ? 'Undo' : 'Good'}
                  </Button>
                }
              >
                {done.words}
              </Notice>
            </div>
          )}
          <div className="grid grid-cols-7 text-sm text-soft" aria-hidden>
            {['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'].map(d => (
              <span key={d} className="px-2 py-1">
                {d}
              </span>
            ))}
          </div>
          <div className="border-t-2 border-ink">
            {weeks.map(monday => (
              <Week
                key={monday}
                monday={monday}
                month={view === 'month' ? day.slice(0, 7) : null}
                today={today}
                zone={zone}
                releases={releases}
                holidayOn={d => holidayOn(d, data.holidays)?.name ?? null}
                onRepeat={release =>
                  setPlacing({
                    title: release.title,
                    assessmentId: release.assessmentId,
                    isTalk: release.outline.isDiscussion === true,
                    day: addDays(dayOf(Date.parse(release.opensAt), zone), 7),
                    like: release,
                  })
                }
                onDone={(words, undo) => did({ words, undo: undo ?? null })}
                onTrouble={setTrouble}
              />
            ))}
          </div>
        </div>
      </div>
      <DragOverlay dropAnimation={null}>
        {dragged && (
          <span className="inline-block max-w-60 truncate border-2 border-ink bg-saffron-wash px-3 py-1 font-semibold text-saffron-ink">
            {dragged.title}
          </span>
        )}
      </DragOverlay>
      {placing && (
        <PlaceDialog
          placing={placing}
          zone={zone}
          onClose={() => setPlacing(null)}
          onPlaced={made => {
            setPlacing(null);
            did({
              words: placedWords(made, zone),
              undo: () => Promise.all(made.map(r => takeBack(r.id).unwrap())),
            });
          }}
        />
      )}
    </DndContext>
  );
}
