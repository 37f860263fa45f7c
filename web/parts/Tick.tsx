import { Check } from 'lucide-react';
import { Checkbox } from 'radix-ui';
import { useId, type ReactNode } from 'react';

/** Yes or no, with its words as the label. */
export function Tick({
  checked,
  onChange,
  children,
}: {
  checked: boolean;
  onChange: (checked: boolean) => void;
  children: ReactNode;
}) {
  const id = useId();
  return (
    <div className="flex min-h-9 items-center gap-2">
      <Checkbox.Root
        id={id}
        checked={checked}
        onCheckedChange={c => onChange(c === true)}
        className="grid size-6 shrink-0 place-items-center border-2 border-edge bg-sheet data-[state=checked]:border-ink data-[state=checked]:bg-ink"
      >
        <Checkbox.Indicator>
          <Check aria-hidden className="size-4 text-sheet" />
        </Checkbox.Indicator>
      </Checkbox.Root>
      <label htmlFor={id} className="py-1">
        {children}
      </label>
    </div>
  );
}
