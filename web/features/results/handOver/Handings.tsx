import type { HandingView } from '@ecoute/contract/schoolSystem';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { counted } from '../../../parts/counted';
import { Notice } from '../../../parts/Notice';
import { when } from '../../../parts/when';
import { useHandingActMutation } from './endpoints';

const STATES: Record<HandingView['state'], string> = {
  waiting: 'waits for its turn',
  running: 'is being handed over',
  done: 'handed over',
  stopped: 'stopped',
  cancelled: 'cancelled',
};

/** What was handed over, when and by whom, and what came of it. */
export function Handings({ classId, handings }: { classId: string; handings: readonly HandingView[] }) {
  const [act, { error }] = useHandingActMutation();
  if (handings.length === 0) return <p className="text-soft">Nothing was handed over yet.</p>;
  return (
    <>
      {error && <Notice kind="trouble">{refusalOf(error)?.message}</Notice>}
      <ul className="grid gap-px bg-line">
        {handings.map(h => {
          const isOpen = h.state === 'waiting' || h.state === 'running';
          const counts = [
            `${h.taken} of ${counted(h.total, 'change')} taken`,
            ...(h.refused > 0 ? [`${h.refused} refused`] : []),
            ...(h.withdrawn > 0 ? [`${h.withdrawn} changed meanwhile, not sent`] : []),
          ];
          return (
            <li key={h.id} className="grid gap-2 bg-sheet px-4 py-3">
              <div className="flex flex-wrap items-center justify-between gap-x-6 gap-y-2">
                <span>
                  <span className="font-semibold">{when(h.madeAt)}</span>{' '}
                  <span className="text-sm text-soft">by {h.byName}</span>
                </span>
                <span className="flex flex-wrap items-center gap-3">
                  {isOpen && (
                    <progress
                      aria-label="How far it is"
                      max={Math.max(1, h.total)}
                      value={h.taken + h.refused + h.withdrawn}
                      className="w-40 accent-petrol"
                    />
                  )}
                  <span className="text-sm">
                    {STATES[h.state]}: {counts.join(', ')}
                  </span>
                  {h.state === 'stopped' && (
                    <Button look="main" onClick={() => void act({ classId, id: h.id, act: 'again' })}>
                      Go on
                    </Button>
                  )}
                  {(isOpen || h.state === 'stopped') && (
                    <Button onClick={() => void act({ classId, id: h.id, act: 'cancel' })}>Cancel</Button>
                  )}
                </span>
              </div>
              {h.problem && <Notice kind="trouble">{h.problem}</Notice>}
              {h.troubles.length > 0 && (
                <ul className="ms-4 list-disc text-sm">
                  {h.troubles.map((trouble, i) => (
                    <li key={i}>
                      <strong dir="auto">{trouble.what}</strong> – {trouble.why}
                    </li>
                  ))}
                </ul>
              )}
            </li>
          );
        })}
      </ul>
    </>
  );
}
