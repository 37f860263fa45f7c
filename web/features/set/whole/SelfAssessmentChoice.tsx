import { RadioGroup } from 'radix-ui';
import { useId } from 'react';
import type { SelfAssessment } from '@ecoute/contract/assessments';

const CHOICES: [SelfAssessment, string][] = [
  ['none', 'They do not judge their own answers'],
  ['beforeHearing', 'Before they can hear themselves'],
  ['afterHearing', 'Once they have heard themselves'],
];

/** Whether students judge their own work by the assessment's own scheme, and when. */
export function SelfAssessmentChoice({
  value,
  onChange,
}: {
  value: SelfAssessment;
  onChange: (value: SelfAssessment) => void;
}) {
  const id = useId();
  return (
    <div>
      <p id={`${id}-label`} className="text-sm font-semibold">
        Students judge their own answers
      </p>
      <p className="text-sm text-soft">
        By the same scheme, with a remark of their own; you see it while listening.
      </p>
      <RadioGroup.Root
        aria-labelledby={`${id}-label`}
        value={value}
        onValueChange={chosen => onChange(chosen as SelfAssessment)}
        className="mt-1 grid gap-1"
      >
        {CHOICES.map(([choice, words]) => (
          <div key={choice} className="flex min-h-9 items-center gap-2">
            <RadioGroup.Item
              id={`${id}-${choice}`}
              value={choice}
              className="grid size-6 shrink-0 place-items-center rounded-full border-2 border-edge bg-sheet data-[state=checked]:border-ink"
            >
              <RadioGroup.Indicator className="size-3 rounded-full bg-ink" />
            </RadioGroup.Item>
            <label htmlFor={`${id}-${choice}`}>{words}</label>
          </div>
        ))}
      </RadioGroup.Root>
    </div>
  );
}
