import { useState } from 'react';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Failed, Loading } from '../../../parts/Loading';
import { Notice } from '../../../parts/Notice';
import { useLinkSchoolClassMutation, useSchoolClassesQuery } from './endpoints';

/** Which of the school's classes this one is, of those that the teacher teaches there. */
export function WhichClass({ classId, onDone }: { classId: string; onDone: () => void }) {
  const { data, error, isFetching, refetch } = useSchoolClassesQuery(classId, {
    refetchOnMountOrArgChange: true,
  });
  const [link, { error: notLinked, isLoading }] = useLinkSchoolClassMutation();
  const [chosen, setChosen] = useState('');
  if (isFetching && !data) return <Loading height={40} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const sourcedId = chosen || (data[0]?.sourcedId ?? '');
  const refusal = refusalOf(notLinked);
  if (data.length === 0)
    return <p>The school’s system names no class that you teach. Ask whoever looks after it there.</p>;
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      onSubmit={event => {
        event.preventDefault();
        void link({ classId, sourcedId })
          .unwrap()
          .then(onDone, () => undefined);
      }}
    >
      <Field label="It is this class of the school’s">
        {ties => (
          <select
            {...ties}
            value={sourcedId}
            onChange={e => setChosen(e.target.value)}
            className={inputClass}
          >
            {data.map(c => (
              <option key={c.sourcedId} value={c.sourcedId}>
                {c.title}
              </option>
            ))}
          </select>
        )}
      </Field>
      <Button type="submit" look="main" disabled={isLoading}>
        That is it
      </Button>
      {refusal && (
        <div className="basis-full">
          <Notice kind="trouble">{refusal.message}</Notice>
        </div>
      )}
    </form>
  );
}
