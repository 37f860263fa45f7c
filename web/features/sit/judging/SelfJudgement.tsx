import { RadioGroup } from 'radix-ui';
import { useCallback, useEffect, useId, useRef, useState } from 'react';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { carriedBy, type Item } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import type { Judgement } from '@ecoute/contract/judgements';
import type { SittingView } from '@ecoute/contract/sittings';
import { Field, inputClass } from '../../../parts/Field';
import { RubricMarks } from '../../../parts/RubricMarks';
import { useJudgeMutation } from '../endpoints';
import { isSaid, NONE } from './judging';
import { useRehearsal } from '../rehearsal/rehearsal';
import { t } from '../../../base/i18n';

const PAUSE_MS = 600;
const RETRY_MS = 4_000;

function useJudgement(sitting: SittingView, key: string) {
  const rehearsal = useRehearsal();
  const [judgement, setJudgement] = useState(sitting.judgements[key] ?? NONE);
  const [judge] = useJudgeMutation();
  const [told, setTold] = useState<string | null>(null);
  const latest = useRef(judgement);
  const sent = useRef(judgement);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const send = useCallback(async () => {
    clearTimeout(timer.current);
    const now = latest.current;
    if (rehearsal || now === sent.current) return;
    try {
      await judge({ sittingId: sitting.id, itemId: key, judgement: now }).unwrap();
      sent.current = now;
      setTold(t('Saved'));
    } catch {
      setTold(t('Saved when Ecoute answers again'));
      timer.current = setTimeout(() => void send(), RETRY_MS);
    }
  }, [judge, key, rehearsal, sitting.id]);
  useEffect(() => () => void send(), [send]);
  const change = (part: Partial<Judgement>) => {
    latest.current = { ...latest.current, ...part };
    setJudgement(latest.current);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void send(), PAUSE_MS);
  };
  return { judgement, change, told };
}

function Choices({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: { value: string; name: string; under?: string }[];
  onChange: (value: string) => void;
}) {
  const id = useId();
  return (
    <RadioGroup.Root aria-label={label} value={value} onValueChange={onChange} className="grid gap-1">
      {options.map(o => (
        <div key={o.value} className="flex min-h-11 items-center gap-3">
          <RadioGroup.Item
            id={`${id}-${o.value}`}
            value={o.value}
            className="grid size-7 shrink-0 place-items-center rounded-full border-2 border-ink"
          >
            <RadioGroup.Indicator className="size-4 rounded-full bg-ink" />
          </RadioGroup.Item>
          <label htmlFor={`${id}-${o.value}`}>
            <span className="font-semibold">{o.name}</span>
            {o.under && <span className="block text-sm text-soft">{o.under}</span>}
          </label>
        </div>
      ))}
    </RadioGroup.Root>
  );
}

/** The student's own judgement of an answer, or of the whole sitting (no item), on the assessment's scheme. */
export function SelfJudgement({
  sitting,
  item,
  onSaid,
}: {
  sitting: SittingView;
  item: Item | null;
  /** Told when something is said for the first time. */
  onSaid?: () => void;
}) {
  const { judgement, change, told } = useJudgement(sitting, item?.id ?? sitting.id);
  const { scoring } = sitting.content;
  const said = isSaid(judgement);
  useEffect(() => {
    if (said) onSaid?.();
  }, [onSaid, said]);
  const carried = item ? carriedBy(sitting.content, item) : 0;
  return (
    <section
      aria-label={t('Your own judgement')}
      className="grid grid-cols-1 gap-3 border-s-4 border-petrol ps-4"
    >
      <h3 className="text-lg">{item ? t('How did it go?') : t('Where do you see yourself?')}</h3>
      {item && scoring.kind === 'rubric' && scoring.rubric && (
        <RubricMarks
          rubric={scoring.rubric}
          choices={judgement.choices}
          onTurn={() => undefined}
          onChoose={(criterion, level) => {
            const criterionId = scoring.rubric!.criteria[criterion]!.id;
            change({
              choices: [
                ...judgement.choices.filter(c => c.criterionId !== criterionId),
                { criterionId, level },
              ],
            });
          }}
        />
      )}
      {item && scoring.kind === 'points' && carried > 0 && (
        <Field
          label={t('Points you would give yourself, of {{maximum}}', {
            maximum: pointsText(toHundredths(carried)),
          })}
        >
          {ties => (
            <input
              {...ties}
              type="number"
              min={0}
              max={carried}
              step="any"
              value={judgement.points ?? ''}
              onChange={e => {
                const points = e.target.value === '' ? null : Number(e.target.value);
                if (points === null || (points >= 0 && points <= carried))
                  change({ points: points === null ? null : Math.round(points * 100) / 100 });
              }}
              className={`${inputClass} tabular !w-28`}
            />
          )}
        </Field>
      )}
      {item && scoring.kind === 'done' && (
        <Choices
          label={t('Is it done?')}
          value={judgement.points === null ? '' : String(judgement.points)}
          options={[
            { value: '1', name: t('I have done what was asked') },
            { value: '0', name: t('Not yet') },
          ]}
          onChange={v => change({ points: Number(v) })}
        />
      )}
      {!item && scoring.kind === 'level' && (
        <Choices
          label={t('Level')}
          value={judgement.level === null ? '' : String(judgement.level)}
          options={scoring.scale.map((l, i) => ({ value: String(i), name: l.name, under: l.descriptor }))}
          onChange={v => change({ level: Number(v) })}
        />
      )}
      <Field
        label={t('In your own words')}
        hint={told ?? t('What went well, what you would do again differently.')}
      >
        {ties => (
          <textarea
            {...ties}
            rows={2}
            maxLength={LIMITS.remark}
            value={judgement.remark}
            onChange={e => change({ remark: e.target.value })}
            className={inputClass}
          />
        )}
      </Field>
    </section>
  );
}
