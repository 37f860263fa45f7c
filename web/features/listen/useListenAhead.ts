import { useCallback, useEffect } from 'react';
import { listenApi } from './endpoints';

/** So long after the queue is there its own work is over, and the page that is opened next can be fetched. */
const SETTLED_MS = 300;

// Where it does not come it is fetched again at the press, and says so there.
const fetchPage = () => void import('./ListenPage').catch(() => undefined);

/**
 * What a release opens with is fetched before it opens: the page itself while the queue is looked at, its lanes at the press.
 * @returns what a link to a release listens to
 */
export function useListenAhead() {
  const prefetch = listenApi.usePrefetch('lanes');
  useEffect(() => {
    const timer = setTimeout(fetchPage, SETTLED_MS);
    return () => clearTimeout(timer);
  }, []);
  return useCallback(
    (releaseId: string) => {
      // Lanes are much: not for every link that a pointer passes over.
      const fetchLanes = () => prefetch(releaseId, { ifOlderThan: 10 });
      return { onPointerEnter: fetchPage, onFocus: fetchPage, onPointerDown: fetchLanes };
    },
    [prefetch],
  );
}
