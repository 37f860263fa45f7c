import { averageOf, type Averaged } from './averages';

const marked = (given: number, carries: number | null, over: Partial<Averaged> = {}): Averaged => ({
  given,
  carries,
  isMarked: true,
  isMissing: false,
  isExcused: false,
  ...over,
});
const missing = (carries: number) => marked(0, carries, { isMarked: false, isMissing: true });

describe('an average over assessments', () => {
  it('weighs each by the points that it carries', () => {
    expect(averageOf([marked(1_000, 1_000), marked(0, 3_000)], { missingCounts: false })).toEqual({
      given: 1_000,
      most: 4_000,
      count: 2,
    });
  });

  it('leaves out what is excused, not marked yet, or without points', () => {
    const all = [
      marked(500, 1_000),
      marked(0, 1_000, { isExcused: true }),
      marked(300, 1_000, { isMarked: false }),
      marked(0, null),
      marked(0, 0),
    ];
    expect(averageOf(all, { missingCounts: true })).toEqual({ given: 500, most: 1_000, count: 1 });
    expect(averageOf(all.slice(1), { missingCounts: true })).toBeNull();
    expect(averageOf([], { missingCounts: true })).toBeNull();
  });

  it('counts what is missing as the teacher chose; who is excused misses nothing', () => {
    const all = [marked(800, 1_000), missing(1_000)];
    expect(averageOf(all, { missingCounts: false })).toEqual({ given: 800, most: 1_000, count: 1 });
    expect(averageOf(all, { missingCounts: true })).toEqual({ given: 800, most: 2_000, count: 2 });
    expect(averageOf([{ ...missing(1_000), isExcused: true }], { missingCounts: true })).toBeNull();
  });
});
