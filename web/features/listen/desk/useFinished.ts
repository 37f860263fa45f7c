import { useCallback, useEffect, useState } from 'react';
import type { Lane } from '@ecoute/contract/marking';
import type { Marking } from '../marking';

/** So long can the last answer that was finished be taken back by one press. */
const UNDO_FOR_MS = 8_000;

export interface Finished {
  lane: Lane;
  marking: Marking;
  /** What it was given, in short. */
  words: string;
}

/** The answer that was finished last, while that can be taken back. */
export function useFinished() {
  const [finished, setFinished] = useState<Finished | null>(null);
  useEffect(() => {
    if (!finished) return;
    const timer = setTimeout(() => setFinished(null), UNDO_FOR_MS);
    return () => clearTimeout(timer);
  }, [finished]);
  const forget = useCallback(() => setFinished(null), []);
  return { finished, setFinished, forget };
}
