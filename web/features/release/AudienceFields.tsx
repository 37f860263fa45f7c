import type { ClassSummary } from '@ecoute/contract/classes';
import type { Audience } from '@ecoute/contract/releases';
import { Field, inputClass } from '../../parts/Field';
import { Segments } from '../../parts/Segments';
import { Tick } from '../../parts/Tick';
import { useClassQuery } from '../classes/endpoints';

/** Whom a release is for: all of a class, a group of it, single students, or whoever gets a link. */
export function AudienceFields({
  target,
  audience,
  groupId,
  studentIds,
  problem,
  onAudience,
  onGroup,
  onStudents,
}: {
  target: ClassSummary;
  audience: Audience;
  groupId: string;
  studentIds: readonly string[];
  problem: (name: string) => string | undefined;
  onAudience: (audience: Audience) => void;
  onGroup: (id: string) => void;
  onStudents: (ids: string[]) => void;
}) {
  const { data } = useClassQuery(target.id, { skip: audience !== 'students' });
  return (
    <div className="grid gap-3">
      <Segments
        label="Whom"
        value={audience}
        options={[
          { value: 'class', name: 'the whole class' },
          ...(target.groups.length > 0 ? [{ value: 'group' as const, name: 'a group' }] : []),
          { value: 'students', name: 'single students' },
          { value: 'link', name: 'guests by a link' },
        ]}
        onChange={onAudience}
      />
      {audience === 'link' && (
        <p className="max-w-prose text-soft">
          No student of the class gets it. Whoever has the link that you make next types a name and begins.
          The class’s teachers hear and mark them.
        </p>
      )}
      {audience === 'group' && (
        <Field label="Group" error={problem('groupId')}>
          {ties => (
            <select {...ties} className={inputClass} value={groupId} onChange={e => onGroup(e.target.value)}>
              <option value="">Choose a group …</option>
              {target.groups.map(g => (
                <option key={g.id} value={g.id}>
                  {g.name} ({g.students})
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
      {audience === 'students' && (
        <fieldset className="max-h-72 overflow-y-auto border-y border-line py-1 sm:columns-2">
          <legend className="sr-only">Students</legend>
          {problem('studentIds') && (
            <p role="alert" className="font-semibold">
              ▲ {problem('studentIds')}
            </p>
          )}
          {data?.members
            .filter(m => m.role === 'student')
            .map(m => (
              <Tick
                key={m.id}
                checked={studentIds.includes(m.id)}
                onChange={on => onStudents(on ? [...studentIds, m.id] : studentIds.filter(id => id !== m.id))}
              >
                {m.displayName}
              </Tick>
            ))}
        </fieldset>
      )}
    </div>
  );
}
