/**
 * The language of a student's screens. Keys are the English sentences themselves, so that a screen reads the same
 * in the code as in English; the other languages are dictionaries that are fetched when they are chosen.
 */
import type { i18n as Translator } from 'i18next';
import { directionOf } from '@ecoute/core/formats/languages';
import { loadScript } from './scripts/loadScript';

/** Languages that ship with dictionaries, named in themselves. */
export const SCREEN_LANGUAGES = {
  en: 'English',
  pt: 'Português',
  es: 'Español',
  fr: 'Français',
  de: 'Deutsch',
  ar: 'العربية',
  ja: '日本語',
} as const;
export type ScreenLanguage = keyof typeof SCREEN_LANGUAGES;

const DICTIONARIES: Record<
  Exclude<ScreenLanguage, 'en'>,
  () => Promise<{ default: Record<string, string> }>
> = {
  pt: () => import('./languages/pt.json'),
  es: () => import('./languages/es.json'),
  fr: () => import('./languages/fr.json'),
  de: () => import('./languages/de.json'),
  ar: () => import('./languages/ar.json'),
  ja: () => import('./languages/ja.json'),
};

/** Where English itself tells one from many. */
export const ENGLISH: Record<string, string> = {
  '{{count}} items_one': '{{count}} item',
  '{{count}} items_other': '{{count}} items',
  '{{count}} recordings_one': '{{count}} recording',
  '{{count}} recordings_other': '{{count}} recordings',
  '{{count}} points_one': '{{count}} point',
  '{{count}} points_other': '{{count}} points',
  '{{count}} takes left_one': '{{count}} take left',
  '{{count}} takes left_other': '{{count}} takes left',
  '{{count}} hearings left_one': '{{count}} hearing left',
  '{{count}} hearings left_other': '{{count}} hearings left',
  '{{count}} seconds_one': '{{count}} second',
  '{{count}} seconds_other': '{{count}} seconds',
  'about {{count}} minutes_one': 'about {{count}} minute',
  'about {{count}} minutes_other': 'about {{count}} minutes',
  '{{count}} items have no answer_one': 'One item has no answer',
  '{{count}} items have no answer_other': '{{count}} items have no answer',
};

let language: ScreenLanguage = 'en';
/** Speaks the other languages: fetched with the first dictionary, for English needs neither. */
let translator: Translator | null = null;

/** i18next as it is used here. @param resources dictionaries by language */
export async function newTranslator(
  resources: Record<string, Record<string, string>> = {},
): Promise<Translator> {
  const made = (await import('i18next')).default.createInstance();
  await made.init({
    lng: 'en',
    fallbackLng: 'en',
    keySeparator: false,
    nsSeparator: false,
    initAsync: false,
    interpolation: { escapeValue: false },
    resources: Object.fromEntries(
      Object.entries({ en: ENGLISH, ...resources }).map(([tag, translation]) => [tag, { translation }]),
    ),
  });
  return made;
}

/** Sentences in a teacher's own words, while something of theirs is sat. */
let own: ReadonlyMap<string, string> | null = null;

/** From here on sentences are said in these words where there are any; null for none. @param words by the English sentence */
export function setOwnWords(words: ReadonlyMap<string, string> | null): void {
  own = words;
}

/** A sentence in the language of the screen. What has no translation stays English. */
export function t(sentence: string, values: Record<string, unknown> = {}): string {
  const said = own?.get(sentence);
  if (said) return filled(said, values);
  return translator && language !== 'en'
    ? translator.t(sentence, { ...values })
    : inEnglish(sentence, values);
}

/** A sentence as it stands, with its places filled in: what i18next makes of it in English. */
export function inEnglish(sentence: string, values: Record<string, unknown>): string {
  const form =
    values.count === undefined ? null : ENGLISH[`${sentence}_${values.count === 1 ? 'one' : 'other'}`];
  return filled(form ?? sentence, values);
}

const filled = (sentence: string, values: Record<string, unknown>): string =>
  sentence.replace(/\{\{(\w+)\}\}/g, (_place, name: string) => String(values[name] ?? ''));

/** All sentences that students may meet, in English: those that the dictionaries translate. */
export async function allSentences(): Promise<string[]> {
  const { default: dictionary } = await DICTIONARIES.es();
  return [...new Set(Object.keys(dictionary).map(key => key.replace(/_(one|other)$/, '')))];
}

/** The tag by which numbers and dates are written: the browser's own where the language is the same. */
export function locale(): string {
  // Unit tests run where there is no browser to ask.
  const { languages = [] } = globalThis.navigator ?? {};
  return languages.find(l => l.split('-')[0] === language) ?? language;
}

/** Languages that count in more ways than their dictionary tells use the form for many. */
export function withAllPlurals(language: string, dictionary: Record<string, string>): Record<string, string> {
  const categories = new Intl.PluralRules(language).resolvedOptions().pluralCategories;
  const full = { ...dictionary };
  for (const [key, words] of Object.entries(dictionary))
    if (key.endsWith('_other'))
      for (const category of categories) full[key.replace(/_other$/, `_${category}`)] ??= words;
  return full;
}

const loaded = new Map<ScreenLanguage, Promise<unknown>>();

/** Fetches a dictionary once. A failed fetch may be tried again; until then the screen stays English. */
function dictionaryOf(wanted: ScreenLanguage): Promise<unknown> {
  if (wanted === 'en') return Promise.resolve();
  const fetched = async () => {
    const [{ default: dictionary }, made] = await Promise.all([DICTIONARIES[wanted](), newTranslator()]);
    // Two languages may come at once; both are spoken by the one that came first.
    translator ??= made;
    translator.addResourceBundle(wanted, 'translation', withAllPlurals(wanted, dictionary));
  };
  const asked = loaded.get(wanted) ?? fetched();
  loaded.set(wanted, asked);
  asked.catch(() => loaded.delete(wanted));
  return asked;
}

const listeners = new Set<() => void>();

/** Told whenever the language of the screen is another one. */
export function onLanguage(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function screenLanguage(): string {
  return language;
}

/** From here on sentences are in a language; no page is told. */
export async function speak(wanted: ScreenLanguage): Promise<void> {
  await dictionaryOf(wanted);
  await translator?.changeLanguage(wanted);
  language = wanted;
}

/** Puts the screen into a language: its words, its direction, and what screen readers are told. */
export async function setScreenLanguage(wanted: ScreenLanguage): Promise<void> {
  await dictionaryOf(wanted);
  if (language === wanted && document.documentElement.lang === wanted) return;
  await speak(wanted);
  loadScript(wanted);
  document.documentElement.lang = wanted;
  document.documentElement.dir = directionOf(wanted);
  listeners.forEach(listener => listener());
}

export function isScreenLanguage(tag: string): tag is ScreenLanguage {
  return tag in SCREEN_LANGUAGES;
}

const KEPT = 'ecoute-language';

/** The language that somebody chose on this device, else the first of the browser's that there is. */
export function ownLanguage(): ScreenLanguage {
  const kept = localStorage.getItem(KEPT);
  if (kept && isScreenLanguage(kept)) return kept;
  const fits = navigator.languages.map(l => l.split('-')[0]!).find(isScreenLanguage);
  return fits ?? 'en';
}

export function chooseLanguage(language: ScreenLanguage): void {
  localStorage.setItem(KEPT, language);
  // The server writes the first page, before there is a script that could ask this device.
  document.cookie = `${KEPT}=${language}; path=/; max-age=31536000; samesite=lax`;
  void setScreenLanguage(language);
}
