import { Dialog } from 'radix-ui';
import { useState } from 'react';
import type { Member, SetArrangement } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { LanguageSelect } from '../../parts/LanguageSelect';
import { Notice } from '../../parts/Notice';
import { Tick } from '../../parts/Tick';
import { useArrangeMutation } from './endpoints';

const FACTORS: [number, string][] = [
  [1, 'the same as everybody'],
  [1.1, '10 % more'],
  [1.25, '25 % more'],
  [1.33, 'a third more'],
  [1.5, 'half as much again'],
  [2, 'twice the time'],
];

/** What a student's needs change in every sitting from now on. */
export function ArrangementDialog({
  classId,
  member,
  onClose,
}: {
  classId: string;
  member: Member;
  onClose: () => void;
}) {
  const [wanted, setWanted] = useState<SetArrangement>(member.arrangement);
  const [arrange, arranging] = useArrangeMutation();
  const set = (change: Partial<SetArrangement>) => setWanted({ ...wanted, ...change });
  const factors = FACTORS.some(([f]) => f === wanted.extraTime)
    ? FACTORS
    : [...FACTORS, [wanted.extraTime, `${Math.round((wanted.extraTime - 1) * 100)} % more`] as const];
  const refusal = refusalOf(arranging.error);
  return (
    <Dialog.Root open onOpenChange={open => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content className="fixed inset-x-4 top-[8vh] z-50 mx-auto max-h-[84vh] max-w-lg overflow-y-auto border-2 border-ink bg-sheet p-6">
          <Dialog.Title className="text-xl">Access arrangement of {member.displayName}</Dialog.Title>
          <Dialog.Description className="mt-1 text-soft">
            It holds for every sitting begun from now on, in all of this student’s classes. Nobody else sees
            it.
          </Dialog.Description>
          <form
            className="mt-5 grid gap-4"
            onSubmit={event => {
              event.preventDefault();
              void arrange({ classId, personId: member.id, ...wanted })
                .unwrap()
                .then(onClose, () => undefined);
            }}
          >
            <Field label="Time to prepare and answer, and for the whole sitting">
              {ties => (
                <select
                  {...ties}
                  value={wanted.extraTime}
                  onChange={e => set({ extraTime: Number(e.target.value) })}
                  className={inputClass}
                >
                  {factors.map(([factor, words]) => (
                    <option key={factor} value={factor}>
                      {words}
                    </option>
                  ))}
                </select>
              )}
            </Field>
            <Field label="Hearings of a prompt beyond the usual">
              {ties => (
                <input
                  {...ties}
                  type="number"
                  min={0}
                  max={20}
                  value={wanted.extraHearings}
                  onChange={e => set({ extraHearings: Math.max(0, Math.round(Number(e.target.value))) })}
                  className={`${inputClass} tabular max-w-32`}
                />
              )}
            </Field>
            <Field
              label="Breaks, minutes in all"
              hint="Between items; the clock of a sitting with a limit stands still."
            >
              {ties => (
                <input
                  {...ties}
                  type="number"
                  min={0}
                  max={60}
                  value={Math.round(wanted.breakMs / 60_000)}
                  onChange={e =>
                    set({ breakMs: Math.min(60, Math.max(0, Math.round(Number(e.target.value)))) * 60_000 })
                  }
                  className={`${inputClass} tabular max-w-32`}
                />
              )}
            </Field>
            <Tick checked={wanted.readAloud} onChange={readAloud => set({ readAloud })}>
              Prompts read aloud, where a teacher has recorded that
            </Tick>
            <Tick checked={wanted.byEar} onChange={byEar => set({ byEar })}>
              Does not read yet: pictures and sound in place of words, one big thing at a time
            </Tick>
            <Field label="Directions in a second language" hint="Where an assessment has them.">
              {ties => (
                <LanguageSelect
                  {...ties}
                  value={wanted.directionsLanguage ?? ''}
                  none="in the first language only"
                  onChange={tag => set({ directionsLanguage: tag || null })}
                />
              )}
            </Field>
            {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
            <div className="flex flex-wrap justify-end gap-3">
              <Button onClick={onClose}>Leave it as it is</Button>
              <Button look="main" type="submit" disabled={arranging.isLoading}>
                Keep this
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
