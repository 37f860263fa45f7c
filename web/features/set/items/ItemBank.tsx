import { Library } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useMemo, useState } from 'react';
import { isRecorded } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Tick } from '../../../parts/Tick';
import { languageName } from '../../../parts/LanguageSelect';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { player } from '../../../parts/player/usePlayer';
import {
  ANYTHING,
  entriesOf,
  heardOf,
  inLine,
  kindOf,
  languagesOf,
  searched,
  tagKey,
  taken,
  type ItemKind,
  type Search,
} from './itemSearch';
import { useAssessmentsQuery, usePutAwayAssessmentsQuery, useShelfQuery } from '../endpoints';

const KINDS: Record<ItemKind, string> = {
  spoken: 'spoken or played',
  conversation: 'in a conversation',
  filmed: 'on camera or screen',
  file: 'with a file',
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
  const [search, setSearch] = useState<Search>(ANYTHING);
  const [chosen, setChosen] = useState<Record<string, Item>>({});
  const { data } = useAssessmentsQuery(undefined, { skip: !open, refetchOnMountOrArgChange: true });
  const { data: away = [] } = usePutAwayAssessmentsQuery(undefined, {
    skip: !open,
    refetchOnMountOrArgChange: true,
  });
  const { data: shelf } = useShelfQuery(undefined, { skip: !open, refetchOnMountOrArgChange: true });
  const entries = useMemo(
    // Put away, an assessment is no longer in the way, and its items are as good as they were.
    () =>
      entriesOf([...(data ?? []), ...away.filter(a => a.away === 'kept'), ...(shelf ?? [])], assessmentId),
    [assessmentId, away, data, shelf],
  );
  const found = searched(entries, search);
  const tags = [...new Set(entries.flatMap(e => e.item.tags.map(tagKey)))].sort();
  const languages = [...new Set(entries.flatMap(e => languagesOf(e.item)))].sort();
  const narrow = (change: Partial<Search>) => setSearch(s => ({ ...s, ...change }));
  const count = Object.keys(chosen).length;
  const close = () => {
    // What was heard here to choose by is not heard on.
    if (open) player.pause();
    setOpen(false);
    setChosen({});
    setSearch(ANYTHING);
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
                  value={search.words}
                  onChange={e => narrow({ words: e.target.value })}
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
                  value={search.kind ?? ''}
                  onChange={e => narrow({ kind: (e.target.value || null) as ItemKind | null })}
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
            {tags.length > 0 && (
              <Field label="Tag">
                {ties => (
                  <select
                    {...ties}
                    className={inputClass}
                    value={search.tag}
                    onChange={e => narrow({ tag: e.target.value })}
                  >
                    <option value="">any or none</option>
                    {tags.map(t => (
                      <option key={t}>{t}</option>
                    ))}
                  </select>
                )}
              </Field>
            )}
            {languages.length > 0 && (
              <Field label="Language">
                {ties => (
                  <select
                    {...ties}
                    className={inputClass}
                    value={search.language}
                    onChange={e => narrow({ language: e.target.value })}
                  >
                    <option value="">any</option>
                    {languages.map(l => (
                      <option key={l} value={l}>
                        {languageName(l)}
                      </option>
                    ))}
                  </select>
                )}
              </Field>
            )}
          </div>
          <ul
            tabIndex={0}
            aria-label="Items found"
            className="min-h-0 flex-1 divide-y divide-line overflow-y-auto"
          >
            {found.slice(0, SHOWN).map(({ item, number, assessmentId: from, title, releases, by }) => {
              const key = `${from} ${item.id}`;
              return (
                <li key={key} className="flex items-start gap-3 py-2">
                  <div className="min-w-0 flex-1">
                    <Tick
                      checked={key in chosen}
                      onChange={on =>
                        setChosen(now => {
                          const { [key]: _, ...others } = now;
                          return on ? { ...others, [key]: item } : others;
                        })
                      }
                    >
                      <span className="font-passage">
                        {inLine(item) || `item ${number}, without words yet`}
                      </span>
                    </Tick>
                    <p className="ps-8 text-sm text-soft">
                      Item {number} of “{title}”, {KINDS[kindOf(item)]}
                      {isRecorded(item.answerBy) && `, ${clock(item.answerLimitMs)}`} · {by && `${by} · `}
                      {releases === 0
                        ? 'never released'
                        : releases === 1
                          ? 'released once'
                          : `released ${releases} times`}
                    </p>
                  </div>
                  {heardOf(item) && (
                    <PlayButton
                      track={trackOf(heardOf(item)!.id, inLine(item), 'teacher', heardOf(item)!.durationMs)}
                      label={`item ${number} of “${title}”`}
                      text={
                        heardOf(item)!.durationMs === null ? undefined : clock(heardOf(item)!.durationMs!)
                      }
                    />
                  )}
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
                onTake(Object.values(chosen).map(item => taken(item)));
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
