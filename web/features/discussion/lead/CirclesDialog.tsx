import { useState } from 'react';
import type { InDiscussion, LeadView } from '@ecoute/contract/discussions';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Dialogue } from '../../../parts/Dialogue';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { useShareOutMutation } from '../endpoints';

/** Who talks with whom: again by lot or by groups, or each by hand. What was said stays where it was said. */
export function CirclesDialog({ view, onClose }: { view: LeadView; onClose: () => void }) {
  const [share, sharing] = useShareOutMutation();
  const [size, setSize] = useState(2);
  const [moved, setMoved] = useState<ReadonlyMap<string, number>>(new Map());
  const circleOf = (p: InDiscussion) => moved.get(p.personId ?? '') ?? p.circle;
  const numbers = [...new Set([...view.circles, ...moved.values()])].sort((a, b) => a - b);
  const most = Math.max(0, ...numbers);
  const alone = numbers.filter(n => view.people.filter(p => circleOf(p) === n).length === 1);
  const refusal = refusalOf(sharing.error);
  const done = (what: Promise<unknown>) =>
    void what.then(
      () => onClose(),
      () => undefined,
    );
  const { releaseId } = view;
  const hasSpoken = view.contributions.some(c => !c.isTeacher && c.state !== 'draft');
  return (
    <Dialogue
      title="Who talks with whom"
      says={
        hasSpoken
          ? 'What was said stays where it was said: whoever moves hears the circle that they are in from now on.'
          : 'Nobody hears another circle.'
      }
      onClose={onClose}
    >
      <div className="mt-4 grid gap-5">
        <div className="flex flex-wrap items-end gap-3">
          <Field label="By lot, in each circle" className="w-28">
            {ties => (
              <select
                {...ties}
                className={inputClass}
                value={size}
                onChange={e => setSize(Number(e.target.value))}
              >
                {[2, 3, 4, 5, 6, 8, 10].map(n => (
                  <option key={n} value={n}>
                    {n}
                  </option>
                ))}
              </select>
            )}
          </Field>
          <Button onClick={() => done(share({ releaseId, by: 'lot', size }).unwrap())}>Draw lots</Button>
          <Button onClick={() => done(share({ releaseId, by: 'groups' }).unwrap())}>
            By the groups of the class
          </Button>
          <Button onClick={() => done(share({ releaseId, by: 'together' }).unwrap())}>All together</Button>
        </div>
        {view.circles.length > 0 && !view.namesHidden && (
          <form
            className="grid gap-2"
            onSubmit={event => {
              event.preventDefault();
              const people = [...moved].map(([personId, circle]) => ({ personId, circle }));
              done(share({ releaseId, by: 'hand', people }).unwrap());
            }}
          >
            <p className="font-semibold">By hand</p>
            {view.people.map(p => (
              <label key={p.author} className="flex items-center gap-3">
                <span dir="auto" className="min-w-0 flex-1">
                  {p.name}
                </span>
                <select
                  className={`${inputClass} !w-32`}
                  value={circleOf(p)}
                  onChange={e => setMoved(new Map(moved).set(p.personId!, Number(e.target.value)))}
                >
                  {[...numbers, most + 1].map(n => (
                    <option key={n} value={n}>
                      {n > most ? `a new one (${n})` : `circle ${n}`}
                    </option>
                  ))}
                </select>
              </label>
            ))}
            {alone.length > 0 && (
              <p className="text-sm font-semibold">
                {alone.length === 1 ? `In circle ${alone[0]} somebody is alone.` : 'Somebody is alone.'}
              </p>
            )}
            <Button
              look="main"
              type="submit"
              className="justify-self-start"
              disabled={moved.size === 0 || sharing.isLoading}
            >
              Keep these circles
            </Button>
          </form>
        )}
        {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      </div>
    </Dialogue>
  );
}
