import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import type { Decision, NamesChange } from '@ecoute/contract/decisions';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import { when } from '../../parts/when';
import { DECISION_WORDS } from './DecisionMenu';
import { useDecisionsQuery, useUndoDecisionMutation } from './endpoints';

/** What was just decided, with the way back. */
export function DecisionMade({
  releaseId,
  decision,
  onDone,
}: {
  releaseId: string;
  decision: Decision;
  onDone: () => void;
}) {
  const [undo, undoing] = useUndoDecisionMutation();
  const refusal = refusalOf(undoing.error);
  return (
    <Notice
      kind={refusal ? 'trouble' : 'note'}
      action={
        <>
          {!refusal && (
            <Button
              disabled={undoing.isLoading}
              onClick={() =>
                void undo({ releaseId, id: decision.id })
                  .unwrap()
                  .then(onDone, () => undefined)
              }
            >
              Undo
            </Button>
          )}
          <Button look="quiet" onClick={onDone}>
            Good
          </Button>
        </>
      }
    >
      {refusal
        ? refusal.message
        : `${decision.studentName} ${DECISION_WORDS[decision.kind].made}. The recordings stay.`}
    </Notice>
  );
}

/** Everything that was decided in a release, each with its way back. */
export function DecisionsMade({
  releaseId,
  namesChanges = [],
}: {
  releaseId: string;
  namesChanges?: readonly NamesChange[];
}) {
  const { data = [] } = useDecisionsQuery(releaseId);
  const [undo, undoing] = useUndoDecisionMutation();
  const refusal = refusalOf(undoing.error);
  if (data.length === 0 && namesChanges.length === 0) return null;
  return (
    <Collapsible.Root>
      <Collapsible.Trigger className="group flex min-h-11 items-center gap-2">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        Decided here: {data.filter(d => !d.undoneAt).length + namesChanges.length}
      </Collapsible.Trigger>
      <Collapsible.Content>
        {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
        <ul aria-label="Decisions" className="divide-y divide-line border-s-2 border-line ps-4">
          {namesChanges.map(n => (
            <li key={n.at} className="py-2">
              Names {n.hidden ? 'hidden' : 'shown'} · {n.by}, {when(n.at)}
            </li>
          ))}
          {data.map(d => (
            <li key={d.id} className={`flex flex-wrap items-center gap-x-4 ${d.undoneAt ? 'text-soft' : ''}`}>
              <span className="min-w-0 flex-1 basis-64 py-2">
                <strong>{d.studentName}</strong> {DECISION_WORDS[d.kind].made}
                {d.reason && <> · “{d.reason}”</>} · {d.madeBy}, {when(d.madeAt)}
                {d.undoneAt && <> · undone by {d.undoneBy}</>}
              </span>
              {!d.undoneAt && (
                <Button
                  look="quiet"
                  disabled={undoing.isLoading}
                  onClick={() => void undo({ releaseId, id: d.id })}
                >
                  Undo
                </Button>
              )}
            </li>
          ))}
        </ul>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
