import { useSyncExternalStore } from 'react';

function onNetwork(tell: () => void): () => void {
  window.addEventListener('online', tell);
  window.addEventListener('offline', tell);
  return () => {
    window.removeEventListener('online', tell);
    window.removeEventListener('offline', tell);
  };
}

/** Whether the browser has a network at all; that Ecoute answers is another matter. */
export function useOnline(): boolean {
  return useSyncExternalStore(onNetwork, () => navigator.onLine);
}
