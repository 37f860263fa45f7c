import { X } from 'lucide-react';
import { useState } from 'react';
import type { ClassDetail, ClassRole, Member } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { useAddMemberMutation, useRemoveMemberMutation } from './endpoints';

const ROLE_WORDS: Record<Exclude<ClassRole, 'student'>, string> = {
  teacher: 'teaches, and hears what is recorded',
  coordinator: 'plans and sees where everybody stands, and hears nobody',
};

/** Who teaches a class and who coordinates it. */
export function Teachers({ of, mayChange }: { of: ClassDetail; mayChange: boolean }) {
  const [open, setOpen] = useState(false);
  const [signInName, setSignInName] = useState('');
  const [displayName, setDisplayName] = useState('');
  const [leaving, setLeaving] = useState<Member | null>(null);
  const [role, setRole] = useState<Exclude<ClassRole, 'student'>>('teacher');
  const [add, adding] = useAddMemberMutation();
  const [remove, removing] = useRemoveMemberMutation();
  const refusal = refusalOf(adding.error);
  const unknown = refusal?.code === 'unknownName';
  const go = () =>
    void add({ classId: of.id, signInName, role, ...(displayName.trim() && { displayName }) })
      .unwrap()
      .then(
        () => {
          setOpen(false);
          setSignInName('');
          setDisplayName('');
        },
        () => undefined,
      );
  return (
    <section aria-labelledby="teachers" className="grid gap-3">
      <h2 id="teachers" className="text-xl">
        Teachers
      </h2>
      <ul className="grid gap-px bg-line">
        {of.members
          .filter(m => m.role !== 'student')
          .map(m => (
            <li key={m.id} className="flex min-h-11 items-center gap-x-3 bg-sheet px-4 py-2">
              <span className="min-w-0">
                <span className="font-semibold">{m.displayName}</span>
                <span className="block text-sm text-soft">
                  {m.role === 'teacher' ? 'teacher' : 'coordinator'}
                  {!m.hasSignIn && ', has not signed in yet'}
                </span>
              </span>
              {mayChange && (
                <button
                  type="button"
                  aria-label={`Take ${m.displayName} out of this class`}
                  title="Take out of this class"
                  onClick={() => setLeaving(m)}
                  className="ms-auto grid size-9 shrink-0 place-items-center hover:bg-sunk"
                >
                  <X aria-hidden className="size-4.5" />
                </button>
              )}
            </li>
          ))}
      </ul>
      <Confirm
        open={leaving !== null}
        onClose={() => setLeaving(null)}
        title={`Take ${leaving?.displayName ?? ''} out of ${of.name}?`}
        yes="Take out"
        no="Stay"
        onYes={() => leaving && void remove({ classId: of.id, personId: leaving.id })}
      >
        <p>
          They no longer see this class, and no longer hear what its students recorded. Marks and notes that
          they gave stay. They can be added again.
        </p>
      </Confirm>
      {refusalOf(removing.error) && <Notice kind="trouble">{refusalOf(removing.error)!.message}</Notice>}
      {!mayChange ? null : open ? (
        <form
          className="grid gap-3 border-2 border-ink bg-sheet p-4"
          onSubmit={event => {
            event.preventDefault();
            go();
          }}
        >
          <Field
            label="Sign-in name of a colleague"
            error={refusal?.fields?.signInName ?? refusal?.message ?? null}
          >
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
          {unknown && (
            <Field
              label="Their name, to make a sign-in for them"
              hint="They begin with a one-time code, from the page of codes."
            >
              {ties => (
                <input
                  {...ties}
                  value={displayName}
                  onChange={e => setDisplayName(e.target.value)}
                  className={inputClass}
                />
              )}
            </Field>
          )}
          <Field label="In this class, this person">
            {ties => (
              <select
                {...ties}
                value={role}
                onChange={e => setRole(e.target.value as typeof role)}
                className={inputClass}
              >
                {Object.entries(ROLE_WORDS).map(([value, words]) => (
                  <option key={value} value={value}>
                    {words}
                  </option>
                ))}
              </select>
            )}
          </Field>
          <div className="flex flex-wrap gap-3">
            <Button look="main" type="submit" disabled={!signInName.trim() || adding.isLoading}>
              {unknown && displayName.trim() ? 'Make a sign-in and add' : 'Add'}
            </Button>
            <Button onClick={() => setOpen(false)}>Leave it</Button>
          </div>
        </form>
      ) : (
        <div>
          <Button onClick={() => setOpen(true)}>Add a colleague …</Button>
        </div>
      )}
    </section>
  );
}
