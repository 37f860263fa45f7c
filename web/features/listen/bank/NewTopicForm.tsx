import { useState } from 'react';
import { topicOfStatements, topicsOfRubric, type DraftTopic } from '@ecoute/core/feedback/topics';
import { LIMITS } from '@ecoute/contract/limits';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { Tick } from '../../../parts/Tick';
import { useAssessmentsQuery, useDepartmentsQuery, useTagListsQuery } from '../../set/endpoints';

/** A topic from nothing, from a rubric, from a list of statements. */
export function NewTopicForm({
  onMake,
}: {
  onMake: (topics: DraftTopic[], praise: boolean, of: string | null) => Promise<boolean>;
}) {
  const [name, setName] = useState('');
  const [praise, setPraise] = useState(false);
  const [of, setOf] = useState('');
  const [from, setFrom] = useState('');
  const { data: departments = [] } = useDepartmentsQuery();
  const { data: assessments = [] } = useAssessmentsQuery();
  const { data: lists = [] } = useTagListsQuery();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [kind, id] = from.split(' ');
  const make = async () => {
    setTrouble(null);
    let topics: DraftTopic[] = [{ name, comments: [] }];
    if (kind === 'rubric') {
      const rubric = assessments.find(a => a.id === id)?.content.scoring.rubric;
      topics = rubric ? topicsOfRubric(rubric) : [];
      if (topics.length === 0)
        return setTrouble(
          'This assessment has no rubric whose levels are described. Describe them, or choose another.',
        );
    } else if (kind === 'list') {
      const list = lists.find(l => l.id === id);
      if (list) topics = [topicOfStatements(list.name, list.tags.slice(0, LIMITS.topicComments / 2))];
    }
    if (await onMake(topics, praise && from === '', of || null)) {
      setName('');
      setFrom('');
    }
  };
  return (
    <form
      className="flex flex-wrap items-end gap-x-4 gap-y-3 bg-sheet p-4"
      onSubmit={event => {
        event.preventDefault();
        void make();
      }}
    >
      <Field label="A new topic" className="min-w-48 flex-1">
        {ties => (
          <input
            {...ties}
            dir="auto"
            maxLength={LIMITS.title}
            disabled={from !== ''}
            value={from === '' ? name : 'named by what it is made from'}
            onChange={e => setName(e.target.value)}
            className={inputClass}
          />
        )}
      </Field>
      <Field label="made from">
        {ties => (
          <select
            {...ties}
            value={from}
            onChange={e => setFrom(e.target.value)}
            className={`${inputClass} max-w-64`}
          >
            <option value="">nothing</option>
            <optgroup label="the rubric of">
              {assessments
                .filter(a => a.content.scoring.kind === 'rubric')
                .map(a => (
                  <option key={a.id} value={`rubric ${a.id}`}>
                    {a.content.title}
                  </option>
                ))}
            </optgroup>
            <optgroup label="the statements of">
              {lists.map(l => (
                <option key={l.id} value={`list ${l.id}`}>
                  {l.name}
                </option>
              ))}
            </optgroup>
          </select>
        )}
      </Field>
      {departments.length > 0 && (
        <Field label="for">
          {ties => (
            <select {...ties} value={of} onChange={e => setOf(e.target.value)} className={inputClass}>
              <option value="">me alone</option>
              {departments.map(d => (
                <option key={d.id} value={d.id}>
                  {d.name}
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
      <Tick checked={praise} onChange={setPraise}>
        small praise
      </Tick>
      <Button look="main" type="submit" disabled={from === '' && name.trim() === ''}>
        Make it
      </Button>
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
    </form>
  );
}
