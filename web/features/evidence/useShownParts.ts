import { useSyncExternalStore } from 'react';

/** Parts of the evidence that can be switched on and off; kept on this device. */
export type EvidencePart = 'pitch' | 'notes' | 'more';

const KEPT = 'ecoute-evidence';
const listeners = new Set<() => void>();
let shown: Partial<Record<EvidencePart, boolean>> = read();

function read(): Partial<Record<EvidencePart, boolean>> {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Partial<Record<EvidencePart, boolean>>;
  } catch {
    return {};
  }
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function showPart(part: EvidencePart, on: boolean): void {
  shown = { ...shown, [part]: on };
  localStorage.setItem(KEPT, JSON.stringify(shown));
  listeners.forEach(tell => tell());
}

/** Whether a part is shown. @param usually where nobody has chosen yet */
export function useShownPart(part: EvidencePart, usually = false): boolean {
  return useSyncExternalStore(subscribe, () => shown[part] ?? usually);
}
