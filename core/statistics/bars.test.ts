import fc from 'fast-check';
import { barsOf } from './bars';

describe('bars of a distribution', () => {
  const counts = (values: number[], most: number, least = 100) =>
    barsOf(values, v => v, { most, least }).map(b => [b.from, b.to, b.of.length]);

  it('have round widths and hold the highest value in the last', () => {
    expect(counts([0, 99, 100, 500], 500)).toEqual([
      [0, 100, 2],
      [100, 200, 1],
      [200, 300, 0],
      [300, 400, 0],
      [400, 500, 1],
    ]);
    expect(barsOf([1], v => v, { most: 10_000, least: 100 })).toHaveLength(10);
    expect(counts([700], 700, 1).at(-1)).toEqual([600, 700, 1]);
  });

  it('are none of nothing', () => {
    expect(counts([], 500)).toEqual([]);
    expect(counts([0], 0)).toEqual([]);
  });

  it('hold everything once, whatever comes', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 100_000 }),
        fc.array(fc.integer({ min: 0, max: 100_000 }), { minLength: 1 }),
        (most, values) => {
          const bars = barsOf(
            values.map(v => Math.min(v, most)),
            v => v,
            { most, least: 1 },
          );
          expect(bars.length).toBeLessThanOrEqual(12);
          expect(bars.flatMap(b => b.of)).toHaveLength(values.length);
        },
      ),
    );
  });
});
