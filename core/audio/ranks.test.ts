import { median, percentile, shareOf } from './ranks';
import { randomFrom } from '../testing/sounds';

describe('ranks', () => {
  it('finds of many values, without sorting them, what sorting them finds', () => {
    const random = randomFrom(7);
    const rows = [
      Float32Array.from({ length: 30_000 }, () => -120 + 120 * random() ** 3),
      // Nearly all alike, and two far off.
      Float32Array.from({ length: 20_000 }, (_, i) => (i === 5 ? -1e6 : i === 6 ? 1e6 : -40 + (i % 3) / 1e4)),
      new Float32Array(10_000).fill(-33.3),
    ];
    for (const row of rows) {
      const sorted = Float32Array.from(row).sort();
      for (const share of [0, 0.001, 0.05, 0.5, 0.95, 0.9999, 1])
        expect(percentile(row, share)).toBe(sorted[Math.min(row.length - 1, Math.floor(share * row.length))]);
    }
  });

  it('finds the same of few, and says −120 of none', () => {
    expect(percentile([3, 1, 2], 0.5)).toBe(2);
    expect(percentile([3, 1, 2], 1)).toBe(3);
    expect(percentile(new Float32Array(0), 0.95)).toBe(-120);
  });

  it('takes the middle of a row, and the step that a share does not exceed', () => {
    expect(median([4, 1, 3, 2])).toBe(2.5);
    expect(median([9, 1, 5])).toBe(5);
    expect(shareOf(Uint32Array.from([5, 3, 2]), 10, 0.5)).toBe(1);
  });
});
