import { useState } from 'react';
import { Link } from 'react-router';
import { NewStudent } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { useFields } from '../../parts/useFields';
import { useAddMemberMutation, useAddStudentMutation } from './endpoints';

/** One student more: somebody new, or somebody who has a sign-in from another class. */
export function AddStudent({ classId, teaches }: { classId: string; teaches: boolean }) {
  const [add, added] = useAddStudentMutation();
  const [addKnown, addedKnown] = useAddMemberMutation();
  const [isKnown, setKnown] = useState(false);
  const [signInName, setSignInName] = useState('');
  const form = useFields(NewStudent, { displayName: '', signInName: '', email: '' });
  const refusal = refusalOf(added.error);
  const known = refusalOf(addedKnown.error);
  const problem = (name: keyof typeof form.values) => form.wrong[name] ?? refusal?.fields?.[name];
  return (
    <section className="grid content-start gap-4 border-t-4 border-ink bg-sheet p-5">
      <h2 className="text-xl">Add a student</h2>
      {isKnown ? (
        <form
          className="grid gap-4"
          onSubmit={event => {
            event.preventDefault();
            void addKnown({ classId, signInName, role: 'student' })
              .unwrap()
              .then(
                () => setSignInName(''),
                () => undefined,
              );
          }}
        >
          <Field label="Their sign-in name" error={known?.message ?? null}>
            {ties => (
              <input
                {...ties}
                value={signInName}
                onChange={e => setSignInName(e.target.value)}
                autoCapitalize="none"
                className={inputClass}
              />
            )}
          </Field>
          <Button look="main" type="submit" disabled={!signInName.trim()}>
            Add to this class
          </Button>
        </form>
      ) : (
        <form
          className="grid gap-4"
          onSubmit={form.submit(
            values =>
              void add({ classId, ...values })
                .unwrap()
                .then(form.reset, () => undefined),
          )}
          noValidate
        >
          <Field label="Name" error={problem('displayName')}>
            {ties => <input {...ties} {...form.field('displayName')} className={inputClass} />}
          </Field>
          <Field label="Mail address (optional)" error={problem('email')}>
            {ties => <input {...ties} {...form.field('email')} type="email" className={inputClass} />}
          </Field>
          <Field
            label="Sign-in name (optional)"
            hint="Made from the name when left out."
            error={problem('signInName')}
          >
            {ties => (
              <input {...ties} {...form.field('signInName')} autoCapitalize="none" className={inputClass} />
            )}
          </Field>
          {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
          <Button look="main" type="submit" disabled={added.isLoading}>
            Add to this class
          </Button>
        </form>
      )}
      {added.isSuccess && teaches && (
        <Notice>
          Added. Give them a{' '}
          <Link to={`/classes/${classId}/codes`} className="underline underline-offset-4">
            one-time code
          </Link>{' '}
          to begin with.
        </Notice>
      )}
      {teaches && (
        <button
          type="button"
          onClick={() => setKnown(!isKnown)}
          className="justify-self-start text-sm underline underline-offset-4"
        >
          {isKnown ? 'Somebody new' : 'Somebody who has a sign-in already'}
        </button>
      )}
    </section>
  );
}
