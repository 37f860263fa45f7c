import { X } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { useAddHolidayMutation, useHolidaysQuery, useRemoveHolidayMutation } from '../endpoints';

const short = (day: string) =>
  new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' }).format(
    new Date(`${day}T00:00Z`),
  );

/** Days without school, for everybody here: left out when something is repeated. */
export function Holidays() {
  const { data } = useHolidaysQuery();
  const [add, adding] = useAddHolidayMutation();
  const [remove] = useRemoveHolidayMutation();
  const [draft, setDraft] = useState({ name: '', firstOn: '', lastOn: '' });
  const fields = refusalOf(adding.error)?.fields;
  const set = (change: Partial<typeof draft>) => setDraft({ ...draft, ...change });
  const input = (name: keyof typeof draft, label: string, type: string) => (
    <Field label={label} error={fields?.[name]}>
      {ties => (
        <input
          {...ties}
          type={type}
          value={draft[name]}
          onChange={e => set({ [name]: e.target.value })}
          className={inputClass}
        />
      )}
    </Field>
  );
  return (
    <Collapsible.Root className="mt-2 border-t border-line">
      <Collapsible.Trigger className="group flex min-h-11 w-full items-center gap-1 text-start font-semibold">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        Days without school
      </Collapsible.Trigger>
      <Collapsible.Content className="grid gap-3">
        <ul className="grid gap-1">
          {data?.map(h => (
            <li key={h.id} className="flex items-center gap-2 text-sm">
              <span className="min-w-0">
                {h.name}
                <span className="block text-soft">
                  {short(h.firstOn)} – {short(h.lastOn)}
                </span>
              </span>
              <button
                type="button"
                aria-label={`Remove ${h.name}`}
                onClick={() => void remove(h.id)}
                className="ms-auto grid size-8 place-items-center hover:bg-sunk"
              >
                <X aria-hidden className="size-4" />
              </button>
            </li>
          ))}
        </ul>
        <form
          className="grid gap-2"
          onSubmit={event => {
            event.preventDefault();
            void add({ ...draft, lastOn: draft.lastOn || draft.firstOn })
              .unwrap()
              .then(
                () => setDraft({ name: '', firstOn: '', lastOn: '' }),
                () => undefined,
              );
          }}
        >
          {input('name', 'Name', 'text')}
          {input('firstOn', 'First day', 'date')}
          {input('lastOn', 'Last day', 'date')}
          <Button type="submit" disabled={!draft.name.trim() || !draft.firstOn}>
            Add these days
          </Button>
        </form>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
