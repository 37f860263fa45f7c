import type { ClassDetail } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import { useTakeBackInvitationMutation } from './endpoints';

/** Who was asked to join a class and has not said anything yet. */
export function Asked({ of }: { of: ClassDetail }) {
  const [takeBack, { error }] = useTakeBackInvitationMutation();
  const refusal = refusalOf(error);
  if (of.asked.length === 0) return null;
  return (
    <section aria-labelledby="asked" className="grid grid-cols-1 gap-3">
      <h2 id="asked" className="text-xl">
        Asked to join
      </h2>
      <ul className="grid gap-px bg-line">
        {of.asked.map(a => (
          <li key={a.id} className="flex min-h-11 items-center gap-x-3 bg-sheet ps-4 py-2">
            <span className="min-w-0 flex-1">
              <span className="font-semibold break-all">{a.signInName}</span>
              <span className="block text-sm text-soft">as {a.role}; no answer yet</span>
            </span>
            <Button
              look="quiet"
              className="shrink-0"
              aria-label={`Take back what ${a.signInName} was asked`}
              onClick={() => void takeBack({ classId: of.id, id: a.id })}
            >
              Take back
            </Button>
          </li>
        ))}
      </ul>
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
    </section>
  );
}
