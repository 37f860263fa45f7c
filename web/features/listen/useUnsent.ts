import { useCallback, useEffect, useRef, useState } from 'react';
import type { Lane } from '@ecoute/contract/marking';
import type { Marking } from './marking';
import { laneKey } from './order';

interface Unsent {
  key: string;
  /** What it is, and that it is not there yet. */
  what: string;
  message: string;
  again: () => void;
}

/**
 * Answers that were finished and left before the server had them. Nobody waits for these; what did not arrive is said, goes
 * out again automatically, and is kept on the device until then.
 */
export function useUnsent() {
  const [unsent, setUnsent] = useState<Unsent[]>([]);
  /** How to stop watching each of them. */
  const watched = useRef(new Map<string, () => void>());
  const stop = useCallback((key: string) => {
    watched.current.get(key)?.();
    watched.current.delete(key);
  }, []);
  const watch = useCallback(
    (lane: Lane, marking: Marking, sent: Promise<boolean>) => {
      const key = laneKey(lane);
      const say = () => {
        const view = marking.kept.now();
        if (view.state === 'saving' || view.state === 'changed') return;
        const message = marking.problem(view)?.message;
        setUnsent(all => {
          const others = all.filter(u => u.key !== key);
          return message === undefined
            ? others
            : [
                ...others,
                {
                  key,
                  what: `${lane.studentName} is not finished yet.`,
                  message,
                  again: () => void marking.finish(),
                },
              ];
        });
        if (message === undefined) stop(key);
      };
      stop(key);
      void sent.then(arrived => {
        if (!arrived) watched.current.set(key, marking.kept.subscribe(say));
        say();
      });
    },
    [stop],
  );
  /**
   * Anything else about an answer that was left.
   * @param what it is, and that it is not there yet
   * @param tries does it once more; @param tried the first try: why not, null where it is done
   */
  const watchAlso = useCallback(
    (lane: Lane, what: string, tries: () => Promise<string | null>, tried: Promise<string | null>) => {
      const key = `${what} ${laneKey(lane)}`;
      const say = (message: string | null) =>
        setUnsent(all => {
          const others = all.filter(u => u.key !== key);
          return message === null
            ? others
            : [...others, { key, what, message, again: () => void tries().then(say) }];
        });
      void tried.then(say);
    },
    [],
  );
  useEffect(() => {
    const all = watched.current;
    return () => all.forEach(end => end());
  }, []);
  const again = () => unsent.forEach(u => u.again());
  /** The first is being seen to: its own lane says what is wrong from here on. */
  const forget = () => {
    if (unsent[0]) stop(unsent[0].key);
    setUnsent(all => all.slice(1));
  };
  return { trouble: unsent[0] ?? null, watch, watchAlso, again, forget };
}
