/** That a microphone was heard: kept on this device, so that nobody is checked again at every return. */
import type { Microphone } from './microphone';

const KEPT = 'ecoute-microphone-heard';

interface Held {
  device: string;
  forMusic: boolean;
  /** When it was heard, in ms since 1970. */
  atMs: number;
}

/** It holds on the day, and on the day after. */
function holds({ atMs }: Held, nowMs: number): boolean {
  const end = new Date(atMs);
  end.setHours(0, 0, 0, 0);
  end.setDate(end.getDate() + 2);
  return nowMs >= atMs && nowMs < end.getTime();
}

function held(): Held | null {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? 'null') as Held | null;
  } catch {
    return null;
  }
}

export function keepCheck({ device }: Pick<Microphone, 'device'>, forMusic: boolean): void {
  try {
    localStorage.setItem(KEPT, JSON.stringify({ device, forMusic, atMs: Date.now() } satisfies Held));
  } catch {
    // A full device checks again next time.
  }
}

/** Whether the check of a microphone still holds, for the way it is used now. */
export function checkHolds(forMusic: boolean, device?: string, nowMs = Date.now()): boolean {
  const kept = held();
  if (!kept || kept.forMusic !== forMusic || !holds(kept, nowMs)) return false;
  return device === undefined || kept.device === device;
}

/** Whether the browser would give the microphone without a question. Where it does not say, it would ask. */
export async function isAllowed(): Promise<boolean> {
  try {
    const { state } = await navigator.permissions.query({ name: 'microphone' as PermissionName });
    return state === 'granted';
  } catch {
    return false;
  }
}
