import type { StudentLanguage } from '@ecoute/contract/languages';

/** Says a sentence by its key, with what stands in braces filled in. */
export type Says<K extends string> = (key: K, values?: Record<string, string | number>) => string;

/** Sentences of something that the server writes, in one language. @param words by key and language */
export function worded<K extends string>(
  words: Record<K, Record<StudentLanguage, string>>,
  language: StudentLanguage,
): Says<K> {
  return (key, values = {}) =>
    words[key][language].replace(/\{(\w+)\}/g, (_place, name: string) => String(values[name] ?? ''));
}
