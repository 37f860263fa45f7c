import { useCallback } from 'react';
import { listenApi } from './endpoints';

/**
 * What a release opens with is fetched as soon as a hand goes to it: the page itself and its lanes.
 * @returns what a link to a release listens to
 */
export function useListenAhead() {
  const prefetch = listenApi.usePrefetch('lanes');
  return useCallback(
    (releaseId: string) => {
      const begin = () => {
        void import('./ListenPage').catch(() => undefined);
        // A moment old is good enough: the page itself looks again.
        prefetch(releaseId, { ifOlderThan: 10 });
      };
      return { onPointerEnter: begin, onFocus: begin };
    },
    [prefetch],
  );
}
