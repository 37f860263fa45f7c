import { useState } from 'react';

/** Steps of the size of what is read or played from, as parts of the usual. */
const SIZES = [0.8, 0.9, 1, 1.15, 1.35, 1.6];
const KEPT = 'ecoute-reading-size';

function kept(): number {
  const size = Number(localStorage.getItem(KEPT));
  return SIZES.includes(size) ? size : 1;
}

/** How large somebody wants what they read from, on this device. */
export function useReadingSize(): {
  size: number;
  smaller: (() => void) | null;
  larger: (() => void) | null;
} {
  const [size, setSize] = useState(kept);
  const at = SIZES.indexOf(size);
  const step = (by: number) => {
    const next = SIZES[at + by];
    if (next === undefined) return null;
    return () => {
      setSize(next);
      try {
        localStorage.setItem(KEPT, String(next));
      } catch {
        // A full device keeps no wishes.
      }
    };
  };
  return { size, smaller: step(-1), larger: step(1) };
}
