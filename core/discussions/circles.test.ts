import { byLot, circleForNewcomer } from './circles';

/** The same numbers each time. */
function lot(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 1_103_515_245 + 12_345) % 2 ** 31;
    return state / 2 ** 31;
  };
}

describe('circles by lot', () => {
  const people = (count: number) => Array.from({ length: count }, (_, i) => `p${i}`);

  it.each([
    [9, 2],
    [7, 3],
    [30, 4],
    [3, 2],
    [2, 5],
    [1, 2],
  ])('shares %i people out by %i with nobody left alone and nobody twice', (count, size) => {
    const circles = byLot(people(count), size, lot(count));
    expect(circles.flat().sort()).toEqual(people(count).sort());
    if (count > 1) expect(Math.min(...circles.map(c => c.length))).toBeGreaterThan(1);
    if (count >= size) expect(Math.min(...circles.map(c => c.length))).toBeGreaterThanOrEqual(size);
  });

  it('differs from lot to lot, and has nobody where nobody is', () => {
    expect(byLot(people(12), 2, lot(1))).not.toEqual(byLot(people(12), 2, lot(2)));
    expect(byLot([], 2, lot(1))).toEqual([]);
    expect(() => byLot(people(4), 1, lot(1))).toThrow(RangeError);
  });

  it('takes a newcomer into the smallest', () => {
    expect(
      circleForNewcomer(
        new Map([
          [1, 3],
          [2, 2],
          [3, 2],
        ]),
      ),
    ).toBe(2);
    expect(circleForNewcomer(new Map())).toBe(1);
  });
});
