import { contourPoints, stacked } from './longViewPoints';

describe('points of the longer views', () => {
  it('are the pitch in Hz at its seconds, with nothing where nothing sounds', () => {
    const { x, y } = contourPoints({ cents: [6_900, 0, 8_100], hopSec: 0.01, fromSec: 2, range: null });
    expect(x).toEqual([2, 2.01, 2.02]);
    expect(y[0]).toBeCloseTo(440, 6);
    expect(y[1]).toBeNull();
    expect(y[2]).toBeCloseTo(880, 6);
  });

  it('are few enough to draw, however long the take is, and none is lost between them', () => {
    const cents = Array.from({ length: 180_000 }, (_, i) => (i % 1_000 < 200 ? 6_900 : 0));
    const { x, y } = contourPoints({ cents, hopSec: 0.01, fromSec: 0, range: null });
    expect(x.length).toBeLessThanOrEqual(3_000);
    expect(y.filter(v => v !== null).length).toBeGreaterThan(400);
    expect(x.at(-1)).toBeGreaterThan(1_790);
  });

  it('lie on top of each other where their values are alike', () => {
    expect(stacked([1, 5, 1, 1, 9])).toEqual([0, 0, 1, 2, 0]);
    expect(stacked([3, 3])).toEqual([0, 1]);
  });
});
