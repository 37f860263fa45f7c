import { directionOf, isLanguage, LANGUAGES } from './languages';

describe('languages', () => {
  it('are all well-formed and known to the standard library', () => {
    const names = new Intl.DisplayNames('en', { type: 'language', fallback: 'none' });
    for (const tag of LANGUAGES) {
      expect(isLanguage(tag)).toBe(true);
      expect(names.of(tag)).toBeTruthy();
    }
  });
  it('run as they are written, scripts going before languages', () => {
    expect(['ar', 'he-IL', 'fa', 'ur', 'az-Arab'].map(directionOf)).toEqual(Array(5).fill('rtl'));
    expect(['en', 'ja', 'ku-Latn', 'ar-Latn', '', null].map(directionOf)).toEqual(Array(6).fill('ltr'));
  });
  it('are not anything that a text could be', () => {
    for (const tag of ['', 'x', 'English', 'en_GB', '<b>', 'e'.repeat(60), 5, null])
      expect(isLanguage(tag)).toBe(false);
  });
});
