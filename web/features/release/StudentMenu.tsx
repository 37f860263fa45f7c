import { MoreVertical } from 'lucide-react';
import { Dialog, DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { addDays, dayOf, instantOf, wallOf } from '@ecoute/core/timing/wallTime';
import { refusalOf } from '../../base/api';
import { serverNow } from '../../base/clock';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { when } from '../../parts/when';
import { useGrantMutation } from './endpoints';
import { browserZone } from './terms';

/** Extensions that teachers give most: until the evening, some days on. */
function usualExtensions(dueAt: string): [words: string, iso: string][] {
  const zone = browserZone();
  // From today where the due time has passed already.
  const from = dayOf(Math.max(Date.parse(dueAt), serverNow()), zone);
  const hour = wallOf(Date.parse(dueAt), zone).slice(11);
  return [1, 3, 7].map(days => {
    const iso = new Date(instantOf(`${addDays(from, days)}T${hour}`, zone)!.atMs).toISOString();
    return [`Extend until ${when(iso)}`, iso];
  });
}

/**
 * What a teacher may grant one student of a release, from wherever the student is in sight: an extension, an
 * excuse, another sitting.
 */
export function StudentMenu({
  releaseId,
  student,
  dueAt,
  excused,
  extended,
  isTalk,
  onGranted,
}: {
  releaseId: string;
  student: { id: string; displayName: string };
  /** Due for this student. */
  dueAt: string;
  excused: boolean;
  extended: boolean;
  /** Of a discussion, which is not sat. */
  isTalk: boolean;
  /** Said what was granted, in words that follow the name. */
  onGranted?: (words: string) => void;
}) {
  const [grant, granting] = useGrantMutation();
  const [asking, setAsking] = useState(false);
  const [until, setUntil] = useState('');
  const give = (change: Parameters<typeof grant>[0] extends infer T ? Partial<T> : never, words: string) =>
    grant({ releaseId, personId: student.id, ...change })
      .unwrap()
      .then(
        () => {
          setAsking(false);
          onGranted?.(words);
        },
        () => undefined,
      );
  const entry = 'flex min-h-11 cursor-pointer items-center px-4 outline-none data-[highlighted]:bg-sunk';
  const refusal = refusalOf(granting.error);
  const meant = instantOf(until, browserZone());
  return (
    <>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger
          aria-label={`Grant ${student.displayName} something`}
          className="grid size-10 place-items-center hover:bg-sunk"
        >
          <MoreVertical aria-hidden className="size-5" />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className="z-50 min-w-64 border-2 border-ink bg-sheet py-1">
            {usualExtensions(dueAt).map(([words, iso]) => (
              <DropdownMenu.Item
                key={iso}
                className={entry}
                onSelect={() => void give({ dueAt: iso }, `has until ${when(iso)}`)}
              >
                {words}
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Item className={entry} onSelect={() => setAsking(true)}>
              Extend until another time …
            </DropdownMenu.Item>
            {extended && (
              <DropdownMenu.Item
                className={entry}
                onSelect={() => void give({ dueAt: null }, 'has no extension any more')}
              >
                Take the extension back
              </DropdownMenu.Item>
            )}
            <DropdownMenu.Separator className="my-1 border-t border-line" />
            <DropdownMenu.Item
              className={entry}
              onSelect={() =>
                void give({ excused: !excused }, excused ? 'is expected to do it' : 'is excused')
              }
            >
              {excused ? 'No longer excused' : 'Excuse'}
            </DropdownMenu.Item>
            {!isTalk && (
              <DropdownMenu.Item
                className={entry}
                onSelect={() => void give({ another: true }, 'may sit it once more')}
              >
                Allow another sitting
              </DropdownMenu.Item>
            )}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Dialog.Root
        open={asking || refusal !== null}
        onOpenChange={open => !open && (granting.reset(), setAsking(false))}
      >
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
          <Dialog.Content className="fixed inset-x-4 top-[20vh] z-50 mx-auto max-w-md border-2 border-ink bg-sheet p-6">
            <Dialog.Title className="text-xl">More time for {student.displayName}</Dialog.Title>
            <Dialog.Description className="sr-only">Choose until when.</Dialog.Description>
            <form
              className="mt-4 grid gap-4"
              onSubmit={event => {
                event.preventDefault();
                if (meant && meant.kind !== 'skipped') {
                  const iso = new Date(meant.atMs).toISOString();
                  void give({ dueAt: iso }, `has until ${when(iso)}`);
                }
              }}
            >
              <Field
                label="Until"
                error={
                  meant?.kind === 'skipped' ? 'The clocks go forward past this time. Choose another.' : null
                }
              >
                {ties => (
                  <input
                    {...ties}
                    type="datetime-local"
                    value={until}
                    onChange={e => setUntil(e.target.value)}
                    className={`${inputClass} tabular`}
                  />
                )}
              </Field>
              {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
              <div className="flex justify-end gap-3">
                <Dialog.Close asChild>
                  <Button>Leave it</Button>
                </Dialog.Close>
                <Button look="main" type="submit" disabled={!meant || granting.isLoading}>
                  Extend
                </Button>
              </div>
            </form>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}
