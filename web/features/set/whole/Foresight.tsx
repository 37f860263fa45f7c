import { useState } from 'react';
import { arranged, extended, HALF_AGAIN } from '@ecoute/core/timing/arrangements';
import { stripOf } from '@ecoute/core/timing/strip';
import { inWords } from '@ecoute/core/timing/words';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { useClassesQuery } from '../../classes/endpoints';

/** What the assessment will cost: the student's time, with and without extra time, and the teacher's listening. */
export function Foresight({ content }: { content: AssessmentContent }) {
  const { data: classes } = useClassesQuery();
  const [chosen, setChosen] = useState<string | null>(null);
  const withStudents = (classes ?? []).filter(c => c.students > 0);
  const target = withStudents.find(c => c.id === chosen) ?? withStudents[0];
  const strip = stripOf(content.items);
  const extra = stripOf(content.items.map(i => arranged(i, HALF_AGAIN)));
  const limit = content.sittingLimitMs;
  return (
    <p className="text-sm" data-testid="foresight">
      A sitting lasts{' '}
      <strong>{inWords(limit === null ? strip.lengthMs : Math.min(limit, strip.lengthMs))}</strong>
      {limit !== null && strip.lengthMs > limit && (
        <strong> (the items alone would take {inWords(strip.lengthMs)})</strong>
      )}
      , {inWords(limit === null ? extra.lengthMs : Math.min(extended(limit, HALF_AGAIN), extra.lengthMs))}{' '}
      with half as much time again. Listening: up to <strong>{inWords(strip.listenMs)}</strong> a student
      {target && (
        <>
          , <strong>{inWords(strip.listenMs * target.students)}</strong> for{' '}
          {withStudents.length > 1 ? (
            <select
              aria-label="Class to reckon the listening for"
              value={target.id}
              onChange={e => setChosen(e.target.value)}
              className="min-h-8 max-w-60 border border-edge bg-sheet px-1"
            >
              {withStudents.map(c => (
                <option key={c.id} value={c.id}>
                  {c.name} ({c.students})
                </option>
              ))}
            </select>
          ) : (
            `${target.name} (${target.students})`
          )}
        </>
      )}
      .
    </p>
  );
}
