import { Dialog } from 'radix-ui';
import { UserPlus } from 'lucide-react';
import { useState } from 'react';
import type { Department, Share } from '@ecoute/contract/departments';
import { refusalOf } from '../../../base/api';
import { useMe } from '../../../base/useMe';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Segments } from '../../../parts/Segments';
import {
  useAddColleagueMutation,
  useDepartmentsQuery,
  useLeaveDepartmentMutation,
  useMakeDepartmentMutation,
  useShareMutation,
  useSharesQuery,
} from '../endpoints';

type Standing = 'no' | 'copies' | 'edits';

function standingIn(shares: readonly Share[], departmentId: string): Standing {
  const share = shares.find(s => s.departmentId === departmentId);
  return share ? (share.edits ? 'edits' : 'copies') : 'no';
}

/** One department: who is in it, and what this assessment is to them. */
function DepartmentPart({
  department,
  shares,
  onShare,
}: {
  department: Department;
  shares: readonly Share[];
  onShare: (standing: Standing) => void;
}) {
  const me = useMe();
  const [name, setName] = useState('');
  const [add, adding] = useAddColleagueMutation();
  const [leave] = useLeaveDepartmentMutation();
  const others = department.members.filter(m => m.id !== me.id);
  const refusal = refusalOf(adding.error);
  return (
    <section aria-label={department.name} className="grid gap-3 border-t border-line pt-3">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h3 className="text-lg">{department.name}</h3>
        <span className="text-sm text-soft">
          {others.length > 0 ? others.map(m => m.displayName).join(', ') : 'nobody but you yet'}
        </span>
      </div>
      <Segments
        label={`For ${department.name}`}
        value={standingIn(shares, department.id)}
        options={[
          { value: 'no', name: 'not shown' },
          { value: 'copies', name: 'they may take copies' },
          { value: 'edits', name: 'they may change it' },
        ]}
        onChange={onShare}
      />
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={event => {
          event.preventDefault();
          if (name.trim())
            void add({ id: department.id, signInName: name.trim() })
              .unwrap()
              .then(
                () => setName(''),
                () => undefined,
              );
        }}
      >
        <Field
          label="Another colleague"
          className="min-w-60 flex-1"
          error={refusal?.message ?? null}
          hint={
            !adding.data
              ? 'The name they sign in with'
              : adding.data.asked
                ? `${adding.data.displayName} is asked. Once they say yes on their first page, they are in it.`
                : `${adding.data.displayName} is in it now.`
          }
        >
          {ties => (
            <input {...ties} value={name} onChange={e => setName(e.target.value)} className={inputClass} />
          )}
        </Field>
        <Button type="submit" className="mb-6" disabled={!name.trim() || adding.isLoading}>
          <UserPlus aria-hidden className="size-5" /> Add
        </Button>
        <Button look="quiet" className="mb-6" onClick={() => void leave(department.id)}>
          Leave it
        </Button>
      </form>
    </section>
  );
}

/** On which departments' shelves an assessment stands, and who belongs to them. */
export function ShareDialog({
  assessmentId,
  title,
  onClose,
}: {
  assessmentId: string;
  title: string;
  onClose: () => void;
}) {
  const { data: departments } = useDepartmentsQuery();
  const { data: shares = [] } = useSharesQuery(assessmentId);
  const [share, sharing] = useShareMutation();
  const [make] = useMakeDepartmentMutation();
  const [name, setName] = useState('');
  const put = (departmentId: string, standing: Standing) =>
    void share({
      id: assessmentId,
      shares: [
        ...shares.filter(s => s.departmentId !== departmentId),
        ...(standing === 'no' ? [] : [{ departmentId, edits: standing === 'edits' }]),
      ],
    });
  return (
    <Dialog.Root open onOpenChange={open => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-x-4 top-8 z-50 mx-auto grid max-h-[calc(100dvh-4rem)] max-w-2xl gap-4 overflow-y-auto border-2 border-ink bg-sheet p-6"
        >
          <Dialog.Title className="text-xl">Who else has “{title}” on their shelf</Dialog.Title>
          <p className="text-soft">
            Releases, answers and marks stay with their classes: colleagues see the assessment, nobody’s work.
          </p>
          {departments?.map(d => (
            <DepartmentPart key={d.id} department={d} shares={shares} onShare={s => put(d.id, s)} />
          ))}
          {sharing.isError && <p role="alert">▲ {refusalOf(sharing.error)?.message}</p>}
          <form
            className="flex flex-wrap items-end gap-3 border-t border-line pt-3"
            onSubmit={event => {
              event.preventDefault();
              if (name.trim()) void make({ name: name.trim() }).then(() => setName(''));
            }}
          >
            <Field label="A new department" className="min-w-60 flex-1">
              {ties => (
                <input
                  {...ties}
                  value={name}
                  maxLength={160}
                  placeholder="such as Languages"
                  onChange={e => setName(e.target.value)}
                  className={inputClass}
                />
              )}
            </Field>
            <Button type="submit" disabled={!name.trim()}>
              Make it
            </Button>
          </form>
          <div className="flex justify-end">
            <Dialog.Close asChild>
              <Button look="main">Done</Button>
            </Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
