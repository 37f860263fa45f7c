/**
 * The language of a student's screens. Keys are the English sentences themselves, so that a screen reads the same
 * in the code as in English; the other languages are dictionaries that are fetched when they are chosen.
 */
import i18next from 'i18next';
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
const ENGLISH: Record<string, string> = {
  '{{count}} items_one': '{{count}} item',
  '{{count}} items_other': '{{count}} items',
  '{{count}} points_one': '{{count}} point',
  '{{count}} points_other': '{{count}} points',
  '{{count}} takes left_one': '{{count}} take left',
  '{{count}} takes left_other': '{{count}} takes left',
  '{{count}} hearings left_one': '{{count}} hearing left',
  '{{count}} hearings left_other': '{{count}} hearings left',
  '{{count}} seconds_one': '{{count}} second',
  '{{count}} seconds_other': '{{count}} seconds',
  '{{count}} items have no answer_one': 'One item has no answer',
  '{{count}} items have no answer_other': '{{count}} items have no answer',
};

void i18next.init({
  lng: 'en',
  fallbackLng: 'en',
  keySeparator: false,
  nsSeparator: false,
  initAsync: false,
  interpolation: { escapeValue: false },
  resources: { en: { translation: ENGLISH } },
});

/** A sentence in the language of the screen. What has no translation stays English. */
export function t(sentence: string, values: Record<string, unknown> = {}): string {
  return i18next.t(sentence, values);
}

/** The tag by which numbers and dates are written: the browser's own where the language is the same. */
export function locale(): string {
  const { language } = i18next;
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
function dictionaryOf(language: ScreenLanguage): Promise<unknown> {
  if (language === 'en') return Promise.resolve();
  const asked =
    loaded.get(language) ??
    DICTIONARIES[language]().then(({ default: dictionary }) =>
      i18next.addResourceBundle(language, 'translation', withAllPlurals(language, dictionary)),
    );
  loaded.set(language, asked);
  asked.catch(() => loaded.delete(language));
  return asked;
}

const listeners = new Set<() => void>();

/** Told whenever the language of the screen is another one. */
export function onLanguage(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function screenLanguage(): string {
  return i18next.language;
}

/** Puts the screen into a language: its words, its direction, and what screen readers are told. */
export async function setScreenLanguage(language: ScreenLanguage): Promise<void> {
  await dictionaryOf(language);
  if (i18next.language === language && document.documentElement.lang === language) return;
  await i18next.changeLanguage(language);
  loadScript(language);
  document.documentElement.lang = language;
  document.documentElement.dir = directionOf(language);
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
  void setScreenLanguage(language);
}
