import { Check } from 'lucide-react';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import type { Choice } from '@ecoute/core/scoring/scheme';
import type { Rubric, Scoring } from '@ecoute/contract/assessments';
import { t } from '../base/i18n';

/** A rubric to read: each criterion with its levels; with choices, the level that was given stands out. */
export function RubricView({ rubric, choices }: { rubric: Rubric; choices?: readonly Choice[] }) {
  return (
    <dl className="grid gap-3 text-sm">
      {rubric.criteria.map(criterion => {
        const chosen = choices?.find(c => c.criterionId === criterion.id)?.level ?? null;
        return (
          <div key={criterion.id}>
            <dt className="font-semibold">
              {criterion.name}
              {criterion.weight !== 1 && (
                <span className="tabular font-normal text-soft">
                  {' '}
                  ×{pointsText(toHundredths(criterion.weight))}
                </span>
              )}
            </dt>
            <dd className="mt-1 grid gap-px bg-line sm:auto-cols-fr sm:grid-flow-col">
              {rubric.levels.map((level, n) => (
                <span
                  key={n}
                  className={`block px-2 py-1 ${chosen === n ? 'bg-saffron-wash' : 'bg-sheet'} ${choices && chosen !== n ? 'text-soft' : ''}`}
                >
                  <span className="flex items-center gap-1 font-semibold">
                    {chosen === n && (
                      <>
                        <Check aria-hidden className="size-4" />
                        <span className="sr-only">{t('Given:')} </span>
                      </>
                    )}
                    {level.name}
                  </span>
                  {criterion.descriptors[n]}
                </span>
              ))}
            </dd>
          </div>
        );
      })}
    </dl>
  );
}

/** What students read of the scoring before they begin; nothing where it is not shown to them. */
export function ScoringView({ scoring }: { scoring: Scoring }) {
  if (!scoring.shown) return null;
  if (scoring.kind === 'rubric' && scoring.rubric)
    return (
      <details>
        <summary className="min-h-9 cursor-pointer font-semibold">{t('What is looked at')}</summary>
        <div className="pt-2">
          <RubricView rubric={scoring.rubric} />
        </div>
      </details>
    );
  if (scoring.kind === 'level' && scoring.scale.length > 0)
    return (
      <details>
        <summary className="min-h-9 cursor-pointer font-semibold">{t('The levels')}</summary>
        <dl className="grid gap-x-4 gap-y-1 pt-2 text-sm sm:grid-cols-[8rem_1fr]">
          {scoring.scale.map((level, i) => (
            <div key={i} className="contents">
              <dt className="font-semibold">{level.name}</dt>
              <dd>{level.descriptor}</dd>
            </div>
          ))}
        </dl>
      </details>
    );
  return null;
}
