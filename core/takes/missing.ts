/** What is missing of a take: its length as it decodes, held against the time for which its page recorded. */

/** So much an engine may lose at the ends, or a clock may be off, without a word. In ms. */
export const MISSING_FROM_MS = 1_500;

/**
 * How long a page recorded a take, pauses left out.
 * @param events of the take's item, any order
 * @param beganAtMs when its answer began, as it was announced
 * @returns ms; null where the account does not say
 */
export function recordedForMs(
  events: readonly { kind: string; atMs: number }[],
  beganAtMs: number,
): number | null {
  let sinceMs: number | null = beganAtMs;
  let sum = 0;
  const after = events.filter(e => e.atMs > beganAtMs).toSorted((a, b) => a.atMs - b.atMs);
  for (const { kind, atMs } of after) {
    if (kind === 'recordingPaused' && sinceMs !== null) [sum, sinceMs] = [sum + atMs - sinceMs, null];
    else if (kind === 'recordingResumed') sinceMs ??= atMs;
    else if (kind === 'recordingEnded') return sum + (sinceMs === null ? 0 : atMs - sinceMs);
    // The page went away: its recorder ended then, and the account says so later.
    else if (kind === 'recordingCut' || kind === 'recordingBegan') return null;
  }
  return null;
}

/**
 * How much of an answer is missing in the recording, where that is more than nothing.
 * @param lengthMs of the answer as it decodes
 * @param clockMs  for how long the page recorded it; null where nobody knows
 * @returns ms; null where all is there, or nothing can be said
 */
export function missingMs(lengthMs: number | null, clockMs: number | null): number | null {
  if (lengthMs === null || clockMs === null) return null;
  const missing = clockMs - lengthMs;
  return missing >= MISSING_FROM_MS ? missing : null;
}
