import { useEffect } from 'react';

/** A reload, a closed tab or another address asks first, in the browser's own words, while something would be lost. */
export function useAsksBeforeUnload(isOn: boolean): void {
  useEffect(() => {
    if (!isOn) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [isOn]);
}
