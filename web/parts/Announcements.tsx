import { useSyncExternalStore } from 'react';
import { announced, onAnnounced } from '../base/announce';

/** Where what is announced is read out; stands once in each shell. */
export function Announcements() {
  const words = useSyncExternalStore(onAnnounced, announced);
  return (
    <p role="status" aria-live="polite" className="sr-only" data-testid="announced">
      {words}
    </p>
  );
}
