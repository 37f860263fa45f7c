import { createContext, useContext } from 'react';

/**
 * Where a sitting is done: here, signed in, or one item of it on a phone that is signed in as nobody. The phone has
 * routes of its own.
 */
export type Where = { kind: 'here' } | { kind: 'phone' };

export const WhereContext = createContext<Where>({ kind: 'here' });

/** The address beneath which takes and events of a sitting go. */
export function useSittingUrl(sittingId: string): string {
  return useContext(WhereContext).kind === 'phone' ? '/api/phone' : `/api/sittings/${sittingId}`;
}

export function useIsPhone(): boolean {
  return useContext(WhereContext).kind === 'phone';
}

const KEPT = 'ecoute-device';

/** This browser's own id, by which a second device (not a second visit) is told from the first. */
export function deviceId(): string {
  const kept = localStorage.getItem(KEPT);
  if (kept) return kept;
  const made = crypto.randomUUID();
  localStorage.setItem(KEPT, made);
  return made;
}
