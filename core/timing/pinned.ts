/** Notes pinned to a recording: which of them belong to what is heard just now. */

/** A note at one moment is shown so long from it on, in ms: time to read a line. */
export const MOMENT_MS = 4_000;

export interface Pinned {
  fromMs: number;
  /** Null for a moment. */
  toMs: number | null;
}

/** When a note's time ends, in ms of the recording. */
export function pinnedUntil({ fromMs, toMs }: Pinned): number {
  return toMs ?? fromMs + MOMENT_MS;
}

/** The notes whose time is now, in the order in which they began. @param positionMs in the recording */
export function pinnedAt<T extends Pinned>(notes: readonly T[], positionMs: number): T[] {
  return notes
    .filter(n => n.fromMs <= positionMs && positionMs < pinnedUntil(n))
    .sort((a, b) => a.fromMs - b.fromMs);
}

/** What is wrong with the place of a note, in words; null when it lies in the recording. */
export function pinProblem({ fromMs, toMs }: Pinned, durationMs: number): string | null {
  if (fromMs > durationMs || (toMs !== null && toMs > durationMs + 50))
    return 'This note lies beyond the end of the recording. Put it where something is heard.';
  if (toMs !== null && toMs <= fromMs)
    return 'This note ends before it begins. Move its end, or pin it to a moment.';
  return null;
}
