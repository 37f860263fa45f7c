import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import type { Rubric } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { useKeepRubricMutation, useRubricsQuery, useTakeRubricMutation } from '../endpoints';

/** Keeps the rubric under a name, and shows those that are kept. */
export function RubricShelf({ rubric, shown }: { rubric: Rubric; shown: boolean }) {
  const { data: kept = [] } = useRubricsQuery();
  const [keep, keeping] = useKeepRubricMutation();
  const [take] = useTakeRubricMutation();
  const [name, setName] = useState('');
  const [told, setTold] = useState<string | null>(null);
  const refusal = refusalOf(keeping.error);
  const there = kept.filter(k => k.takenAt === null);
  const taken = kept.filter(k => k.takenAt !== null);
  return (
    <div className="grid gap-2 border-t border-line pt-3">
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={event => {
          event.preventDefault();
          void keep({ name, rubric, shown })
            .unwrap()
            .then(
              () => {
                setTold(`“${name.trim()}” is on your shelf, for any assessment.`);
                setName('');
              },
              () => undefined,
            );
        }}
      >
        <Field
          label="Keep this rubric under a name"
          className="min-w-64"
          error={refusal?.fields?.name ?? (refusal && !refusal.fields ? refusal.message : null)}
        >
          {ties => (
            <input
              {...ties}
              dir="auto"
              maxLength={LIMITS.title}
              value={name}
              onChange={e => {
                setTold(null);
                setName(e.target.value);
              }}
              className={inputClass}
            />
          )}
        </Field>
        <Button type="submit" disabled={name.trim() === '' || keeping.isLoading}>
          {there.some(k => k.name.toLowerCase() === name.trim().toLowerCase())
            ? 'Keep it in place of the one so called'
            : 'Keep it on the shelf'}
        </Button>
        <span role="status">{told}</span>
      </form>
      {kept.length > 0 && (
        <Collapsible.Root>
          <Collapsible.Trigger className="group flex min-h-9 items-center gap-2 text-sm">
            <ChevronDown aria-hidden className="size-4 group-data-[state=closed]:-rotate-90" />
            Rubrics on your shelf: {there.length}
          </Collapsible.Trigger>
          <Collapsible.Content>
            <ul className="grid gap-px" aria-label="Rubrics on your shelf">
              {[...there, ...taken].map(k => (
                <li key={k.id} className="flex flex-wrap items-center gap-3">
                  <span dir="auto" className={k.takenAt ? 'text-soft line-through' : 'font-semibold'}>
                    {k.name}
                  </span>
                  <span className="text-sm text-soft">
                    {k.rubric.criteria.length} {k.rubric.criteria.length === 1 ? 'criterion' : 'criteria'} ×{' '}
                    {k.rubric.levels.length} levels
                  </span>
                  <Button
                    look="quiet"
                    aria-label={k.takenAt ? `Put “${k.name}” back` : `Take “${k.name}” off the shelf`}
                    onClick={() => void take({ id: k.id, taken: k.takenAt === null })}
                  >
                    {k.takenAt ? 'Put it back' : 'Take it off'}
                  </Button>
                </li>
              ))}
            </ul>
          </Collapsible.Content>
        </Collapsible.Root>
      )}
    </div>
  );
}
