import { ORDINARY } from '@ecoute/core/timing/arrangements';
import { arrangementWords } from './arrangementWords';

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
});
