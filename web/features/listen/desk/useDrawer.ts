import { useCallback, useState } from 'react';
import { flushSync } from 'react-dom';

/** What the desk's drawer holds, one at a time. */
export type DrawerPart =
  'notes' | 'answer' | 'task' | 'measured' | 'marks' | 'beside' | 'levels' | 'exchange' | 'sitting' | 'bank';

const KEPT = 'ecoute-desk';

interface Kept {
  /** What was opened last where one only listens, and where there is something to be seen. */
  heard?: DrawerPart;
  seen?: DrawerPart;
  isWide?: boolean;
}

function kept(): Kept {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Kept;
  } catch {
    return {};
  }
}

/** Which part of the drawer is open: as the teacher left it, for recordings and for what is seen each. */
export function useDrawer() {
  const [state, setState] = useState(kept);
  const change = useCallback((next: Kept) => {
    setState(before => {
      const now = { ...before, ...next };
      try {
        localStorage.setItem(KEPT, JSON.stringify(now));
      } catch {
        // A full device opens the desk as it comes.
      }
      return now;
    });
  }, []);
  /** The comment bank covers what is open for a moment. */
  const [findingAt, setFindingAt] = useState<string | null>(null);
  /** The lane on which a part was chosen last. */
  const [chosenAt, setChosenAt] = useState<string | null>(null);
  return {
    /** Whether the bank is open on a lane. */
    isFinding: (lane: string) => findingAt === lane,
    isWide: state.isWide ?? false,
    setWide: (isWide: boolean) => change({ isWide }),
    /** @param lane key of the lane in focus; @param waitsForReply its student waits for a reply: that opens first */
    partFor(lane: string, isSeen: boolean, waitsForReply: boolean): DrawerPart {
      if (waitsForReply && chosenAt !== lane) return 'exchange';
      return isSeen ? (state.seen ?? 'answer') : (state.heard ?? 'notes');
    },
    /** At once, so that what is in it can take the focus. */
    open: (part: DrawerPart, lane: string, isSeen: boolean) =>
      flushSync(() => {
        setChosenAt(lane);
        setFindingAt(part === 'bank' ? lane : null);
        if (part !== 'bank') change(isSeen ? { seen: part } : { heard: part });
      }),
    close: () => setFindingAt(null),
  };
}

export type DrawerState = ReturnType<typeof useDrawer>;
