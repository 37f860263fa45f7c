import { degreeName, vibratoWords } from './Tendencies';

const note = (vibrato: { rateHz: number; extentCents: number } | null) => ({
  startSec: 0,
  endSec: 1,
  midi: 60,
  cents: 0,
  vibrato,
});

describe('what a performance tends to', () => {
  it('is named by degrees of the scale', () => {
    expect([1, 4.5, 7].map(degreeName)).toEqual(['1', '4♯', '7']);
  });

  it('has a vibrato in the middle of those of its notes, or none', () => {
    const some = [5, 5.4, 6].map(rateHz => note({ rateHz, extentCents: 10 * rateHz }));
    expect(vibratoWords([...some, note(null)])).toBe('on 3 of 4 notes: 5.4 Hz, 54 cents to each side');
    expect(vibratoWords([note(null)])).toBeNull();
    expect(vibratoWords(null)).toBeNull();
  });
});
