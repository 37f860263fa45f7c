import { ChevronDown } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import type { ReactNode } from 'react';

/** What was put away, folded below what is in use; nothing where nothing was. */
export function PutAwayList({
  count,
  label,
  children,
}: {
  count: number;
  label: string;
  children: ReactNode;
}) {
  if (count === 0) return null;
  return (
    <Collapsible.Root className="mt-8">
      <Collapsible.Trigger className="group flex min-h-11 items-center gap-x-2 text-start text-xl">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        Put away <span className="text-base text-soft">{count}</span>
      </Collapsible.Trigger>
      <Collapsible.Content>
        <ul className="grid gap-px bg-line" aria-label={label}>
          {children}
        </ul>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
