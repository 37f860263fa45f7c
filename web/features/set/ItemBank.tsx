import { Library } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Tick } from '../../parts/Tick';
import { kindOf, searched, taken, type ItemKind } from './bank';
import { useAssessmentsQuery } from './endpoints';

const KINDS: Record<ItemKind, string> = {
  spoken: 'spoken or played',
  conversation: 'in a conversation',
  written: 'in writing',
  material: 'material',
};
/** More than anybody looks through; a word narrows it. */
const SHOWN = 60;

/** The item bank: items of earlier assessments, found by words and kind, taken as copies. */
export function ItemBank({
  assessmentId,
  onTake,
}: {
  assessmentId: string;
  onTake: (items: Item[]) => void;
}) {
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState('');
  const [kind, setKind] = useState<ItemKind | null>(null);
  const [chosen, setChosen] = useState<Record<string, Item>>({});
  const { data } = useAssessmentsQuery(undefined, { skip: !open, refetchOnMountOrArgChange: true });
  const found = searched(data ?? [], words, kind, assessmentId);
  const count = Object.keys(chosen).length;
  const close = () => {
    setOpen(false);
    setChosen({});
    setWords('');
  };
  return (
    <Dialog.Root open={open} onOpenChange={o => (o ? setOpen(true) : close())}>
      <Dialog.Trigger asChild>
        <Button>
          <Library aria-hidden className="size-5" /> From the item bank …
        </Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-x-4 top-8 bottom-8 z-50 mx-auto flex max-w-3xl flex-col gap-4 border-2 border-ink bg-sheet p-6"
        >
          <Dialog.Title className="text-xl">Item bank</Dialog.Title>
          <div className="grid gap-4 sm:grid-cols-[minmax(0,1fr)_14rem]">
            <Field label="Words">
              {ties => (
                <input
                  {...ties}
                  type="search"
                  value={words}
                  onChange={e => setWords(e.target.value)}
                  placeholder="in the prompt, the hint, a turn or the title"
                  className={inputClass}
                />
              )}
            </Field>
            <Field label="Kind">
              {ties => (
                <select
                  {...ties}
                  className={inputClass}
                  value={kind ?? ''}
                  onChange={e => setKind((e.target.value || null) as ItemKind | null)}
                >
                  <option value="">every kind</option>
                  {Object.entries(KINDS).map(([k, name]) => (
                    <option key={k} value={k}>
                      {name}
                    </option>
                  ))}
                </select>
              )}
            </Field>
          </div>
          <ul
            tabIndex={0}
            aria-label="Items found"
            className="min-h-0 flex-1 divide-y divide-line overflow-y-auto"
          >
            {found.slice(0, SHOWN).map(({ item, number, assessmentId: from, title, releases }) => {
              const key = `${from} ${item.id}`;
              return (
                <li key={key} className="py-2">
                  <Tick
                    checked={key in chosen}
                    onChange={on =>
                      setChosen(now => {
                        const { [key]: _, ...others } = now;
                        return on ? { ...others, [key]: item } : others;
                      })
                    }
                  >
                    <span className="font-passage">{item.promptText || 'spoken prompt'}</span>
                  </Tick>
                  <p className="pl-8 text-sm text-soft">
                    Item {number} of “{title}”, {KINDS[kindOf(item)]}
                    {item.answerBy === 'audio' && `, ${clock(item.answerLimitMs)}`} ·{' '}
                    {releases === 0
                      ? 'never released'
                      : releases === 1
                        ? 'released once'
                        : `released ${releases} times`}
                  </p>
                </li>
              );
            })}
            {data && found.length === 0 && (
              <li className="py-4 text-soft">Nothing here holds these words. Try fewer.</li>
            )}
            {found.length > SHOWN && (
              <li className="py-4 text-soft">{found.length - SHOWN} more; another word shows fewer.</li>
            )}
          </ul>
          <div className="flex flex-wrap justify-end gap-3">
            <Button onClick={close}>Close</Button>
            <Button
              look="main"
              disabled={count === 0}
              onClick={() => {
                onTake(Object.values(chosen).map(taken));
                close();
              }}
            >
              {count === 0 ? 'Take' : count === 1 ? 'Take this item' : `Take ${count} items`}
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
