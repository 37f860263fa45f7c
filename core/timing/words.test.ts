import fc from 'fast-check';
import { clock, inWords, parseLength } from './words';

describe('times as people read them', () => {
  it('writes time codes', () => {
    expect([0, 999, 1_000, 61_000, 3_600_000, -5].map(clock)).toEqual([
      '0:00',
      '0:00',
      '0:01',
      '1:01',
      '1:00:00',
      '0:00',
    ]);
  });
  it('puts decisions in words', () => {
    expect([1_000, 40_000, 360_000, 4_800_000, 7_200_000].map(inWords)).toEqual([
      '1 second',
      '40 seconds',
      'about 6 minutes',
      '1 h 20 min',
      '2 h',
    ]);
  });
  it('reads what it writes, and what teachers type', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 3_599 }), s =>
        expect(parseLength(clock(s * 1000))).toBe(s * 1000),
      ),
    );
    expect(['45', '90s', '2 min', '1m30s', '1 min 30 sec', '1:05'].map(parseLength)).toEqual([
      45_000, 90_000, 120_000, 90_000, 90_000, 65_000,
    ]);
    for (const wrong of ['', 'soon', '1:75', '-3', '1:2']) expect(parseLength(wrong)).toBeNull();
  });
});
