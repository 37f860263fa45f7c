import { Copy, Trash2 } from 'lucide-react';
import { useState } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { parsePoints, fromHundredths, pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { LengthInput } from './LengthInput';
import { PromptVoice } from './PromptVoice';

function PointsInput({
  value,
  onChange,
  onProblem,
  ...ties
}: {
  value: number;
  onChange: (points: number) => void;
  onProblem: (p: string | null) => void;
  id: string;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      {...ties}
      inputMode="decimal"
      className={`${inputClass} tabular`}
      value={typed ?? pointsText(toHundredths(value))}
      onChange={e => {
        setTyped(e.target.value);
        const hundredths = parsePoints(e.target.value);
        onProblem(hundredths === null ? 'Type points such as 5 or 2.5.' : null);
        if (hundredths !== null) onChange(fromHundredths(hundredths));
      }}
      onBlur={() => {
        setTyped(null);
        onProblem(null);
      }}
    />
  );
}

/** Everything about one item, open in its place in the list. */
export function ItemEditor({
  assessmentId,
  item,
  problems,
  onChange,
  onRemove,
  onCopy,
}: {
  assessmentId: string;
  item: Item;
  /** What the contract says of this item's fields, by field name. */
  problems: Record<string, string>;
  onChange: (change: Partial<Item>) => void;
  onRemove: () => void;
  onCopy: () => void;
}) {
  const [typing, setTyping] = useState<Record<string, string | null>>({});
  const report = (name: string) => (problem: string | null) => setTyping(t => ({ ...t, [name]: problem }));
  const problem = (name: string) => typing[name] ?? problems[name] ?? null;
  return (
    <div className="grid gap-6 border-t border-line px-5 pt-5 pb-6 lg:grid-cols-[minmax(0,1fr)_21rem]">
      <div className="grid content-start gap-4">
        <Field
          label="Prompt"
          hint="What the student reads. May stay empty when you speak it."
          error={problem('promptText')}
        >
          {ties => (
            <textarea
              {...ties}
              rows={4}
              value={item.promptText}
              onChange={e => onChange({ promptText: e.target.value })}
              className={`${inputClass} font-passage text-lg leading-relaxed`}
            />
          )}
        </Field>
        <PromptVoice assessmentId={assessmentId} item={item} onChange={onChange} />
        {problem('promptRecordingId') && (
          <p role="alert" className="font-semibold">
            ▲ {problem('promptRecordingId')}
          </p>
        )}
      </div>
      <div className="grid content-start gap-4">
        <div className="grid grid-cols-2 gap-4">
          <Field label="Time to prepare" error={problem('prepareMs')}>
            {ties => (
              <LengthInput
                {...ties}
                valueMs={item.prepareMs}
                leastMs={0}
                mostMs={LIMITS.prepareMs}
                onProblem={report('prepareMs')}
                onChange={prepareMs => onChange({ prepareMs })}
              />
            )}
          </Field>
          <Field label="Answer limit" error={problem('answerLimitMs')}>
            {ties => (
              <LengthInput
                {...ties}
                valueMs={item.answerLimitMs}
                leastMs={LIMITS.shortestAnswerLimitMs}
                mostMs={LIMITS.answerMs}
                onProblem={report('answerLimitMs')}
                onChange={answerLimitMs => onChange({ answerLimitMs })}
              />
            )}
          </Field>
          <Field label="Takes" error={problem('takesAllowed')}>
            {ties => (
              <select
                {...ties}
                className={inputClass}
                value={item.takesAllowed}
                onChange={e => onChange({ takesAllowed: Number(e.target.value) })}
              >
                {[1, 2, 3, 4, 5, 10].map(n => (
                  <option key={n} value={n}>
                    {n === 1 ? 'one only' : n}
                  </option>
                ))}
                <option value={0}>no limit</option>
              </select>
            )}
          </Field>
          <Field label="Points" error={problem('points')}>
            {ties => (
              <PointsInput
                {...ties}
                value={item.points}
                onProblem={report('points')}
                onChange={points => onChange({ points })}
              />
            )}
          </Field>
        </div>
        <div className="flex flex-wrap gap-3">
          <Button onClick={onCopy}>
            <Copy aria-hidden className="size-5" /> Copy
          </Button>
          <Button onClick={onRemove}>
            <Trash2 aria-hidden className="size-5" /> Take out
          </Button>
        </div>
      </div>
    </div>
  );
}
