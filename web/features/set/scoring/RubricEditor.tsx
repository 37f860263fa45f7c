import { Plus, X } from 'lucide-react';
import { useRef, useState, type KeyboardEvent } from 'react';
import { parsePoints, fromHundredths, pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { rubricFromText } from '@ecoute/core/formats/rubricText';
import type { Criterion, Rubric, RubricLevel } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';

const cell = 'w-full border border-edge bg-sheet px-2 py-1.5 focus-visible:outline-offset-0';

/** A decimal in the grid; what is no number stays in sight and is not taken. */
function Decimal({
  value,
  label,
  onChange,
  ...rest
}: {
  value: number;
  label: string;
  onChange: (value: number) => void;
  'data-cell': string;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const wrong = typed !== null && parsePoints(typed) === null;
  return (
    <input
      {...rest}
      aria-label={label}
      aria-invalid={wrong || undefined}
      inputMode="decimal"
      className={`${cell} tabular !w-16 aria-invalid:border-dashed`}
      value={typed ?? pointsText(toHundredths(value))}
      onChange={e => {
        setTyped(e.target.value);
        const hundredths = parsePoints(e.target.value);
        if (hundredths !== null) onChange(fromHundredths(hundredths));
      }}
      onBlur={() => setTyped(null)}
    />
  );
}

/**
 * Criteria × levels. Ctrl with an arrow goes from cell to cell; Tab goes through them in order; a table or list
 * that is pasted fills the whole.
 */
export function RubricEditor({
  rubric,
  isBlank,
  onChange,
}: {
  rubric: Rubric;
  /** Nothing is here yet: it is begun with something, or a table is pasted. */
  isBlank: boolean;
  onChange: (rubric: Rubric) => void;
}) {
  const grid = useRef<HTMLTableElement>(null);
  const [pasted, setPasted] = useState<string | null>(null);
  const reading = pasted ? rubricFromText(pasted) : null;

  const withLevel = (n: number, change: Partial<RubricLevel>) =>
    onChange({ ...rubric, levels: rubric.levels.map((l, i) => (i === n ? { ...l, ...change } : l)) });
  const withCriterion = (id: string, change: Partial<Criterion>) =>
    onChange({ ...rubric, criteria: rubric.criteria.map(c => (c.id === id ? { ...c, ...change } : c)) });
  const addLevel = () =>
    onChange({
      levels: [...rubric.levels, { name: '', points: (rubric.levels.at(-1)?.points ?? -1) + 1 }],
      criteria: rubric.criteria.map(c => ({ ...c, descriptors: [...c.descriptors, ''] })),
    });
  const dropLevel = (n: number) =>
    onChange({
      levels: rubric.levels.filter((_, i) => i !== n),
      criteria: rubric.criteria.map(c => ({ ...c, descriptors: c.descriptors.filter((_, i) => i !== n) })),
    });
  const addCriterion = () =>
    onChange({
      ...rubric,
      criteria: [
        ...rubric.criteria,
        { id: crypto.randomUUID(), name: '', weight: 1, descriptors: rubric.levels.map(() => '') },
      ],
    });

  const onKey = (event: KeyboardEvent<HTMLTableElement>) => {
    const by = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[event.key];
    const from = event.target instanceof HTMLElement ? event.target.dataset.cell : undefined;
    if (!by || !event.ctrlKey || !from) return;
    const [row, column] = from.split(' ').map(Number);
    const next = grid.current?.querySelector<HTMLElement>(
      `[data-cell="${row! + by[0]!} ${column! + by[1]!}"]`,
    );
    if (!next) return;
    event.preventDefault();
    next.focus();
  };

  return (
    <div className="grid grid-cols-1 gap-3">
      <div className={isBlank ? 'hidden' : 'overflow-x-auto'}>
        <table ref={grid} onKeyDown={onKey} className="w-full min-w-[46rem] border-collapse text-sm">
          <caption className="sr-only">The rubric. Control and an arrow key go from cell to cell.</caption>
          <thead>
            <tr>
              <th scope="col" className="w-56 p-1 text-start">
                Criterion
              </th>
              <th scope="col" className="w-20 p-1 text-start">
                Weight
              </th>
              {rubric.levels.map((level, n) => (
                <th key={n} scope="col" className="p-1 text-start font-normal">
                  <span className="flex items-center gap-1">
                    <input
                      data-cell={`0 ${n + 2}`}
                      aria-label={`Name of level ${n + 1}`}
                      value={level.name}
                      placeholder={`Level ${n + 1}`}
                      onChange={e => withLevel(n, { name: e.target.value })}
                      className={`${cell} font-semibold`}
                    />
                    <Decimal
                      data-cell={`-1 ${n + 2}`}
                      label={`Points of level ${n + 1}`}
                      value={level.points}
                      onChange={points => withLevel(n, { points })}
                    />
                    <button
                      type="button"
                      aria-label={`Take out level ${n + 1}`}
                      onClick={() => dropLevel(n)}
                      className="grid size-8 shrink-0 place-items-center"
                    >
                      <X aria-hidden className="size-4" />
                    </button>
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rubric.criteria.map((criterion, row) => (
              <tr key={criterion.id} className="align-top">
                <th scope="row" className="p-1 font-normal">
                  <span className="flex items-start gap-1">
                    <button
                      type="button"
                      aria-label={`Take out criterion ${row + 1}`}
                      onClick={() =>
                        onChange({ ...rubric, criteria: rubric.criteria.filter(c => c.id !== criterion.id) })
                      }
                      className="grid size-8 shrink-0 place-items-center"
                    >
                      <X aria-hidden className="size-4" />
                    </button>
                    <input
                      data-cell={`${row + 1} 0`}
                      aria-label={`Name of criterion ${row + 1}`}
                      value={criterion.name}
                      placeholder="What is looked at"
                      onChange={e => withCriterion(criterion.id, { name: e.target.value })}
                      className={`${cell} font-semibold`}
                    />
                  </span>
                </th>
                <td className="p-1">
                  <Decimal
                    data-cell={`${row + 1} 1`}
                    label={`Weight of criterion ${row + 1}`}
                    value={criterion.weight}
                    onChange={weight => withCriterion(criterion.id, { weight })}
                  />
                </td>
                {rubric.levels.map((level, n) => (
                  <td key={n} className="p-1">
                    <textarea
                      data-cell={`${row + 1} ${n + 2}`}
                      aria-label={`${criterion.name || `Criterion ${row + 1}`}, ${level.name || `level ${n + 1}`}`}
                      rows={2}
                      value={criterion.descriptors[n] ?? ''}
                      onChange={e =>
                        withCriterion(criterion.id, {
                          descriptors: rubric.levels.map((_, i) =>
                            i === n ? e.target.value : (criterion.descriptors[i] ?? ''),
                          ),
                        })
                      }
                      className={cell}
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="flex flex-wrap gap-3">
        {!isBlank && (
          <>
            <Button onClick={addCriterion} disabled={rubric.criteria.length >= LIMITS.criteria}>
              <Plus aria-hidden className="size-5" /> Criterion
            </Button>
            <Button onClick={addLevel} disabled={rubric.levels.length >= LIMITS.levels}>
              <Plus aria-hidden className="size-5" /> Level
            </Button>
          </>
        )}
        <Button aria-expanded={pasted !== null} onClick={() => setPasted(pasted === null ? '' : null)}>
          Paste a table or a list …
        </Button>
      </div>
      {pasted !== null && (
        <div className="grid gap-3 border-2 border-edge p-4">
          <Field
            label="From a spreadsheet or a bulleted text"
            hint={
              reading?.rubric
                ? `${reading.rubric.criteria.length} criteria × ${reading.rubric.levels.length} levels: ${reading.rubric.levels.map(l => `${l.name} (${pointsText(toHundredths(l.points))})`).join(', ')}`
                : 'A table with the levels in its first row, or a line a criterion with its levels as bullets.'
            }
            error={pasted.trim() ? (reading?.problem ?? null) : null}
          >
            {ties => (
              <textarea
                {...ties}
                rows={5}
                value={pasted}
                onChange={e => setPasted(e.target.value)}
                className={inputClass}
              />
            )}
          </Field>
          <div>
            <Button
              look="main"
              disabled={!reading?.rubric}
              onClick={() => {
                if (!reading?.rubric) return;
                onChange(withIds(reading.rubric));
                setPasted(null);
              }}
            >
              {isBlank ? 'Use it' : 'Use it instead of the rubric here'}
            </Button>
          </div>
        </div>
      )}
    </div>
  );
}

/** A rubric that was read or copied, with identities of its own. */
export function withIds(read: {
  levels: RubricLevel[];
  criteria: { name: string; weight: number; descriptors: string[] }[];
}): Rubric {
  return {
    levels: read.levels.map(l => ({ ...l })),
    criteria: read.criteria.map(({ name, weight, descriptors }) => ({
      id: crypto.randomUUID(),
      name,
      weight,
      descriptors: [...descriptors],
    })),
  };
}
