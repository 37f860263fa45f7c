import { useState } from 'react';
import { calledName } from '@ecoute/core/feedback/comments';
import type { Member } from '@ecoute/contract/classes';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../base/api';
import { Dialogue, KeepOrLeave } from '../../parts/Dialogue';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { useCallMutation } from './endpoints';

/** What comments call a student where the first of their names is not it. */
export function CalledDialog({
  classId,
  member,
  onClose,
}: {
  classId: string;
  member: Member;
  onClose: () => void;
}) {
  const [called, setCalled] = useState(member.called);
  const [call, calling] = useCallMutation();
  const refusal = refusalOf(calling.error);
  return (
    <Dialogue
      title={`What comments call ${member.displayName}`}
      says={`It stands where a comment of the bank has {name}. ${member.displayName} can change it too.`}
      onClose={onClose}
    >
      <form
        className="mt-5 grid gap-4"
        onSubmit={event => {
          event.preventDefault();
          void call({ classId, personId: member.id, called })
            .unwrap()
            .then(onClose, () => undefined);
        }}
      >
        <Field label="Called" error={refusal?.fields?.called ?? null}>
          {ties => (
            <input
              {...ties}
              dir="auto"
              maxLength={LIMITS.name}
              placeholder={calledName(member.displayName, null)}
              value={called}
              onChange={e => setCalled(e.target.value)}
              className={inputClass}
            />
          )}
        </Field>
        {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
        <KeepOrLeave isBusy={calling.isLoading} onLeave={onClose} />
      </form>
    </Dialogue>
  );
}
