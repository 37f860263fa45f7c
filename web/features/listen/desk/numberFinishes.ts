import { useSyncExternalStore } from 'react';

const KEPT = 'ecoute-number-finishes';
const listeners = new Set<() => void>();

/** Whether a score that is given by one press finishes the answer: the teacher's choice, on this device. */
export const numberFinishes = () => localStorage.getItem(KEPT) === 'yes';

export function setNumberFinishes(finishes: boolean): void {
  localStorage.setItem(KEPT, finishes ? 'yes' : 'no');
  listeners.forEach(l => l());
}

export function useNumberFinishes(): boolean {
  return useSyncExternalStore(listener => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, numberFinishes);
}
