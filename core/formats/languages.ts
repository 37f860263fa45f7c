/** Languages by their BCP 47 tags: which there are to choose from, how they run, which letters they need. */

/** Offered to choose from, by tag; others may come in with a package. */
export const LANGUAGES = [
  'ar', 'bg', 'bn', 'ca', 'cs', 'cy', 'da', 'de', 'el', 'en', 'es', 'et', 'eu', 'fa', 'fi', 'fr', 'ga', 'gl',
  'he', 'hi', 'hr', 'hu', 'id', 'is', 'it', 'ja', 'ko', 'la', 'lt', 'lv', 'mi', 'ms', 'mt', 'nb', 'nl', 'pl', 'pt', 'ro',
  'ru', 'sk', 'sl', 'sq', 'sr', 'sv', 'sw', 'th', 'tr', 'uk', 'ur', 'vi', 'yi', 'zh-Hans', 'zh-Hant',
] as const; // prettier-ignore

/** True for a well-formed tag of a language, with script or region if need be. */
export function isLanguage(tag: unknown): tag is string {
  return typeof tag === 'string' && tag.length <= 35 && /^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/.test(tag);
}

const RIGHT_TO_LEFT = new Set(['ar', 'fa', 'he', 'ur', 'yi', 'ps', 'sd', 'ug', 'dv', 'ckb', 'arc', 'syr']);

/** Which way a language is written. An unknown one, or none, runs from left to right. */
export function directionOf(tag: string | null | undefined): 'ltr' | 'rtl' {
  if (!tag) return 'ltr';
  const [language = '', ...rest] = tag.split('-');
  if (rest.some(r => /^(Arab|Hebr|Syrc|Thaa|Nkoo)$/i.test(r))) return 'rtl';
  if (rest.some(r => /^(Latn|Cyrl)$/i.test(r))) return 'ltr';
  return RIGHT_TO_LEFT.has(language.toLowerCase()) ? 'rtl' : 'ltr';
}
