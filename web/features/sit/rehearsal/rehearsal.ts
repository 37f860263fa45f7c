import { createContext, useContext } from 'react';

/** A teacher tries an assessment as a student would sit it: nothing is kept, nothing is sent. */
export interface Rehearsal {
  /** Instead of handing in. */
  onHandIn: () => void;
}

export const RehearsalContext = createContext<Rehearsal | null>(null);

/** The rehearsal that this sitting is, or null for a real one. */
export function useRehearsal(): Rehearsal | null {
  return useContext(RehearsalContext);
}
