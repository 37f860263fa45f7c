import { RadioGroup } from 'radix-ui';
import { useId } from 'react';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import type { Choice } from '@ecoute/core/scoring/scheme';
import type { Rubric } from '@ecoute/contract/assessments';

/** The rubric of one answer: a line a criterion, a button a level. Tab goes from criterion to criterion. */
export function RubricMarks({
  rubric,
  choices,
  onChoose,
  onTurn,
}: {
  rubric: Rubric;
  choices: readonly Choice[];
  /** Indices of criterion and level. */
  onChoose: (criterion: number, level: number) => void;
  /** The criterion that the keyboard is at. */
  onTurn: (criterion: number) => void;
}) {
  const id = useId();
  return (
    <ol className="mb-4 divide-y divide-line border-y border-line">
      {rubric.criteria.map((criterion, i) => {
        const chosen = choices.find(c => c.criterionId === criterion.id)?.level ?? null;
        return (
          <li
            key={criterion.id}
            className="grid items-center gap-x-4 gap-y-1 py-1.5 lg:grid-cols-[12rem_auto_minmax(0,1fr)]"
          >
            <span id={`${id}-${i}`} className="font-semibold">
              {criterion.name}
              {criterion.weight !== 1 && (
                <span className="tabular ms-2 text-sm font-normal text-soft">
                  ×{pointsText(toHundredths(criterion.weight))}
                </span>
              )}
            </span>
            <RadioGroup.Root
              aria-labelledby={`${id}-${i}`}
              value={chosen === null ? '' : String(chosen)}
              onValueChange={value => onChoose(i, Number(value))}
              onFocus={() => onTurn(i)}
              className="flex flex-wrap"
            >
              {rubric.levels.map((level, n) => (
                <RadioGroup.Item
                  key={n}
                  value={String(n)}
                  title={criterion.descriptors[n]}
                  className="-ms-px min-h-10 border border-edge bg-sheet px-3 first:ms-0 data-[state=checked]:bg-ink data-[state=checked]:text-sheet"
                >
                  <span className="tabular me-1 text-xs">{n + 1}</span>
                  {level.name}
                </RadioGroup.Item>
              ))}
            </RadioGroup.Root>
            <span className="text-sm text-soft">{chosen === null ? '' : criterion.descriptors[chosen]}</span>
          </li>
        );
      })}
    </ol>
  );
}
