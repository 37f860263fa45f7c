import { useState } from 'react';
import type { ClassMatches } from '@ecoute/contract/schoolSystem';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { inputClass } from '../../../parts/Field';
import { Failed, Loading } from '../../../parts/Loading';
import { Notice } from '../../../parts/Notice';
import { useKeepMatchesMutation, useSchoolMatchesQuery } from './endpoints';

/** Who of the class is who at the school: found by the school’s id, the mail address or the name, and put right by hand. */
export function WhoIsWho({ classId, onDone }: { classId: string; onDone: () => void }) {
  const { data, error, refetch } = useSchoolMatchesQuery(classId, { refetchOnMountOrArgChange: true });
  if (!data) return error ? <Failed error={error} again={() => void refetch()} /> : <Loading height={60} />;
  return <Matches classId={classId} found={data} onDone={onDone} />;
}

function Matches({ classId, found, onDone }: { classId: string; found: ClassMatches; onDone: () => void }) {
  const [chosen, setChosen] = useState(
    () => new Map(found.students.map(s => [s.personId, s.sourcedId ?? ''])),
  );
  const [keep, { error, isLoading }] = useKeepMatchesMutation();
  const refusal = refusalOf(error);
  const taken = (personId: string, sourcedId: string) =>
    [...chosen].some(([other, id]) => other !== personId && id === sourcedId);
  const save = () =>
    keep({
      classId,
      matches: found.students.map(({ personId }) => ({ personId, sourcedId: chosen.get(personId) || null })),
    })
      .unwrap()
      .then(onDone, () => undefined);
  return (
    <div className="grid gap-3">
      <table className="w-full max-w-3xl border-separate border-spacing-y-px bg-line text-start">
        <thead>
          <tr className="bg-sheet text-sm">
            <th className="bg-sheet px-4 py-2 text-start">Here</th>
            <th className="bg-sheet px-4 py-2 text-start">At the school</th>
          </tr>
        </thead>
        <tbody>
          {found.students.map(s => (
            <tr key={s.personId}>
              <th dir="auto" scope="row" className="bg-sheet px-4 py-1 text-start font-semibold">
                {s.displayName}
              </th>
              <td className="bg-sheet px-4 py-1">
                <select
                  aria-label={`${s.displayName} at the school`}
                  value={chosen.get(s.personId) ?? ''}
                  onChange={e => setChosen(new Map(chosen).set(s.personId, e.target.value))}
                  className={inputClass}
                >
                  <option value="">nobody: nothing of theirs is handed over</option>
                  {found.school.map(x => (
                    <option key={x.sourcedId} value={x.sourcedId} disabled={taken(s.personId, x.sourcedId)}>
                      {x.name}
                    </option>
                  ))}
                </select>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      <Button look="main" className="justify-self-start" disabled={isLoading} onClick={() => void save()}>
        They are
      </Button>
    </div>
  );
}
