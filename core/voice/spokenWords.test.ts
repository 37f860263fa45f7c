import { isSpokenWord, sentenceOf, SPOKEN_LANGUAGES, SPOKEN_WORDS, spokenLanguage } from './spokenWords';

test('every word has a sentence of its own in every language', () => {
  for (const language of SPOKEN_LANGUAGES) {
    const all = SPOKEN_WORDS.map(word => sentenceOf(word, language));
    expect(all.every(sentence => sentence.trim().length > 3)).toBe(true);
    expect(new Set(all).size).toBe(all.length);
  }
});

test('Japanese is written as it is said: the voice reads no characters', () => {
  for (const word of SPOKEN_WORDS) expect(sentenceOf(word, 'ja')).not.toMatch(/\p{Script=Han}/u);
});

test('a tag leads to its language; an unknown one to none', () => {
  expect(spokenLanguage('pt-BR')).toBe('pt');
  expect(spokenLanguage('ga')).toBeNull();
  expect(isSpokenWord('done')).toBe(true);
  expect(isSpokenWord('constructor')).toBe(false);
});
