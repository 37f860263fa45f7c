import { useEffect } from 'react';
import { useListenersQuery } from './endpoints';

/** Said again within the time that the server takes for leaving. */
const SAID_EVERY_MS = 15_000;

/** Says which sitting is listened to here, and learns who else listens to what. */
export function useOthers(releaseId: string, sittingId: string) {
  const { data } = useListenersQuery({ releaseId, sittingId }, { pollingInterval: SAID_EVERY_MS });
  useEffect(() => {
    const leave = () =>
      navigator.sendBeacon(
        `/api/releases/${releaseId}/listeners`,
        new Blob([JSON.stringify({ sittingId: null, leaves: true })], { type: 'application/json' }),
      );
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
      leave();
    };
  }, [releaseId]);
  return data ?? [];
}
