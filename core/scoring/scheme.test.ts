import fc from 'fast-check';
import { reachable, rubricMaximum, rubricProblems, rubricScore, schemeProblems, type Rubric } from './scheme';

const rubric = (weights = [1, 2], points = [0, 1, 2, 3]): Rubric => ({
  levels: points.map((p, i) => ({ name: `L${i}`, points: p })),
  criteria: weights.map((weight, i) => ({
    id: `c${i}`,
    name: `Criterion ${i}`,
    weight,
    descriptors: points.map(() => ''),
  })),
});
const choose = (...levels: number[]) => levels.map((level, i) => ({ criterionId: `c${i}`, level }));

describe('a rubric', () => {
  it('gives the weighted share of what the item carries', () => {
    // (1·3 + 2·1) of (1·3 + 2·3) = 5/9 of 10 points.
    expect(rubricScore(rubric(), choose(3, 1), 1_000)).toBe(556);
    expect(rubricScore(rubric(), choose(3, 3), 1_000)).toBe(1_000);
    expect(rubricScore(rubric(), choose(0, 0), 1_000)).toBe(0);
  });

  it('gives nothing yet while a criterion that weighs is open; one that weighs nothing may stay open', () => {
    expect(rubricScore(rubric(), choose(3), 1_000)).toBeNull();
    expect(rubricScore(rubric([1, 0]), choose(2), 900)).toBe(600);
    expect(rubricScore(rubric([0, 0]), choose(2, 2), 900)).toBeNull();
    expect(rubricScore(rubric(), choose(3, 9), 1_000)).toBeNull();
  });

  it('is exact where binary fractions are not: thirds of 0.1 and weights of 0.3', () => {
    expect(rubricScore(rubric([0.1, 0.2, 0.7]), choose(3, 3, 3), 10)).toBe(10);
    expect(rubricScore(rubric([0.3, 0.3, 0.3]), choose(1, 1, 1), 100_000)).toBe(33_333);
    expect(rubricMaximum(rubric([0.1, 0.2, 0.7]))).toBe(300);
    expect(rubricMaximum(rubric([2, 1], [0, 2.5]))).toBe(750);
  });

  it('never goes beyond the item, rises with each level, and is whole hundredths', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 100_000 }), { minLength: 1, maxLength: 12 }),
        fc.integer({ min: 0, max: 100_000 }),
        fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 12, maxLength: 12 }),
        (weights, carries, levels) => {
          const r = rubric(weights.map(w => w / 100));
          const own = choose(...levels.slice(0, weights.length));
          const score = rubricScore(r, own, carries)!;
          expect(Number.isInteger(score)).toBe(true);
          expect(score).toBeGreaterThanOrEqual(0);
          expect(score).toBeLessThanOrEqual(carries);
          const better = own.map((c, i) => (i === 0 ? { ...c, level: 3 } : c));
          expect(rubricScore(r, better, carries)!).toBeGreaterThanOrEqual(score);
        },
      ),
    );
  });

  it('says what is wrong with it', () => {
    expect(rubricProblems(rubric())).toEqual([]);
    expect(rubricProblems(rubric([1], [0, 2, 1]))[0]).toContain('out of order: “L2” gives 1');
    expect(rubricProblems(rubric([0, 0]))[0]).toContain('All weights are zero');
    expect(rubricProblems(rubric([1], [1]))[0]).toContain('at least two levels');
    expect(rubricProblems(rubric([]))).toEqual(['The rubric has no criterion yet.']);
  });
});

describe('a scheme', () => {
  const scoring = { kind: 'points' as const, rubric: null, scale: [], passMark: null };

  it('shows what can be reached, and no number where nothing is numbered', () => {
    expect(reachable('points', [2.5, 0.1, 0.2])).toBe(280);
    for (const kind of ['none', 'done', 'level'] as const) expect(reachable(kind, [5, 5])).toBeNull();
  });

  it('says its contradictions while it is edited', () => {
    expect(schemeProblems(scoring, [5])).toEqual([]);
    expect(schemeProblems({ ...scoring, passMark: 6 }, [5])[0]).toContain('more than the 5 points');
    expect(schemeProblems(scoring, [0, 0])[0]).toContain('nothing to reach');
    expect(schemeProblems({ ...scoring, kind: 'none', passMark: 6 }, [0])).toEqual([]);
    expect(schemeProblems({ ...scoring, kind: 'rubric' }, [5])).toEqual(['Choose or write a rubric.']);
    expect(schemeProblems({ ...scoring, kind: 'level' }, [])).toEqual([
      'The scale needs at least two levels.',
    ]);
  });
});
