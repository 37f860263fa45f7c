/** Languages by their BCP 47 tags: which there are to choose from, how they run, which letters they need. */

/** Offered to choose from, by tag; others may come in with a package. */
export const LANGUAGES = [
  'af', 'am', 'ar', 'az', 'be', 'bg', 'bn', 'br', 'bs', 'ca', 'cs', 'cy', 'da', 'de', 'el', 'en', 'eo', 'es',
  'et', 'eu', 'fa', 'fi', 'fo', 'fr', 'fy', 'ga', 'gd', 'gl', 'gn', 'gu', 'ha', 'he', 'hi', 'hr', 'ht', 'hu',
  'hy', 'id', 'is', 'it', 'ja', 'ka', 'kk', 'km', 'ko', 'ku', 'la', 'lb', 'lo', 'lt', 'lv', 'mg', 'mi', 'mk',
  'mn', 'mr', 'ms', 'mt', 'my', 'nb', 'ne', 'nl', 'nn', 'oc', 'om', 'pa', 'pl', 'ps', 'pt', 'qu', 'rm', 'ro',
  'ru', 'rw', 'si', 'sk', 'sl', 'sn', 'so', 'sq', 'sr', 'sv', 'sw', 'ta', 'te', 'th', 'ti', 'tl', 'tr', 'uk',
  'ur', 'uz', 'vi', 'wo', 'xh', 'yi', 'yo', 'zh-Hans', 'zh-Hant', 'zu',
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
