import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Member } from '@ecoute/contract/classes';

/**
 * Who of a class something is made for: whom the address asks for, or those who need it, until somebody ticks otherwise.
 * @param people of whom there is a choice; none while they are fetched
 */
export function usePicked(people: readonly Member[], needs: (member: Member) => boolean) {
  const [asked] = useSearchParams();
  const [chosen, setChosen] = useState<Set<string> | null>(null);
  const one = asked.get('for');
  const first = people.filter(m => (one ? m.id === one : needs(m))).map(m => m.id);
  const picked = chosen ?? new Set(first);
  return {
    picked,
    pick: (id: string, isOn: boolean) => {
      const next = new Set(picked);
      if (isOn) next.add(id);
      else next.delete(id);
      setChosen(next);
    },
  };
}
