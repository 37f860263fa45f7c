/** Room on this device for a recording: foreseen before it begins, so that nobody runs out in the middle of it. */

/** Bytes a ms: the recorder's bit rate, twice (the pieces, and the whole while it is sent), and some air. */
const SOUND_BYTES_PER_MS = 30;
const FILM_BYTES_PER_MS = 320;

export interface Room {
  /** What fits, in ms; Infinity where the browser does not say. */
  fitsMs: number;
  /** A recording of the length that was asked about fits. */
  enough: boolean;
}

/**
 * @param freeBytes what the browser may still store; null where it does not say
 * @param lengthMs  the longest that will be recorded
 */
export function roomFor(freeBytes: number | null, lengthMs: number, withFilm: boolean): Room {
  if (freeBytes === null) return { fitsMs: Infinity, enough: true };
  const fitsMs = Math.max(0, Math.floor(freeBytes / (withFilm ? FILM_BYTES_PER_MS : SOUND_BYTES_PER_MS)));
  return { fitsMs, enough: fitsMs >= lengthMs };
}

/** What the browser may still store here, in bytes. Asks it to keep what is stored, too. */
export async function freeBytes(): Promise<number | null> {
  try {
    await navigator.storage.persist?.();
    const { quota, usage } = await navigator.storage.estimate();
    return quota === undefined || usage === undefined ? null : quota - usage;
  } catch {
    return null;
  }
}
