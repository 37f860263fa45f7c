import { ORDINARY } from '@ecoute/core/timing/arrangements';
import { arrangementWords, isArranged } from './arrangementWords';

const words = (over: object) => arrangementWords({ ...ORDINARY, ...over }, tag => tag.toUpperCase());

describe('an arrangement in words', () => {
  it('says what is granted and nothing else', () => {
    expect(words({})).toEqual([]);
    expect(words({ extraTime: 1.25, extraHearings: 1 })).toEqual(['25 % more time', 'one more hearing']);
    expect(words({ extraHearings: 3, readAloud: true, breakMs: 600_000, directionsLanguage: 'pl' })).toEqual([
      '3 more hearings',
      'prompts read aloud',
      '10 minutes of breaks',
      'directions in PL',
    ]);
  });

  it('is one as soon as one thing is granted', () => {
    expect(isArranged(ORDINARY)).toBe(false);
    expect(isArranged({ ...ORDINARY, directionsLanguage: 'pl' })).toBe(true);
  });
});
