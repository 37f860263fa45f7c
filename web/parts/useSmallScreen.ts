import { useSyncExternalStore } from 'react';

/** Below this width, one thing lies under the other (Tailwind's `sm`). */
const SMALL = '(max-width: 639px)';

/** Whether the screen is as narrow as a phone's. */
export function useSmallScreen(): boolean {
  return useSyncExternalStore(
    listener => {
      const query = window.matchMedia(SMALL);
      query.addEventListener('change', listener);
      return () => query.removeEventListener('change', listener);
    },
    () => window.matchMedia(SMALL).matches,
  );
}
