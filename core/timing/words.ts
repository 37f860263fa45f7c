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
  if (seconds < 120) return seconds === 1 ? '1 second' : `${seconds} seconds`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return `about ${minutes} minutes`;
  const rest = minutes % 60;
  return rest ? `${Math.floor(minutes / 60)} h ${rest} min` : `${minutes / 60} h`;
}

const HOURS = '(\\d{1,2}(?:[.,]\\d+)?)\\s*h(?:(?:ou)?rs?|ours?)?';
const MINUTES = "(\\d{1,4}(?:[.,]\\d+)?)\\s*(?:m(?:in(?:ute)?s?)?|[’′'])\\.?";
const SECONDS = '(\\d{1,5}(?:[.,]\\d+)?)\\s*(?:s(?:ec(?:ond)?s?)?|[”″"])?\\.?';
const WITH_UNITS = new RegExp(
  `^(?:${HOURS})?\\s*(?:and\\s*)?(?:${MINUTES})?\\s*(?:and\\s*)?(?:${SECONDS})?$`,
);
/** After hours a bare number is minutes: `1 h 20`. */
const HOURS_THEN_MINUTES = new RegExp(`^${HOURS}\\s*(\\d{1,2})$`);

/**
 * Reads a length that somebody typed: `45` (seconds), `1:30`, `1:05:00`, `2 min`, `2 minutes`, `90s`, `1m30s`, `1h`,
 * `1 h 20`, `1,5 min`. Parts of a second down to a thousandth: `1:30.5`.
 * @returns whole ms, or null when it is not a length.
 */
export function parseLength(text: string): number | null {
  const t = text.trim().toLowerCase();
  const number = (digits: string | undefined) => Number((digits ?? '0').replace(',', '.'));
  const ms = (h: string | undefined, m: string | undefined, s: string | undefined) =>
    Math.round((number(h) * 3_600 + number(m) * 60 + number(s)) * 1000);
  const colon = /^(?:(\d{1,2}):)?(\d{1,3}):([0-5]\d(?:[.,]\d{1,3})?)$/.exec(t);
  if (colon) return colon[1] !== undefined && Number(colon[2]) > 59 ? null : ms(colon[1], colon[2], colon[3]);
  const minutesLast = HOURS_THEN_MINUTES.exec(t);
  if (minutesLast) return ms(minutesLast[1], minutesLast[2], undefined);
  const units = t === '' ? null : WITH_UNITS.exec(t);
  if (!units || units.slice(1).every(u => u === undefined)) return null;
  return ms(units[1], units[2], units[3]);
}

/** A moment of a sound to the tenth of a second, `m:ss.t`, as it can be typed again. */
export function tenths(ms: number): string {
  const rounded = Math.round(ms / 100) * 100;
  return `${clock(rounded)}.${Math.floor((rounded % 1000) / 100)}`;
}
