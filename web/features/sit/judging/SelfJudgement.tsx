import { RadioGroup } from 'radix-ui';
import { useEffect, useId } from 'react';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import type { Item } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import { LIMITS } from '@ecoute/contract/limits';
import type { Judgement } from '@ecoute/contract/judgements';
import type { SittingView } from '@ecoute/contract/sittings';
import { Field, inputClass } from '../../../parts/Field';
import { RubricMarks } from '../../../parts/RubricMarks';
import { Kept } from '../../../base/kept/kept';
import { useKept } from '../../../base/kept/useKept';
import { useJudgeMutation } from '../endpoints';
import { isSaid, NONE } from './judging';
import { useRehearsal } from '../rehearsal/rehearsal';
import { t } from '../../../base/i18n';

const PAUSE_MS = 600;

function useJudgement(sitting: SittingView, key: string) {
  const rehearsal = useRehearsal();
  const [judge] = useJudgeMutation();
  const [{ value, state, refusal }, kept] = useKept<Judgement>(
    rehearsal ? null : `ecoute-judgement-${sitting.id}-${key}`,
    shelf =>
      new Kept({
        // The last word counts, whichever device it was said on: there are no revisions.
        stored: { value: sitting.judgements[key] ?? NONE, revision: 0 },
        send: async judgement => {
          if (!rehearsal) await judge({ sittingId: sitting.id, itemId: key, judgement }).unwrap();
          return { value: judgement, revision: 0 };
        },
        theirs: () => null,
        shelf,
        pauseMs: PAUSE_MS,
      }),
  );
  const said = {
    still: null,
    changed: null,
    saving: null,
    saved: rehearsal ? null : t('Saved'),
    away: t('Saved when Ecoute answers again'),
    refused: null,
    conflict: null,
  }[state];
  return {
    judgement: value,
    change: (part: Partial<Judgement>) => kept.change({ ...kept.now().value, ...part }),
    said,
    refused: state === 'refused' && refusal ? t(refusal.message) : null,
  };
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
  const { judgement, change, said: saved, refused } = useJudgement(sitting, item?.id ?? sitting.id);
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
        error={refused}
        hint={saved ?? t('What went well, what you would do again differently.')}
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
