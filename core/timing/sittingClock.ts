/** The limit on a whole sitting: it runs from the first sight of the items, not from reading the directions. */
import { extended, type Arrangement } from './arrangements';

/** After the limit, words and bytes on their way are waited for this long before the server hands in. */
export const HAND_IN_GRACE_MS = 15_000;

/** A break of the whole sitting, in ms since 1970 (UTC); null while it lasts. */
export interface Break {
  fromMs: number;
  toMs: number | null;
}

/** Time spent in breaks so far, as far as an arrangement grants it. */
export function brokenMs(breaks: readonly Break[], { breakMs }: Arrangement, nowMs: number): number {
  const spent = breaks.reduce((sum, b) => sum + Math.max(0, (b.toMs ?? nowMs) - b.fromMs), 0);
  return Math.min(breakMs, spent);
}

/** The breaks in the account of a sitting: each begins and ends once; what is out of order is left out. */
export function breaksIn(events: readonly { kind: string; atMs: number }[]): Break[] {
  const breaks: Break[] = [];
  for (const { kind, atMs } of [...events].sort((a, b) => a.atMs - b.atMs)) {
    const last = breaks.at(-1);
    const open = last?.toMs === null;
    if (kind === 'breakBegan' && !open) breaks.push({ fromMs: atMs, toMs: null });
    else if (kind === 'breakEnded' && open) last.toMs = atMs;
  }
  return breaks;
}

/**
 * When a sitting's time is up.
 * @param clockBeganAtMs when the items came into sight; null before that
 * @param limitMs the limit on the whole sitting; null for none
 * @param breaks  breaks taken; they put the end off as far as the arrangement grants
 * @returns ms since 1970 (UTC), or null where no clock runs
 */
export function timeUpAt(
  clockBeganAtMs: number | null,
  limitMs: number | null,
  arrangement: Arrangement,
  breaks: readonly Break[] = [],
  nowMs = 0,
): number | null {
  if (clockBeganAtMs === null || limitMs === null) return null;
  return clockBeganAtMs + extended(limitMs, arrangement) + brokenMs(breaks, arrangement, nowMs);
}

/** Whether a recording that began at an instant still belongs to the sitting. */
export function withinSitting(beganAtMs: number, timeUpAtMs: number | null): boolean {
  return timeUpAtMs === null || beganAtMs <= timeUpAtMs;
}
