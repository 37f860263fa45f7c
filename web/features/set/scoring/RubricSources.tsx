import { useState } from 'react';
import type { Rubric } from '@ecoute/contract/assessments';
import { Button } from '../../../parts/Button';
import { Confirm } from '../../../parts/Confirm';
import { inputClass } from '../../../parts/Field';
import { useAssessmentsQuery, useRubricsQuery } from '../endpoints';
import { withIds } from './RubricEditor';
import { RUBRIC_TEMPLATES } from './rubricTemplates';

/** Something is written in it that nobody wants to lose. */
export const isWritten = (rubric: Rubric | null) =>
  rubric?.criteria.some(c => c.name.trim() !== '' || c.descriptors.some(d => d.trim() !== '')) ?? false;

/** Where a rubric comes from: the shelf, a template, or another assessment of one's own. */
export function RubricSources({
  assessmentId,
  present,
  onTake: take,
}: {
  assessmentId: string;
  /** The rubric that is here. One that is written is not replaced without a question. */
  present: Rubric | null;
  onTake: (rubric: Rubric, shown?: boolean) => void;
}) {
  const { data } = useAssessmentsQuery(undefined, { refetchOnMountOrArgChange: true });
  const { data: kept = [] } = useRubricsQuery();
  const [asking, setAsking] = useState<{ rubric: Rubric; shown?: boolean } | null>(null);
  const onTake = (rubric: Rubric, shown?: boolean) =>
    isWritten(present) ? setAsking({ rubric, ...(shown !== undefined && { shown }) }) : take(rubric, shown);
  const shelf = kept.filter(k => k.takenAt === null);
  const others = (data ?? []).filter(a => a.id !== assessmentId && a.content.scoring.rubric?.criteria.length);
  return (
    <div className="flex flex-wrap items-center gap-3">
      <span className="text-sm font-semibold">Begin with</span>
      {shelf.length > 0 && (
        <select
          aria-label="A rubric of yours"
          value=""
          onChange={e => {
            const found = shelf.find(k => k.id === e.target.value);
            if (found) onTake(withIds(found.rubric), found.shown);
          }}
          className={`${inputClass} !w-auto`}
        >
          <option value="">a rubric of yours …</option>
          {shelf.map(k => (
            <option key={k.id} value={k.id}>
              {k.name}
            </option>
          ))}
        </select>
      )}
      {RUBRIC_TEMPLATES.map(t => (
        <Button key={t.name} onClick={() => onTake(withIds(t.rubric))}>
          {t.name}
        </Button>
      ))}
      <Button
        onClick={() =>
          onTake(
            withIds({
              levels: ['not yet', 'nearly', 'yes'].map((name, points) => ({ name, points })),
              criteria: [{ name: '', weight: 1, descriptors: ['', '', ''] }],
            }),
          )
        }
      >
        an empty one
      </Button>
      {others.length > 0 && (
        <select
          aria-label="The rubric of another assessment"
          value=""
          onChange={e => {
            const found = others.find(a => a.id === e.target.value)?.content.scoring;
            if (found?.rubric) onTake(withIds(found.rubric), found.shown);
          }}
          className={`${inputClass} !w-auto`}
        >
          <option value="">the rubric of …</option>
          {others.map(a => (
            <option key={a.id} value={a.id}>
              {a.content.title || 'Without a title'}
            </option>
          ))}
        </select>
      )}
      <Confirm
        open={asking !== null}
        onClose={() => setAsking(null)}
        title="Put another rubric in place of this one?"
        yes="Put it there"
        no="Keep what is written"
        onYes={() => asking && take(asking.rubric, asking.shown)}
      >
        <p>
          What is written here makes way. Undo brings it back; to have it elsewhere, keep it on the shelf
          first.
        </p>
      </Confirm>
    </div>
  );
}
