import fc from 'fast-check';
import { percentOf, percentOfShare } from './shares';

describe('shares in per cent', () => {
  it('round half up, and say neither all nor nothing where it is not so', () => {
    expect(percentOf(285, 1_000)).toBe(29);
    expect(percentOf(284, 1_000)).toBe(28);
    expect(percentOf(1_000, 1_000)).toBe(100);
    expect(percentOf(999, 1_000)).toBe(99);
    expect(percentOf(1, 1_000)).toBe(1);
    expect(percentOf(0, 1_000)).toBe(0);
    expect(percentOf(0, 0)).toBeNull();
    expect(percentOfShare(0.5)).toBe(50);
    expect(percentOfShare(0.9999)).toBe(99);
  });

  it('never fall while what was reached rises', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 100_000 }),
        fc.integer({ min: 0, max: 100_000 }),
        fc.integer({ min: 0, max: 100_000 }),
        (most, a, b) => {
          const [low, high] = [Math.min(a, b, most), Math.min(Math.max(a, b), most)];
          expect(percentOf(low, most)!).toBeLessThanOrEqual(percentOf(high, most)!);
        },
      ),
    );
  });
});
