import { useEffect, useState } from 'react';
import { desk } from '../../../parts/recorder/delivery';
import type { OwnTake } from './takesOf';

/** A sound from this device, while the server does not have it. */
export function useLocalUrl(take: OwnTake): string | null {
  const [url, setUrl] = useState<string | null>(null);
  useEffect(() => {
    const blob = take.local ? desk.blob(take.id) : null;
    if (!blob) return;
    const made = URL.createObjectURL(blob);
    setUrl(made);
    return () => URL.revokeObjectURL(made);
  }, [take.id, take.local]);
  return take.local ? url : null;
}
