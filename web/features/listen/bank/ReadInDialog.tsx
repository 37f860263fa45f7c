import { Dialog } from 'radix-ui';
import type { BankImport, ReadInBank } from '@ecoute/contract/commentBank';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { counted } from '../../../parts/counted';
import { useReadInBankMutation } from './endpoints';

export interface ReadFile {
  wanted: ReadInBank;
  plan: BankImport;
  problems: { row: number; problem: string }[];
}

/** What a file would do to the bank, before it does it. */
export function ReadInDialog({ file, onClose }: { file: ReadFile; onClose: () => void }) {
  const { wanted, plan, problems } = file;
  const [readIn, reading] = useReadInBankMutation();
  const comes = plan.parts.reduce((sum, p) => sum + p.comes.length, 0);
  const known = plan.parts.reduce((sum, p) => sum + p.known, 0);
  const refusal = refusalOf(reading.error);
  return (
    <Dialog.Root open onOpenChange={open => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content className="fixed inset-x-4 top-1/2 z-50 mx-auto grid max-h-[90dvh] max-w-2xl -translate-y-1/2 grid-rows-[auto_minmax(0,1fr)_auto] gap-4 border-2 border-ink bg-sheet p-6">
          <div>
            <Dialog.Title dir="auto" className="text-xl">
              {wanted.fileName}
            </Dialog.Title>
            <Dialog.Description className="mt-1">
              {comes === 0
                ? 'Everything in this file is in your bank already: nothing changes.'
                : `${counted(comes, 'comment')} would come in${known > 0 ? `; ${known} are there already and stay once` : ''}.`}
            </Dialog.Description>
          </div>
          <div tabIndex={0} role="region" aria-label="What comes in" className="overflow-y-auto">
            <ul className="grid gap-px bg-line">
              {plan.parts.map((p, i) => (
                <li key={i} className="bg-sheet py-2">
                  <p>
                    <strong dir="auto">{p.name}</strong>{' '}
                    <span className="text-soft">
                      {[
                        p.isNew ? 'new topic' : 'joined',
                        p.praise && 'praise',
                        p.departmentName,
                        `${p.comes.length} in`,
                        p.known > 0 && `${p.known} there already`,
                        p.over > 0 && `no room for ${p.over}`,
                      ]
                        .filter(Boolean)
                        .join(' · ')}
                    </span>
                  </p>
                  <ul className="ms-4 list-disc ps-4 text-sm">
                    {p.comes.slice(0, 3).map((words, n) => (
                      <li key={n} dir="auto" className="truncate">
                        {words}
                      </li>
                    ))}
                  </ul>
                  {p.comes.length > 3 && (
                    <p className="ms-4 ps-4 text-sm text-soft">and {p.comes.length - 3} more</p>
                  )}
                </li>
              ))}
            </ul>
            <ul className="mt-3 grid gap-1 text-sm">
              {plan.clipsLost > 0 && (
                <li>
                  ▲ {counted(plan.clipsLost, 'comment')} without the clip: a clip stays in the bank that it
                  was spoken for.
                </li>
              )}
              {plan.departmentsLost.map(d => (
                <li key={d}>▲ You are not in “{d}”: its comments become your own.</li>
              ))}
              {problems.map(p => (
                <li key={p.row}>
                  ▲ Row {p.row} is left out: {p.problem}
                </li>
              ))}
            </ul>
          </div>
          {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
          <div className="flex flex-wrap gap-3">
            {comes > 0 && (
              <Button
                look="main"
                disabled={reading.isLoading}
                onClick={() =>
                  void readIn({ ...wanted, trial: false })
                    .unwrap()
                    .then(onClose, () => undefined)
                }
              >
                Bring in {comes}
              </Button>
            )}
            <Button look="quiet" onClick={onClose}>
              {comes > 0 ? 'Leave it' : 'Good'}
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
