import { CorrectStudent, type Member } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { Dialogue, KeepOrLeave } from '../../parts/Dialogue';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { useFields } from '../../parts/useFields';
import { useCorrectStudentMutation } from './endpoints';

/** A student's name or mail address put right. */
export function CorrectStudentDialog({
  classId,
  member,
  onClose,
}: {
  classId: string;
  member: Member;
  onClose: () => void;
}) {
  const [correct, correcting] = useCorrectStudentMutation();
  const form = useFields(CorrectStudent, { displayName: member.displayName, email: member.email ?? '' });
  const refusal = refusalOf(correcting.error);
  return (
    <Dialogue
      title={`Name and mail of ${member.displayName}`}
      says={`The name that everybody reads here. ${member.signInName}, the sign-in name, stays.`}
      onClose={onClose}
    >
      <form
        className="mt-5 grid gap-4"
        noValidate
        onSubmit={form.submit(
          values =>
            void correct({ classId, personId: member.id, ...values })
              .unwrap()
              .then(onClose, () => undefined),
        )}
      >
        <Field label="Name" error={form.wrong.displayName ?? refusal?.fields?.displayName}>
          {ties => <input {...ties} {...form.field('displayName')} dir="auto" className={inputClass} />}
        </Field>
        <Field label="Mail address, if there is one" error={form.wrong.email ?? refusal?.fields?.email}>
          {ties => <input {...ties} {...form.field('email')} type="email" className={inputClass} />}
        </Field>
        {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
        <KeepOrLeave isBusy={correcting.isLoading} onLeave={onClose} />
      </form>
    </Dialogue>
  );
}
