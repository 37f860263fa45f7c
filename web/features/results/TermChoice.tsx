import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { Button } from '../../parts/Button';
import { Dialogue } from '../../parts/Dialogue';
import { Field, inputClass } from '../../parts/Field';
import { NamedDays } from '../../parts/NamedDays';
import { useAddTermMutation, useRemoveTermMutation, useTermsQuery, type Days } from './endpoints';

const ALL: Days = { from: '', to: '' };

/** Which days are looked at: those of a term, by the address; all where none is chosen. What else the address says stays. */
export function useTerm(): { term: string; days: Days; onTerm: (id: string) => void } {
  const [address, setAddress] = useSearchParams();
  const term = address.get('term') ?? '';
  const { data } = useTermsQuery(undefined, { skip: term === '' });
  const found = data?.find(t => t.id === term);
  return {
    term,
    days: found ? { from: found.firstOn, to: found.lastOn } : ALL,
    onTerm: id => {
      const next = new URLSearchParams(address);
      if (id) next.set('term', id);
      else next.delete('term');
      setAddress(next, { replace: true, preventScrollReset: true });
    },
  };
}

/** Chooses a term; names one where there is none yet. */
export function TermChoice({ term, onTerm }: { term: string; onTerm: (id: string) => void }) {
  const { data: terms = [] } = useTermsQuery();
  const [add] = useAddTermMutation();
  const [remove] = useRemoveTermMutation();
  const [isNaming, setNaming] = useState(false);
  return (
    <span className="flex items-end gap-1">
      <Field label="Term">
        {ties => (
          <select
            {...ties}
            value={terms.some(t => t.id === term) ? term : ''}
            onChange={e => onTerm(e.target.value)}
            className={`${inputClass} !w-auto`}
          >
            <option value="">all there is</option>
            {terms.map(t => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </select>
        )}
      </Field>
      <Button look="quiet" className="!px-2" onClick={() => setNaming(true)}>
        Name terms …
      </Button>
      {isNaming && (
        <Dialogue
          title="Terms"
          says="Stretches of the school year, for everybody here. An assessment belongs to the term in which it is due."
          onClose={() => setNaming(false)}
        >
          <div className="mt-4 grid gap-3">
            <NamedDays
              days={terms}
              more="Add this term"
              onAdd={days => add(days).unwrap()}
              onRemove={id => remove(id).unwrap()}
            />
          </div>
        </Dialogue>
      )}
    </span>
  );
}
