import { snapped } from './snapping';

describe('an edge under the pointer', () => {
  it('moves in steps that a pixel can tell, at least a second', () => {
    expect(snapped('answer', 12_345, 100)).toBe(12_000);
    expect(snapped('answer', 12_345, 2_000)).toBe(10_000);
    expect(snapped('answer', 77_000, 6_000)).toBe(75_000);
    expect(snapped('answer', 77_000, 50_000)).toBe(60_000);
  });

  it('stays inside what an item may have', () => {
    expect(snapped('prepare', -5_000, 100)).toBe(0);
    expect(snapped('answer', -5_000, 100)).toBe(1_000);
    expect(snapped('prepare', 99 * 60_000, 100)).toBe(15 * 60_000);
    expect(snapped('answer', 99 * 60_000, 100)).toBe(60 * 60_000);
  });
});
