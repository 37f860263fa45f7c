import { RadioGroup } from 'radix-ui';
import { useId, type CSSProperties } from 'react';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import type { Choice } from '@ecoute/core/scoring/scheme';
import type { Rubric } from '@ecoute/contract/assessments';

/**
 * The rubric of one answer on the desk: a line a criterion, a cell a level with what it means. Where there is little room the
 * cells hold names alone, and what the chosen one means stands under them.
 */
export function RubricGrid({
  rubric,
  choices,
  missing,
  onChoose,
  onTurn,
}: {
  rubric: Rubric;
  choices: readonly Choice[];
  /** Criteria that were asked for when it was to be finished. */
  missing: readonly string[];
  /** Indices of criterion and level. */
  onChoose: (criterion: number, level: number) => void;
  /** The criterion that the keyboard is at. */
  onTurn: (criterion: number) => void;
}) {
  const id = useId();
  const columns = { '--levels': rubric.levels.length } as CSSProperties;
  return (
    <ol style={columns} className="grid gap-1.5">
      {rubric.criteria.map((criterion, i) => {
        const chosen = choices.find(c => c.criterionId === criterion.id)?.level ?? null;
        const isMissing = missing.includes(criterion.id);
        return (
          <li
            key={criterion.id}
            className="grid gap-x-2 @lg:grid-cols-[6rem_minmax(0,1fr)] @2xl:grid-cols-[7.5rem_minmax(0,1fr)]"
          >
            <span
              id={`${id}-${i}`}
              className={`text-sm leading-tight font-semibold @lg:self-center ${isMissing ? 'underline decoration-dashed decoration-2 underline-offset-4' : ''}`}
            >
              {isMissing && <span aria-hidden>▲ </span>}
              {criterion.name}
              {criterion.weight !== 1 && (
                <span className="tabular ms-1 font-normal text-soft">
                  ×{pointsText(toHundredths(criterion.weight))}
                </span>
              )}
              {isMissing && <span className="sr-only"> (not chosen yet)</span>}
            </span>
            <RadioGroup.Root
              aria-labelledby={`${id}-${i}`}
              value={chosen === null ? '' : String(chosen)}
              onValueChange={value => onChoose(i, Number(value))}
              onFocus={() => onTurn(i)}
              className="grid grid-cols-[repeat(var(--levels),minmax(0,1fr))]"
            >
              {rubric.levels.map((level, n) => (
                <RadioGroup.Item
                  key={n}
                  value={String(n)}
                  title={criterion.descriptors[n]}
                  className="-ms-px min-h-11 border border-edge bg-sheet px-1.5 py-0.5 @lg:min-h-10 text-start align-top first:ms-0 data-[state=checked]:bg-ink data-[state=checked]:text-sheet"
                >
                  <span className="block truncate text-sm leading-tight">
                    <span className="tabular me-1 text-xs">{n + 1}</span>
                    {level.name}
                  </span>
                  <span className="line-clamp-2 text-xs leading-tight opacity-80 @max-2xl:hidden">
                    {criterion.descriptors[n]}
                  </span>
                </RadioGroup.Item>
              ))}
            </RadioGroup.Root>
            <span className="line-clamp-1 min-h-4 text-xs leading-tight text-soft @lg:col-start-2 @2xl:hidden">
              {chosen === null ? '' : criterion.descriptors[chosen]}
            </span>
          </li>
        );
      })}
    </ol>
  );
}
