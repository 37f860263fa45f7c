import { NewClass, type ClassDetail } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { Dialogue, KeepOrLeave } from '../../parts/Dialogue';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { SubjectField } from './SubjectField';
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
        <SubjectField {...form.field('subject')} />
        {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
        <KeepOrLeave isBusy={changing.isLoading} onLeave={onClose} />
      </form>
    </Dialogue>
  );
}
