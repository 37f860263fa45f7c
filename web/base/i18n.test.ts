import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ENGLISH, inEnglish, newTranslator, SCREEN_LANGUAGES, t, withAllPlurals } from './i18n';

const WEB = join(__dirname, '..');
const dictionaries = Object.keys(SCREEN_LANGUAGES)
  .filter(language => language !== 'en')
  .map((language): [string, Record<string, string>] => [
    language,
    JSON.parse(readFileSync(join(__dirname, 'languages', `${language}.json`), 'utf8')) as Record<
      string,
      string
    >,
  ]);

/** Every sentence that a screen says through `t`, found in the code itself. */
function sentences(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap(entry => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return entry.name === 'node_modules' ? [] : sentences(path);
    if (!/\.tsx?$/.test(entry.name) || entry.name.includes('.test.')) return [];
    return [...readFileSync(path, 'utf8').matchAll(/\bt\(\s*'((?:[^'\\]|\\.)*)'/g)].map(m =>
      m[1]!.replaceAll("\\'", "'"),
    );
  });
}
const said = [...new Set(sentences(WEB))];
const placeholders = (words: string) => [...new Set(words.match(/\{\{\w+\}\}/g) ?? [])].sort();

describe('the languages of students’ screens', () => {
  it.each(dictionaries)('%s has every sentence, with the same places in it', (_language, dictionary) => {
    expect(said.length).toBeGreaterThan(200);
    const missing = said.filter(s => !(s in dictionary) && !(`${s}_other` in dictionary));
    expect(missing).toEqual([]);
    const unlike = Object.entries(dictionary).filter(([key, words]) => {
      if (words.trim() === '') return true;
      const [own, others] = [placeholders(words), placeholders(key.replace(/_(one|two|few|other)$/, ''))];
      // One of something, or two, may be said without a number.
      return /_(one|two)$/.test(key) ? own.some(p => !others.includes(p)) : own.join() !== others.join();
    });
    expect(unlike).toEqual([]);
  });

  it('hold the same sentences', () => {
    const keys = (d: Record<string, string>) =>
      Object.keys(d)
        .filter(k => !/_(one|two|few)$/.test(k))
        .sort();
    for (const [, dictionary] of dictionaries) expect(keys(dictionary)).toEqual(keys(dictionaries[0]![1]));
  });

  it('say one and many as the language does', async () => {
    expect([1, 2].map(count => t('{{count}} items', { count }))).toEqual(['1 item', '2 items']);
    const arabic = Object.fromEntries(dictionaries)['ar']!;
    const full = withAllPlurals('ar', arabic);
    for (const category of ['zero', 'few', 'many', 'other'])
      expect(full[`{{count}} seconds_${category}`]).toContain('{{count}}');
    const translator = await newTranslator({ ar: full });
    const say = (sentence: string, count: number) => translator.t(sentence, { count, lng: 'ar' });
    expect([1, 2, 3, 11, 100].map(count => say('{{count}} seconds', count))).toEqual([
      'ثانية واحدة',
      'ثانيتان',
      '3 ثوانٍ',
      '11 ثانية',
      '100 ثانية',
    ]);
    expect([2, 5, 20].map(count => say('about {{count}} minutes', count))).toEqual([
      'نحو دقيقتين',
      'نحو 5 دقائق',
      'نحو 20 دقيقة',
    ]);
  });

  it('say in English what the translator would, before it is fetched', async () => {
    const translator = await newTranslator();
    const all = [...new Set([...said, ...Object.keys(ENGLISH).map(k => k.replace(/_(one|other)$/, ''))])];
    for (const sentence of all)
      for (const count of [0, 1, 2, 21]) {
        const names = placeholders(sentence).map(p => p.slice(2, -2));
        const values = Object.fromEntries(names.map(n => [n, n === 'count' ? count : `<${n} & "${count}">`]));
        expect(inEnglish(sentence, values)).toBe(translator.t(sentence, { ...values }));
      }
  });

  it('leave what has no translation as it is', () => {
    expect(t('A sentence that nobody translated: {{x}}.', { x: 'kept' })).toBe(
      'A sentence that nobody translated: kept.',
    );
  });
});
