import { Dialog } from 'radix-ui';
import { useState } from 'react';
import type { ReleaseEntry } from '@ecoute/contract/releases';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { Tick } from '../../../parts/Tick';
import { when } from '../../../parts/when';
import { useClassesQuery } from '../../classes/endpoints';
import { useHolidaysQuery, useMakeSeriesMutation } from '../endpoints';
import { datesOf, keepPlan, keptPlan, planLike } from './placing';

export interface Placing {
  title: string;
  assessmentId: string;
  /** The day it opens. */
  day: string;
  /** A release that it goes on from. */
  like?: ReleaseEntry;
}

/** An assessment put on a day: for whom, from when to when, and how many weeks. */
export function PlaceDialog({
  placing,
  zone,
  onClose,
  onPlaced,
}: {
  placing: Placing;
  zone: string;
  onClose: () => void;
  onPlaced: (made: ReleaseEntry[]) => void;
}) {
  const { data: classes = [] } = useClassesQuery();
  const { data: holidays = [] } = useHolidaysQuery();
  const [make, making] = useMakeSeriesMutation();
  const [plan, setPlan] = useState(() => planLike(placing.like, zone, keptPlan()));
  const [notes, setNotes] = useState<Record<string, string>>({});
  const set = (change: Partial<typeof plan>) => setPlan({ ...plan, ...change });
  const known = classes.some(c => c.id === plan.classId) ? plan.classId : '';
  const classId = known || (classes.length === 1 ? classes[0]!.id : '');
  const dates = datesOf(placing.day, plan, holidays, zone);
  const taking = dates.filter(d => d.leftOut === null);
  const refusal = refusalOf(making.error);
  const go = () => {
    keepPlan({ ...plan, classId });
    void make({
      assessmentId: placing.assessmentId,
      classId,
      audience: placing.like?.audience === 'group' ? 'group' : 'class',
      groupId: placing.like?.audience === 'group' ? placing.like.groupId : null,
      dueAt: taking[0]!.dueAt,
      lateAccepted: plan.lateAccepted,
      hidden: plan.hidden,
      note: '',
      timeZone: zone,
      each: taking.map(({ day, opensAt, dueAt }) => ({ opensAt, dueAt, note: notes[day] ?? '' })),
    })
      .unwrap()
      .then(onPlaced, () => undefined);
  };
  return (
    <Dialog.Root open onOpenChange={open => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content className="fixed inset-x-4 top-[4vh] z-50 mx-auto max-h-[92vh] max-w-xl overflow-y-auto border-2 border-ink bg-sheet p-6">
          <Dialog.Title className="text-xl">{placing.title}</Dialog.Title>
          <Dialog.Description className="text-soft">
            Opens {when(dates[0]!.opensAt)}, due {when(dates[0]!.dueAt)}.
          </Dialog.Description>
          <form
            className="mt-4 grid gap-4"
            onSubmit={event => {
              event.preventDefault();
              go();
            }}
          >
            <Field label="To" error={refusal?.fields?.classId}>
              {ties => (
                <select
                  {...ties}
                  value={classId}
                  onChange={e => set({ classId: e.target.value })}
                  className={inputClass}
                >
                  <option value="">Choose a class …</option>
                  {classes.map(c => (
                    <option key={c.id} value={c.id}>
                      {c.name}
                    </option>
                  ))}
                </select>
              )}
            </Field>
            <div className="grid grid-cols-3 gap-3">
              <Field label="Opens at">
                {ties => (
                  <input
                    {...ties}
                    type="time"
                    required
                    value={plan.opensAt}
                    onChange={e => e.target.value && set({ opensAt: e.target.value })}
                    className={`${inputClass} tabular`}
                  />
                )}
              </Field>
              <Field label="Due after, days">
                {ties => (
                  <input
                    {...ties}
                    type="number"
                    min={0}
                    max={200}
                    value={plan.dueDays}
                    onChange={e =>
                      set({ dueDays: Math.min(200, Math.max(0, Math.round(Number(e.target.value)))) })
                    }
                    className={`${inputClass} tabular`}
                  />
                )}
              </Field>
              <Field label="Due at">
                {ties => (
                  <input
                    {...ties}
                    type="time"
                    required
                    value={plan.dueAt}
                    onChange={e => e.target.value && set({ dueAt: e.target.value })}
                    className={`${inputClass} tabular`}
                  />
                )}
              </Field>
            </div>
            <Field label="Weeks" hint="Once a week; days without school are left out and made up for.">
              {ties => (
                <input
                  {...ties}
                  type="number"
                  min={1}
                  max={40}
                  value={plan.weeks}
                  onChange={e =>
                    set({ weeks: Math.min(40, Math.max(1, Math.round(Number(e.target.value)))) })
                  }
                  className={`${inputClass} tabular max-w-28`}
                />
              )}
            </Field>
            <ol className="grid gap-1">
              {dates.map(d => (
                <li key={d.day} className="grid grid-cols-[8.5rem_minmax(0,1fr)] items-center gap-3">
                  <span className={`text-sm ${d.leftOut ? 'text-soft line-through' : ''}`}>
                    {new Intl.DateTimeFormat('en-GB', {
                      weekday: 'short',
                      day: 'numeric',
                      month: 'short',
                      timeZone: 'UTC',
                    }).format(new Date(`${d.day}T00:00Z`))}
                  </span>
                  {d.leftOut ? (
                    <span className="text-sm text-soft">{d.leftOut}</span>
                  ) : (
                    <input
                      aria-label={`A line for the class on ${d.day}`}
                      placeholder="A line for the class"
                      value={notes[d.day] ?? ''}
                      onChange={e => setNotes({ ...notes, [d.day]: e.target.value })}
                      className="min-h-9 border-2 border-edge bg-sheet px-2 text-sm"
                    />
                  )}
                </li>
              ))}
            </ol>
            <Tick checked={plan.hidden} onChange={hidden => set({ hidden })}>
              Shown by hand, not automatically on their day
            </Tick>
            {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
            <div className="flex flex-wrap justify-end gap-3">
              <Button onClick={onClose}>Leave it</Button>
              <Button
                look="main"
                type="submit"
                disabled={!classId || taking.length === 0 || making.isLoading}
              >
                {taking.length === 1 ? 'Put it there' : `Put it on ${taking.length} days`}
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
