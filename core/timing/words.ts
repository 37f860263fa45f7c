/** Times as people read them. */

/** A time code, `m:ss`, or `h:mm:ss` from an hour on; part seconds are cut, not rounded. */
export function clock(ms: number): string {
  const total = Math.max(0, Math.floor(ms / 1000));
  const [h, m, s] = [Math.floor(total / 3600), Math.floor(total / 60) % 60, total % 60];
  const ss = String(s).padStart(2, '0');
  return h ? `${h}:${String(m).padStart(2, '0')}:${ss}` : `${m}:${ss}`;
}

/** A duration where somebody decides by it: "40 seconds", "about 6 minutes", "1 h 20 min". */
export function inWords(ms: number): string {
  const seconds = Math.round(ms / 1000);
  if (seconds < 90) return seconds === 1 ? '1 second' : `${seconds} seconds`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return `about ${minutes} minutes`;
  const rest = minutes % 60;
  return rest ? `${Math.floor(minutes / 60)} h ${rest} min` : `${minutes / 60} h`;
}

/**
 * Reads a length that somebody typed: `45` (seconds), `1:30`, `2 min`, `90s`, `1m30s`.
 * @returns ms, or null when it is not a length.
 */
export function parseLength(text: string): number | null {
  const t = text.trim().toLowerCase();
  const colon = /^(\d{1,3}):([0-5]\d)$/.exec(t);
  if (colon) return (Number(colon[1]) * 60 + Number(colon[2])) * 1000;
  const units = /^(?:(\d{1,3})\s*m(?:in)?\s*)?(?:(\d{1,4})\s*s?(?:ec)?)?$/.exec(t);
  if (!units || (units[1] === undefined && units[2] === undefined)) return null;
  return (Number(units[1] ?? 0) * 60 + Number(units[2] ?? 0)) * 1000;
}
