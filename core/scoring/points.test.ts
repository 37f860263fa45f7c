import fc from 'fast-check';
import { fromHundredths, parsePoints, pointsText, scoreProblem, toHundredths, totalOf } from './points';

describe('points', () => {
  it('reads what teachers type and refuses the rest', () => {
    expect(parsePoints('2.5')).toBe(250);
    expect(parsePoints(' 2,05 ')).toBe(205);
    expect(parsePoints('10')).toBe(1000);
    for (const wrong of ['', '-1', '1.234', 'ten', '1.2.3', '.5', '1e3'])
      expect(parsePoints(wrong)).toBeNull();
  });

  it('writes and reads back every number of hundredths', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 10_000_000 }), n => {
        expect(parsePoints(pointsText(n))).toBe(n);
        expect(toHundredths(fromHundredths(n))).toBe(n);
      }),
    );
  });

  it('adds tenths without drift', () => {
    const tenths = Array.from({ length: 30 }, () => ({ maximum: 10, given: toHundredths(0.1) }));
    expect(totalOf(tenths)).toEqual({ given: 300, maximum: 300, unmarked: 0, scored: true });
  });

  it('says what is unmarked and shows no number where nothing is scored', () => {
    expect(
      totalOf([
        { maximum: 500, given: null },
        { maximum: 0, given: null },
      ]),
    ).toMatchObject({
      unmarked: 1,
      maximum: 500,
    });
    expect(totalOf([{ maximum: 0, given: null }]).scored).toBe(false);
  });

  it('refuses scores outside the item', () => {
    expect(scoreProblem(500, 500)).toBeNull();
    expect(scoreProblem(501, 500)).toContain('at most 5 points');
    expect(scoreProblem(-1, 500)).toContain('below zero');
    expect(scoreProblem(0.5, 500)).toContain('two decimals');
  });
});
