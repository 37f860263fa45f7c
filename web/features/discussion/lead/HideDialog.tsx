import { useState } from 'react';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Dialogue } from '../../../parts/Dialogue';
import { Field, inputClass } from '../../../parts/Field';
import { useHideMutation } from '../endpoints';

/** Takes a contribution out of the others' hearing, with a reason that its author reads. */
export function HideDialog({
  releaseId,
  id,
  name,
  onClose,
}: {
  releaseId: string;
  id: string;
  name: string;
  onClose: () => void;
}) {
  const [reason, setReason] = useState('');
  const [hide, hiding] = useHideMutation();
  const refusal = refusalOf(hiding.error);
  return (
    <Dialogue
      title={`Hide what ${name} said?`}
      says="Nobody but you and its author hears it from now on. It is kept, and you can show it again."
      onClose={onClose}
    >
      <form
        className="mt-4 grid gap-4"
        onSubmit={event => {
          event.preventDefault();
          void hide({ door: 'lead', releaseId, id, reason })
            .unwrap()
            .then(
              () => onClose(),
              () => undefined,
            );
        }}
      >
        <Field label="Why" hint="Its author reads this." error={refusal?.fields?.reason ?? refusal?.message}>
          {ties => (
            <textarea
              {...ties}
              autoFocus
              rows={3}
              dir="auto"
              maxLength={LIMITS.reason}
              value={reason}
              onChange={e => setReason(e.target.value)}
              className={inputClass}
            />
          )}
        </Field>
        <div className="flex flex-wrap gap-3">
          <Button type="submit" disabled={!reason.trim() || hiding.isLoading}>
            Hide it
          </Button>
          <Button look="main" onClick={onClose}>
            Leave it in sight
          </Button>
        </div>
      </form>
    </Dialogue>
  );
}
