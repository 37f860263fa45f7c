import fc from 'fast-check';
import { clock, inWords, parseLength, tenths } from './words';

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
    expect(
      [
        '2 minutes',
        '45 min',
        '1h',
        '1 hour',
        '1 h 20',
        '1h 20m',
        '1:05:00',
        '1,5 min',
        '2 mins.',
        '1 minute and 5 seconds',
      ].map(parseLength),
    ).toEqual([
      120_000, 2_700_000, 3_600_000, 3_600_000, 4_800_000, 4_800_000, 3_900_000, 90_000, 120_000, 65_000,
    ]);
    expect(['1:30.5', '4:05,25', '90,5'].map(parseLength)).toEqual([90_500, 245_250, 90_500]);
    for (const wrong of ['', 'soon', '1:75', '-3', '1:2', '1:75:00', 'h', 'min', '2 weeks', '1h 2h'])
      expect(parseLength(wrong)).toBeNull();
  });
  it('writes a moment so that it can be typed again', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 90_000 }), n =>
        expect(parseLength(tenths(n * 100))).toBe(n * 100),
      ),
    );
    expect(tenths(59_960)).toBe('1:00.0');
  });
});
