import { ToggleGroup } from 'radix-ui';
import { useId, type Ref } from 'react';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { counted } from '../../../parts/counted';
import { inputClass } from '../../../parts/Field';
import type { MarkDraft } from '../marking';

/** Points up to here each have a button. */
const BUTTONS_UP_TO = 12;

/** What an answer is given, by the assessment's scheme: points, done or not, the level that it shows. */
export function ScoreRow({
  content,
  item,
  carries,
  draft,
  toldBy,
  isWrong,
  field,
  onChange,
  onGiven,
}: {
  content: AssessmentContent;
  item: Item;
  carries: number;
  draft: MarkDraft;
  /** Id of the line that says what is wrong with it. */
  toldBy: string;
  isWrong: boolean;
  field: Ref<HTMLInputElement>;
  onChange: (part: Partial<MarkDraft>) => void;
  /** Given by one press, and not by typing: whoever lets a number finish is done. */
  onGiven: (part: Partial<MarkDraft>) => void;
}) {
  const { kind, scale } = content.scoring;
  const id = useId();
  if (kind === 'done')
    return (
      <div>
        <p className="mb-1 text-sm font-semibold">This answer is</p>
        <ToggleGroup.Root
          type="single"
          aria-label="This answer is"
          aria-describedby={toldBy}
          value={draft.points}
          onValueChange={value => value && onGiven({ points: value })}
          className="inline-flex border-2 border-edge"
        >
          {(['1', '0'] as const).map(value => (
            <ToggleGroup.Item
              key={value}
              value={value}
              className="min-h-10 bg-sheet px-4 font-semibold data-[state=on]:bg-ink data-[state=on]:text-sheet"
            >
              {value === '1' ? 'done' : 'not done'}
            </ToggleGroup.Item>
          ))}
        </ToggleGroup.Root>
      </div>
    );
  if (kind === 'level')
    return (
      <div className="min-w-0">
        <p id={id} className="mb-1 text-sm font-semibold">
          This recording shows
        </p>
        <div role="group" aria-labelledby={id} aria-describedby={toldBy} className="flex flex-wrap">
          {scale.map((level, n) => (
            <button
              key={n}
              type="button"
              title={level.descriptor}
              aria-pressed={draft.choices[0]?.level === n}
              onClick={() => onGiven({ choices: [{ criterionId: item.id, level: n }] })}
              className="-ms-px min-h-11 border border-edge bg-sheet px-3 first:ms-0 aria-pressed:bg-ink aria-pressed:text-sheet"
            >
              <span className="tabular me-1 text-xs">{n + 1}</span>
              {level.name}
            </button>
          ))}
        </div>
      </div>
    );
  if (carries === 0)
    return (
      <p className="self-center text-soft">
        {kind === 'none' ? 'Nothing is scored here.' : 'This item carries no points.'}
      </p>
    );
  const whole = kind === 'points' && Number.isInteger(carries) && carries <= BUTTONS_UP_TO ? carries : 0;
  return (
    <div className={`min-w-0 ${kind === 'rubric' ? 'flex items-center gap-2' : ''}`}>
      <label
        htmlFor={id}
        className={`block text-sm font-semibold ${kind === 'rubric' ? '@lg:w-24 @2xl:w-30' : 'mb-1'}`}
      >
        Points, of {pointsText(toHundredths(carries))}
      </label>
      <div className="flex flex-wrap items-center gap-1">
        <input
          id={id}
          ref={field}
          aria-describedby={toldBy}
          aria-invalid={isWrong || undefined}
          inputMode="decimal"
          value={draft.points}
          onChange={e => onChange({ points: e.target.value })}
          className={`${inputClass} tabular !w-16 !px-2 text-lg sm:!w-18`}
        />
        {whole > 0 &&
          Array.from({ length: whole + 1 }, (_, n) => (
            <button
              key={n}
              type="button"
              aria-label={counted(n, 'point')}
              aria-pressed={draft.points === String(n)}
              onClick={() => onGiven({ points: String(n) })}
              className="tabular min-h-11 min-w-8 border sm:min-w-9 border-edge bg-sheet aria-pressed:bg-ink aria-pressed:text-sheet"
            >
              {n}
            </button>
          ))}
      </div>
    </div>
  );
}
