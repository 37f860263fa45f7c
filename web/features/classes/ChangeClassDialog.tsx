import { NewClass, type ClassDetail } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Dialogue } from '../../parts/Dialogue';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { useFields } from '../../parts/useFields';
import { useChangeClassMutation } from './endpoints';

/** A class's name and subject put right. */
export function ChangeClassDialog({ of, onClose }: { of: ClassDetail; onClose: () => void }) {
  const [change, changing] = useChangeClassMutation();
  const form = useFields(NewClass, { name: of.name, subject: of.subject });
  const refusal = refusalOf(changing.error);
  return (
    <Dialogue title={`Name and subject of ${of.name}`} onClose={onClose}>
      <form
        className="mt-5 grid gap-4"
        noValidate
        onSubmit={form.submit(
          values =>
            void change({ classId: of.id, ...values })
              .unwrap()
              .then(onClose, () => undefined),
        )}
      >
        <Field label="Name" error={form.wrong.name ?? refusal?.fields?.name}>
          {ties => <input {...ties} {...form.field('name')} dir="auto" className={inputClass} />}
        </Field>
        <Field label="Subject" hint="For music, recordings are kept free of the browser’s speech processing.">
          {ties => (
            <select {...ties} {...form.field('subject')} className={inputClass}>
              <option value="language">Language</option>
              <option value="music">Music</option>
            </select>
          )}
        </Field>
        {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
        <div className="flex flex-wrap gap-3">
          <Button look="main" type="submit" disabled={changing.isLoading}>
            Keep it
          </Button>
          <Button look="quiet" onClick={onClose}>
            Leave it as it was
          </Button>
        </div>
      </form>
    </Dialogue>
  );
}
