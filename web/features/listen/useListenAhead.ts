import { useCallback } from 'react';
import { listenApi } from './endpoints';

/**
 * What a release opens with is fetched before it opens: the page itself when a hand goes to the link, its lanes at the press.
 * @returns what a link to a release listens to
 */
export function useListenAhead() {
  const prefetch = listenApi.usePrefetch('lanes');
  return useCallback(
    (releaseId: string) => {
      const fetchPage = () => void import('./ListenPage').catch(() => undefined);
      // Lanes are much: not for every link that a pointer passes over.
      const fetchLanes = () => prefetch(releaseId, { ifOlderThan: 10 });
      return { onPointerEnter: fetchPage, onFocus: fetchPage, onPointerDown: fetchLanes };
    },
    [prefetch],
  );
}
