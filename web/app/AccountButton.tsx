import { ChevronDown } from 'lucide-react';
import type { ComponentProps } from 'react';
import type { Me } from '@ecoute/contract/people';

export interface AccountProps {
  me: Me;
  /** Somebody sits: nothing may take the page from under them. */
  busy: boolean;
  mailbox: boolean;
}

/** A person's name, which opens their menu. */
export function AccountButton({ me, ...rest }: { me: Me } & ComponentProps<'button'>) {
  return (
    <button type="button" className="flex min-h-11 min-w-0 items-center gap-1 px-1" {...rest}>
      <span className="truncate">{me.displayName}</span>
      <ChevronDown aria-hidden className="size-4 shrink-0" />
    </button>
  );
}
