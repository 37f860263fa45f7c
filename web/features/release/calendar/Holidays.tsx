import { ChevronDown } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import { NamedDays } from '../../../parts/NamedDays';
import { useAddHolidayMutation, useHolidaysQuery, useRemoveHolidayMutation } from '../endpoints';

/** Days without school, for everybody here: left out when something is repeated. */
export function Holidays() {
  const { data } = useHolidaysQuery();
  const [add] = useAddHolidayMutation();
  const [remove] = useRemoveHolidayMutation();
  return (
    <Collapsible.Root className="mt-2 border-t border-line">
      <Collapsible.Trigger className="group flex min-h-11 w-full items-center gap-1 text-start font-semibold">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        Days without school
      </Collapsible.Trigger>
      <Collapsible.Content className="grid gap-3">
        <NamedDays
          days={data ?? []}
          more="Add these days"
          onAdd={days => add(days).unwrap()}
          onRemove={id => remove(id).unwrap()}
        />
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
