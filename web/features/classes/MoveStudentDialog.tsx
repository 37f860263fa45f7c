import { useState } from 'react';
import type { Member } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Dialogue } from '../../parts/Dialogue';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { useClassesQuery, useMoveStudentMutation } from './endpoints';

/** A student moved to another class of this teacher's. */
export function MoveStudentDialog({
  classId,
  className,
  member,
  onMoved,
  onClose,
}: {
  classId: string;
  className: string;
  member: Member;
  /** Told with what happened, and the way back. */
  onMoved: (words: string, toClassId: string) => void;
  onClose: () => void;
}) {
  const { data: classes = [] } = useClassesQuery();
  const [move, moving] = useMoveStudentMutation();
  const others = classes.filter(c => c.id !== classId);
  const [chosen, setChosen] = useState('');
  const to = others.find(c => c.id === chosen) ?? others[0];
  const refusal = refusalOf(moving.error);
  return (
    <Dialogue
      title={`Move ${member.displayName} to another class`}
      says={`What they have begun or handed in stays theirs, and you go on hearing it under ${className}. What they have not begun there goes; what the other class still has open comes.`}
      onClose={onClose}
    >
      <form
        className="mt-5 grid gap-4"
        onSubmit={event => {
          event.preventDefault();
          if (!to) return;
          void move({ classId, personId: member.id, toClassId: to.id })
            .unwrap()
            .then(
              () => {
                onMoved(`${member.displayName} is in ${to.name} now.`, to.id);
                onClose();
              },
              () => undefined,
            );
        }}
      >
        {to ? (
          <Field label="To" error={refusal?.fields?.toClassId ?? null}>
            {ties => (
              <select
                {...ties}
                className={inputClass}
                value={to.id}
                onChange={e => setChosen(e.target.value)}
              >
                {others.map(c => (
                  <option key={c.id} value={c.id}>
                    {c.name}
                  </option>
                ))}
              </select>
            )}
          </Field>
        ) : (
          <p>You have no other class yet. Make one under Classes, then come back.</p>
        )}
        {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
        <div className="flex flex-wrap gap-3">
          {to && (
            <Button look="main" type="submit" disabled={moving.isLoading}>
              Move to {to.name}
            </Button>
          )}
          <Button look="quiet" onClick={onClose}>
            Stay in this class
          </Button>
        </div>
      </form>
    </Dialogue>
  );
}
