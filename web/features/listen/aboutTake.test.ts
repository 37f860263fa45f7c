import { aboutTake } from './aboutTake';

const plain = {
  source: 'recorded' as const,
  wholeMs: null,
  durationMs: 12_000,
  used: { hearings: 1, hints: 0, readAlouds: 0 },
};

describe('how an answer came about', () => {
  it('says nothing of what is as usual', () => {
    expect(aboutTake(plain, true)).toEqual([]);
  });

  it('says how often the student used what helps', () => {
    const used = { hearings: 3, hints: 1, readAlouds: 2 };
    expect(aboutTake({ ...plain, used }, true)).toEqual([
      'Heard the prompt 3 times, opened the hint, had the words read aloud twice.',
    ]);
    // Without a sounding prompt there is nothing to have heard.
    expect(aboutTake({ ...plain, used }, false)).toEqual([
      'Opened the hint, had the words read aloud twice.',
    ]);
  });

  it('says where it comes from, and what was cut off', () => {
    expect(aboutTake({ ...plain, source: 'uploaded', wholeMs: 20_000 }, true)).toEqual([
      'Brought as a file.',
      'The student cut this take: 0:12 of 0:20.',
    ]);
    expect(aboutTake({ ...plain, source: 'phone' }, true)).toEqual(['Recorded on a phone.']);
  });
});
