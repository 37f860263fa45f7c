/** The limit on a whole sitting: it runs from the first sight of the items, not from reading the directions. */
import { extended, type Arrangement } from './arrangements';

/** After the limit, words and bytes on their way are waited for this long before the server hands in. */
export const HAND_IN_GRACE_MS = 15_000;

/**
 * When a sitting's time is up.
 * @param clockBeganAtMs when the items came into sight; null before that
 * @param limitMs the limit on the whole sitting; null for none
 * @returns ms since 1970 (UTC), or null where no clock runs
 */
export function timeUpAt(
  clockBeganAtMs: number | null,
  limitMs: number | null,
  arrangement: Arrangement,
): number | null {
  return clockBeganAtMs === null || limitMs === null ? null : clockBeganAtMs + extended(limitMs, arrangement);
}

/** Whether a recording that began at an instant still belongs to the sitting. */
export function withinSitting(beganAtMs: number, timeUpAtMs: number | null): boolean {
  return timeUpAtMs === null || beganAtMs <= timeUpAtMs;
}
