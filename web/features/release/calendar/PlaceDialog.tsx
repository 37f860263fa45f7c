import { X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import type { ReleaseEntry } from '@ecoute/contract/releases';
import { refusalOf } from '../../../base/api';
import { serverNow } from '../../../base/clock';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { Tick } from '../../../parts/Tick';
import { when } from '../../../parts/when';
import { useClassesQuery } from '../../classes/endpoints';
import { useHolidaysQuery, useMakeSeriesMutation } from '../endpoints';
import { TermsMore } from '../TermsFields';
import { datesOf, keepPlan, keptPlan, planLike } from './placing';

export interface Placing {
  title: string;
  assessmentId: string;
  /** People talk with each other in it. */
  isTalk: boolean;
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
  /** Whom it can go to: each class, and each group of it. */
  const targets = classes.flatMap(c => [
    { key: c.id, name: c.name, classId: c.id, groupId: null as string | null },
    ...c.groups.map(g => ({
      key: `${c.id} ${g.id}`,
      name: `${c.name}, ${g.name}`,
      classId: c.id,
      groupId: g.id as string | null,
    })),
  ]);
  const known = plan.to.filter(key => targets.some(t => t.key === key));
  const to = known.length > 0 || classes.length !== 1 ? known : [classes[0]!.id];
  const chosen = to.map(key => targets.find(t => t.key === key)!);
  const dates = datesOf(placing.day, plan, holidays, zone);
  const taking = dates.filter(d => d.leftOut === null);
  const opensAtOnce = !plan.hidden && taking[0] !== undefined && Date.parse(taking[0].opensAt) <= serverNow();
  const refusal = refusalOf(making.error);
  const go = () => {
    const [first, ...others] = chosen;
    if (!first) return;
    keepPlan({ ...plan, to });
    const { lateAccepted, hidden, sittingsAllowed, heardBy, scoresHeld, notify } = plan;
    void make({
      assessmentId: placing.assessmentId,
      classId: first.classId,
      audience: first.groupId ? 'group' : 'class',
      groupId: first.groupId,
      alsoTo: others.map(({ classId, groupId }) => ({ classId, groupId })),
      dueAt: taking[0]!.dueAt,
      ...{ lateAccepted, hidden, sittingsAllowed, heardBy, scoresHeld, notify },
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
                  value={to[0] ?? ''}
                  onChange={e =>
                    set({
                      to: [e.target.value, ...to.slice(1).filter(k => k !== e.target.value)].filter(Boolean),
                    })
                  }
                  className={inputClass}
                >
                  <option value="">Choose a class or a group …</option>
                  {targets.map(t => (
                    <option key={t.key} value={t.key}>
                      {t.name}
                    </option>
                  ))}
                </select>
              )}
            </Field>
            {to.length > 0 && targets.length > 1 && (
              <div className="flex flex-wrap items-center gap-2">
                {chosen.slice(1).map(t => (
                  <Button
                    key={t.key}
                    aria-label={`Not to ${t.name}`}
                    onClick={() => set({ to: to.filter(k => k !== t.key) })}
                  >
                    {t.name} <X aria-hidden className="size-4" />
                  </Button>
                ))}
                <select
                  aria-label="Also to"
                  value=""
                  onChange={e => e.target.value && set({ to: [...to, e.target.value] })}
                  className={`${inputClass} !w-auto`}
                >
                  <option value="">also to …</option>
                  {targets
                    .filter(t => !to.includes(t.key))
                    .map(t => (
                      <option key={t.key} value={t.key}>
                        {t.name}
                      </option>
                    ))}
                </select>
              </div>
            )}
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
            {opensAtOnce && (
              <p className="border-s-4 border-ink ps-3">
                {taking.length === 1 ? 'That day has begun' : 'The first of these days has begun'}: students
                see it as soon as it is put there.
              </p>
            )}
            <Tick checked={plan.hidden} onChange={hidden => set({ hidden })}>
              Shown by hand, not automatically on their day
            </Tick>
            <Tick checked={plan.lateAccepted} onChange={lateAccepted => set({ lateAccepted })}>
              Late work is taken, and flagged
            </Tick>
            <TermsMore
              draft={{ ...plan, closesWall: '' }}
              isOpen
              isTalk={placing.isTalk}
              hasClosing={false}
              onChange={more => set(more)}
            />
            {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
            <div className="flex flex-wrap justify-end gap-3">
              <Button onClick={onClose}>Leave it</Button>
              <Button
                look="main"
                type="submit"
                disabled={to.length === 0 || taking.length === 0 || making.isLoading}
              >
                {taking.length === 1 ? 'Put it there' : `Put it on ${taking.length} days`}
                {to.length > 1 && ` for ${to.length}`}
                {opensAtOnce && ', open at once'}
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
