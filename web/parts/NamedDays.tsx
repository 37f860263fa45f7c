import { X } from 'lucide-react';
import { useState } from 'react';
import type { HolidayView, NewHoliday } from '@ecoute/contract/releases';
import { refusalOf } from '../base/api';
import { Button } from './Button';
import { Field, inputClass } from './Field';

/** A day of the calendar, short: 3 Nov. */
export const shortDay = (day: string) =>
  new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' }).format(
    new Date(`${day}T00:00Z`),
  );

const NONE = { name: '', firstOn: '', lastOn: '' };

/** Stretches of days with a name, for the whole school, with a form for one more. */
export function NamedDays({
  days,
  more,
  onAdd,
  onRemove,
}: {
  days: readonly HolidayView[];
  /** What adds one. */
  more: string;
  /** @throws Refusal with the fields that are wrong */
  onAdd: (days: NewHoliday) => Promise<unknown>;
  onRemove: (id: string) => Promise<unknown>;
}) {
  const [draft, setDraft] = useState(NONE);
  const [fields, setFields] = useState<Record<string, string>>({});
  const [told, setTold] = useState<string | null>(null);
  /** What was removed last, until it is put back or something else is done. */
  const [gone, setGone] = useState<NewHoliday | null>(null);
  const input = (name: keyof typeof draft, label: string, type: string) => (
    <Field label={label} error={fields[name]}>
      {ties => (
        <input
          {...ties}
          type={type}
          value={draft[name]}
          onChange={e => setDraft({ ...draft, [name]: e.target.value })}
          className={inputClass}
        />
      )}
    </Field>
  );
  return (
    <>
      <ul className="grid gap-1">
        {days.map(h => (
          <li key={h.id} className="flex items-center gap-2 text-sm">
            <span className="min-w-0">
              {h.name}
              <span className="block text-soft">
                {shortDay(h.firstOn)} – {shortDay(h.lastOn)}
              </span>
            </span>
            <button
              type="button"
              aria-label={`Remove ${h.name}`}
              onClick={() => {
                setTold(null);
                onRemove(h.id).then(
                  () => setGone({ name: h.name, firstOn: h.firstOn, lastOn: h.lastOn }),
                  (failed: unknown) =>
                    setTold(refusalOf(failed)?.message ?? 'These days are not removed. Try again.'),
                );
              }}
              className="ms-auto grid size-8 place-items-center hover:bg-sunk"
            >
              <X aria-hidden className="size-4" />
            </button>
          </li>
        ))}
      </ul>
      {gone && (
        <p role="status" className="flex flex-wrap items-center gap-3 text-sm">
          “{gone.name}” is removed.
          <Button
            onClick={() =>
              void onAdd(gone).then(
                () => setGone(null),
                () => setTold('These days are not put back. Add them again.'),
              )
            }
          >
            Undo
          </Button>
        </p>
      )}
      {told && (
        <p role="alert" className="text-sm font-semibold">
          {told}
        </p>
      )}
      <form
        className="grid gap-2"
        onSubmit={event => {
          event.preventDefault();
          setTold(null);
          setGone(null);
          onAdd({ ...draft, lastOn: draft.lastOn || draft.firstOn }).then(
            () => {
              setDraft(NONE);
              setFields({});
            },
            (failed: unknown) => {
              const refusal = refusalOf(failed);
              setFields(refusal?.fields ?? {});
              if (!refusal?.fields) setTold(refusal?.message ?? 'This is not kept. Try again.');
            },
          );
        }}
      >
        {input('name', 'Name', 'text')}
        {input('firstOn', 'First day', 'date')}
        {input('lastOn', 'Last day', 'date')}
        <Button type="submit" disabled={!draft.name.trim() || !draft.firstOn}>
          {more}
        </Button>
      </form>
    </>
  );
}
