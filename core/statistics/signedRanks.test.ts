import fc from 'fast-check';
import { signedRanks } from './signedRanks';

const moved = (differences: number[]) => signedRanks(differences.map(d => ({ before: 0, after: d })));

/** Darwin's fifteen pairs of maize, differences in eighths of an inch: R. A. Fisher, The Design of Experiments, 1935. */
const MAIZE = [49, -67, 8, 16, 6, 23, 28, 41, 14, 29, 56, 24, 75, 60, -48];

/** Nine patients before and after: M. Hollander and D. A. Wolfe, Nonparametric Statistical Methods, 1973, table 3.1. */
const PATIENTS = {
  before: [1.83, 0.5, 1.62, 2.48, 1.68, 1.88, 1.55, 3.06, 1.3],
  after: [0.878, 0.647, 0.598, 2.05, 1.06, 1.29, 1.06, 3.14, 1.29],
};

describe('signed ranks', () => {
  it('agree with published examples', () => {
    const maize = moved(MAIZE);
    expect([maize.rankUp, maize.rankDown]).toEqual([96, 24]);
    expect(maize.p).toBeCloseTo(0.04126, 5);
    const patients = signedRanks(PATIENTS.before.map((before, i) => ({ before, after: PATIENTS.after[i]! })));
    expect(patients.rankDown).toBe(40);
    // Printed for one direction: 0.01953.
    expect(patients.p).toBeCloseTo(2 * 0.01953, 4);
  });

  it('agree with the table of critical values', () => {
    // Ranks 1 to n with a smaller sum of T: the largest T that is significant at 5 % in both directions, and the next.
    for (const [n, t] of [
      [6, 0],
      [8, 3],
      [10, 8],
      [20, 52],
      [25, 89],
    ] as const) {
      const withSum = (sum: number) => {
        let left = sum;
        return Array.from({ length: n }, (_, i) => n - i).map(rank => {
          if (rank > left) return rank;
          left -= rank;
          return -rank;
        });
      };
      expect(moved(withSum(t)).p!).toBeLessThanOrEqual(0.05);
      expect(moved(withSum(t + 1)).p!).toBeGreaterThan(0.05);
    }
  });

  it('share ranks among equals, and make those that stand still count against a shift', () => {
    const three = moved([1, 1, 1]);
    expect(three).toMatchObject({ up: 3, down: 0, same: 0, rankUp: 6, rankDown: 0, p: 0.25 });
    // All signs of three: as uneven as this in two of eight, with the one that stood still or without it.
    expect(moved([1, 1, 1, 0])).toMatchObject({ same: 1, rankUp: 9, p: 0.25 });
    // Those who stood still take the low ranks: two small falls weigh more beside the rises than they would alone.
    const some = [-1, -1, 2, 3, 4, 5];
    expect(moved(some).p).toBe((2 * 5) / 64);
    expect(moved([...some, ...Array.from({ length: 10 }, () => 0)]).p).toBe((2 * 8) / 64);
  });

  it('say nothing where nothing moved, nobody was there, or only one', () => {
    expect(moved([]).p).toBeNull();
    expect(moved([0, 0]).p).toBeNull();
    expect(moved([3]).p).toBe(1);
  });

  it('do not care which measurement comes first, and stay between 0 and 1', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -4, max: 4 }), { maxLength: 30 }), differences => {
        const [there, back] = [moved(differences), moved(differences.map(d => -d))];
        expect(there.p).toBe(back.p);
        expect([there.up, there.down]).toEqual([back.down, back.up]);
        if (there.p !== null) expect(there.p > 0 && there.p <= 1).toBe(true);
      }),
    );
  });

  it('go on as a curve where there are very many, close to what is counted', () => {
    const many = (n: number) => moved(Array.from({ length: n }, (_, i) => (i % 20 < 9 ? -1 : 1) * (i + 1)));
    expect(many(201).isExact).toBe(false);
    expect(many(200).isExact).toBe(true);
    expect(Math.abs(many(201).p! - many(200).p!)).toBeLessThan(0.03);
  });
});
