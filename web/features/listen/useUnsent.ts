import { useCallback, useEffect, useState } from 'react';
import type { Lane } from '@ecoute/contract/marking';
import { laneKey } from './order';
import type { Finishing } from './useMarking';

interface Unsent {
  key: string;
  name: string;
  message: string;
  /** Sends it once more, as it was. */
  again: () => Finishing['saved'];
}

/**
 * Answers that were finished and left before the server had them. Nobody waits for these; what did not arrive is said, goes
 * out again when the network is back, and is kept on the device until then.
 */
export function useUnsent() {
  const [unsent, setUnsent] = useState<Unsent[]>([]);
  const watch = useCallback((lane: Lane, { saved, again }: Finishing) => {
    const key = laneKey(lane);
    void saved.then(message => {
      setUnsent(all => {
        const others = all.filter(u => u.key !== key);
        return message === null ? others : [...others, { key, name: lane.studentName, message, again }];
      });
    });
  }, []);
  const again = useCallback(() => {
    for (const one of unsent)
      void one.again().then(message => {
        if (message === null) setUnsent(all => all.filter(u => u.key !== one.key));
      });
  }, [unsent]);
  useEffect(() => {
    if (unsent.length === 0) return;
    window.addEventListener('online', again);
    return () => window.removeEventListener('online', again);
  }, [unsent, again]);
  const trouble = unsent[0] ?? null;
  const forget = () => setUnsent(all => all.slice(1));
  return { trouble, watch, again, forget };
}
