import { useEffect, useRef, useState } from 'react';
import type { Note } from '@ecoute/contract/notes';
import { SpokenInLine } from './spokenInLine';
import { player } from './usePlayer';

/** Lets the spoken notes of a recording sound at their moments. @returns the one that sounds now, and its end */
export function useSpokenInLine(trackId: string | null, notes: readonly Note[]) {
  const [sounding, setSounding] = useState<Note | null>(null);
  const line = useRef<SpokenInLine | null>(null);
  useEffect(() => {
    if (!trackId || !notes.some(n => n.voiceId)) return;
    const own = new SpokenInLine(trackId, notes, player, new Audio(), setSounding);
    line.current = own;
    return () => own.close();
  }, [trackId, notes]);
  return { sounding, skip: () => line.current?.skip() };
}
