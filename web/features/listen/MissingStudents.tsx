import { useState } from 'react';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { ListenView } from '@ecoute/contract/marking';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import { StudentMenu } from '../release/StudentMenu';

/** Who has not handed in, with what can be done for each; without names, how many. */
export function MissingStudents({ view }: { view: ListenView }) {
  const [granted, setGranted] = useState<string | null>(null);
  return (
    <>
      {granted && <Notice action={<Button onClick={() => setGranted(null)}>Good</Button>}>{granted}</Notice>}
      {view.missing.length > 0 && (
        <ul aria-label="Not handed in" className="flex flex-wrap items-center gap-x-5 text-soft">
          <li>Not handed in:</li>
          {view.namesHidden ? (
            <li>
              {view.missing.length} {view.missing.length === 1 ? 'student' : 'students'}
            </li>
          ) : (
            view.missing.map(m => (
              <li key={m.id} className="flex items-center">
                {m.displayName}
                {m.setAside && ' (handed in, set aside)'}
                {m.id && (
                  <StudentMenu
                    releaseId={view.releaseId}
                    student={{ id: m.id, displayName: m.displayName }}
                    dueAt={view.dueAt}
                    excused={false}
                    extended={false}
                    isTalk={planOf(view.content) !== null}
                    onGranted={words => setGranted(`${m.displayName} ${words}.`)}
                  />
                )}
              </li>
            ))
          )}
        </ul>
      )}
    </>
  );
}
