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

/**
 * The language that somebody wrote down: by its tag ("pt", "pt-BR"), or by its name as any of these languages calls it.
 * @param tags those to choose from @returns its tag; null for none of them
 */
export function languageNamed<T extends string>(text: string, tags: readonly T[]): T | null {
  const wanted = plainName(text);
  const byTag = tags.find(tag => tag.toLowerCase() === wanted || wanted.startsWith(`${tag.toLowerCase()} `));
  if (byTag) return byTag;
  for (const reader of tags) {
    const names = new Intl.DisplayNames(reader, { type: 'language' });
    const found = tags.find(tag => plainName(names.of(tag) ?? '') === wanted);
    if (found) return found;
  }
  return null;
}

/** A name or heading as it is compared: without accents, case, and punctuation. */
export function plainName(text: string): string {
  return text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
}
