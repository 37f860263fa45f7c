import { Plus } from 'lucide-react';
import { useState } from 'react';
import type { ClassDetail } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Tick } from '../../parts/Tick';
import { useAddGroupMutation, useChangeGroupMutation, useRemoveGroupMutation } from './endpoints';

/** One group being made or changed: its name, and who is in it. */
function GroupForm({
  of,
  groupId,
  onDone,
}: {
  of: ClassDetail;
  /** Null for a new one. */
  groupId: string | null;
  onDone: () => void;
}) {
  const students = of.members.filter(m => m.role === 'student');
  const [name, setName] = useState(of.groups.find(g => g.id === groupId)?.name ?? '');
  const [chosen, setChosen] = useState(
    () => new Set(students.filter(s => groupId && s.groupIds.includes(groupId)).map(s => s.id)),
  );
  const [add, adding] = useAddGroupMutation();
  const [change, changing] = useChangeGroupMutation();
  const [remove, removing] = useRemoveGroupMutation();
  const refusal = refusalOf(adding.error) ?? refusalOf(changing.error) ?? refusalOf(removing.error);
  const keep = () => {
    const wanted = { classId: of.id, name, memberIds: [...chosen] };
    void (groupId ? change({ ...wanted, groupId }) : add(wanted)).unwrap().then(onDone, () => undefined);
  };
  return (
    <form
      className="grid gap-3 border-2 border-ink bg-sheet p-4"
      onSubmit={event => {
        event.preventDefault();
        keep();
      }}
    >
      <Field label="Name of the group" error={refusal?.message ?? null}>
        {ties => (
          <input {...ties} value={name} onChange={e => setName(e.target.value)} className={inputClass} />
        )}
      </Field>
      <fieldset className="max-h-72 overflow-y-auto border-y border-line py-1">
        <legend className="sr-only">Who is in it</legend>
        {students.map(s => (
          <Tick
            key={s.id}
            checked={chosen.has(s.id)}
            onChange={on => {
              const next = new Set(chosen);
              if (on) next.add(s.id);
              else next.delete(s.id);
              setChosen(next);
            }}
          >
            {s.displayName}
          </Tick>
        ))}
      </fieldset>
      <div className="flex flex-wrap gap-3">
        <Button look="main" type="submit" disabled={!name.trim()}>
          Keep this group
        </Button>
        <Button onClick={onDone}>Leave it</Button>
        {groupId && (
          <Button
            look="quiet"
            onClick={() =>
              void remove({ classId: of.id, groupId })
                .unwrap()
                .then(onDone, () => undefined)
            }
          >
            Dissolve it
          </Button>
        )}
      </div>
    </form>
  );
}

/** The groups of a class. */
export function Groups({ of }: { of: ClassDetail }) {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <section aria-labelledby="groups" className="grid gap-3">
      <h2 id="groups" className="text-xl">
        Groups
      </h2>
      {of.groups.length === 0 && open === null && (
        <p className="text-soft">None. A release may go to a group instead of the whole class.</p>
      )}
      {of.groups.map(g =>
        open === g.id ? (
          <GroupForm key={g.id} of={of} groupId={g.id} onDone={() => setOpen(null)} />
        ) : (
          <button
            key={g.id}
            type="button"
            onClick={() => setOpen(g.id)}
            className="flex min-h-11 flex-wrap items-center gap-x-3 bg-sheet px-4 py-2 text-start hover:bg-sunk"
          >
            <span className="font-semibold">{g.name}</span>
            <span className="text-sm text-soft">
              {of.members.filter(m => m.groupIds.includes(g.id)).length} students
            </span>
          </button>
        ),
      )}
      {open === 'new' ? (
        <GroupForm of={of} groupId={null} onDone={() => setOpen(null)} />
      ) : (
        <div>
          <Button onClick={() => setOpen('new')}>
            <Plus aria-hidden className="size-5" /> A new group
          </Button>
        </div>
      )}
    </section>
  );
}
