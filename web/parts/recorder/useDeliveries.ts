import { useSyncExternalStore } from 'react';
import { desk, type Delivery } from './delivery';

/** Every sound on its way, live. */
export function useDeliveries(): readonly Delivery[] {
  return useSyncExternalStore(desk.subscribe, desk.all);
}
