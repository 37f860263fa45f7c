import { RadioGroup } from 'radix-ui';

/** A choice among a few, all in sight. */
export function Segments<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly { value: T; name: string }[];
  onChange: (value: T) => void;
}) {
  return (
    <RadioGroup.Root
      aria-label={label}
      value={value}
      onValueChange={chosen => onChange(chosen as T)}
      className="inline-flex flex-wrap justify-self-start border-2 border-edge"
    >
      {options.map(option => (
        <RadioGroup.Item
          key={option.value}
          value={option.value}
          className="min-h-11 bg-sheet px-4 font-semibold data-[state=checked]:bg-ink data-[state=checked]:text-sheet"
        >
          {option.name}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}
