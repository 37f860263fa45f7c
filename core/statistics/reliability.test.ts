import fc from 'fast-check';
import { itemRestCorrelations, reliabilityOf } from './reliability';
import { correlationOf, spreadOf } from './spread';

/**
 * Seven questions to the staff of thirty departments: S. Chatterjee and B. Price, Regression Analysis by Example, 1977.
 * Alpha and the item–rest correlations of these data are printed in several textbooks and manuals.
 */
const DEPARTMENTS =
  `43 51 30 39 61 92 45, 63 64 51 54 63 73 47, 71 70 68 69 76 86 48, 61 63 45 47 54 84 35, 81 78 56 66 71 83 47,
  43 55 49 44 54 49 34, 58 67 42 56 66 68 35, 71 75 50 55 70 66 41, 72 82 72 67 71 83 31, 67 61 45 47 62 80 41,
  64 53 53 58 58 67 34, 67 60 47 39 59 74 41, 69 62 57 42 55 63 25, 68 83 83 45 59 77 35, 77 77 54 72 79 77 46,
  81 90 50 72 60 54 36, 74 85 64 69 79 79 63, 65 60 65 75 55 80 60, 65 70 46 57 75 85 46, 50 58 68 54 64 78 52,
  50 40 33 34 43 64 33, 64 61 52 62 66 80 41, 53 66 52 50 63 80 37, 40 37 42 58 50 57 49, 63 54 42 48 66 75 33,
  66 77 66 63 88 76 72, 78 75 58 74 80 78 49, 48 57 44 45 51 83 38, 85 85 71 71 77 74 55, 82 82 39 59 64 78 39`
    .split(',')
    .map(row => row.trim().split(' ').map(Number));

/** Six people judged by four: P. E. Shrout and J. L. Fleiss, Psychological Bulletin 86, 1979, table 2. */
const JUDGED = [
  [9, 2, 5, 8],
  [6, 1, 3, 2],
  [8, 4, 6, 8],
  [7, 1, 2, 6],
  [10, 5, 6, 9],
  [6, 2, 4, 7],
];

describe('reliability', () => {
  it('agrees with the published figures of thirty departments', () => {
    expect(DEPARTMENTS).toHaveLength(30);
    expect(reliabilityOf(DEPARTMENTS)!.alpha).toBeCloseTo(0.84, 2);
    const published = [0.67, 0.74, 0.56, 0.71, 0.79, 0.27, 0.46];
    itemRestCorrelations(DEPARTMENTS).forEach((r, i) => expect(r).toBeCloseTo(published[i]!, 2));
  });

  it('agrees with Shrout and Fleiss, whose ICC(3,4) is the same figure, also in its interval', () => {
    const { alpha, low, high, errorOf } = reliabilityOf(JUDGED, 2)!;
    expect(alpha).toBeCloseTo(0.91, 2);
    expect(low).toBeCloseTo(0.68, 2);
    expect(high).toBeCloseTo(0.99, 2);
    expect(errorOf).toBeCloseTo(
      spreadOf(JUDGED.map(r => r.reduce((a, b) => a + b)))! * Math.sqrt(1 - alpha),
      10,
    );
  });

  it('says nothing of too few, of one item, or where all are the same', () => {
    expect(reliabilityOf([])).toBeNull();
    expect(reliabilityOf(JUDGED)).toBeNull();
    expect(itemRestCorrelations(JUDGED)).toEqual([null, null, null, null]);
    expect(reliabilityOf(Array.from({ length: 20 }, (_, i) => [i]))).toBeNull();
    const same = Array.from({ length: 20 }, () => [0.1, 0.2, 0.3]);
    expect(reliabilityOf(same)).toBeNull();
    expect(itemRestCorrelations(same)).toEqual([null, null, null]);
  });

  it('never says NaN or infinity', () => {
    const values = fc.array(fc.array(fc.constantFrom(0, 1, 2.5, 5), { minLength: 3, maxLength: 3 }), {
      minLength: 10,
      maxLength: 14,
    });
    fc.assert(
      fc.property(values, table => {
        const found = reliabilityOf(table);
        for (const figure of found ? Object.values(found) : []) expect(Number.isFinite(figure)).toBe(true);
        for (const r of itemRestCorrelations(table)) expect(r === null || Math.abs(r) <= 1).toBe(true);
      }),
    );
  });
});

describe('a correlation', () => {
  it('is 1 of a line, −1 of one that falls, and nothing of too few or of what stands still', () => {
    expect(correlationOf([1, 2, 3], [2, 4, 6])).toBeCloseTo(1, 12);
    expect(correlationOf([1, 2, 3], [3, 2, 1])).toBeCloseTo(-1, 12);
    expect(correlationOf([1, 2], [1, 2])).toBeNull();
    expect(correlationOf([1, 2, 3], [5, 5, 5])).toBeNull();
    expect(() => correlationOf([1], [])).toThrow(RangeError);
  });
});
