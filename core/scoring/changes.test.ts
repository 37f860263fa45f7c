import { highestShown, isChanged, markProblem, overrides, reasonFor } from './changes';
import type { Rubric } from './scheme';

const rubric: Rubric = {
  levels: [
    { name: 'low', points: 0 },
    { name: 'high', points: 4 },
  ],
  criteria: [
    { id: 'flow', name: 'Flow', weight: 1, descriptors: [] },
    { id: 'sounds', name: 'Sounds', weight: 3, descriptors: [] },
  ],
};
const choices = [
  { criterionId: 'flow', level: 0 },
  { criterionId: 'sounds', level: 1 },
];

describe('what in a mark asks for a reason', () => {
  it('points beside what the rubric gives', () => {
    // 3 of 4 weights at the highest level: 7.5 of 10.
    expect(overrides({ points: 750, choices }, rubric, 1_000)).toBe(false);
    expect(overrides({ points: 800, choices }, rubric, 1_000)).toBe(true);
    expect(overrides({ points: 800, choices: choices.slice(1) }, rubric, 1_000)).toBe(false);
    expect(overrides({ points: 800, choices: [] }, null, 1_000)).toBe(false);
    expect(overrides({ points: null, choices }, rubric, 1_000)).toBe(false);
  });

  it('a finished score that says something else, in whatever order', () => {
    const before = { points: 750, choices };
    expect(isChanged(before, { points: 750, choices: [...choices].reverse() })).toBe(false);
    expect(isChanged(before, { points: 700, choices })).toBe(true);
    expect(
      isChanged(before, { points: 750, choices: [choices[0]!, { criterionId: 'sounds', level: 0 }] }),
    ).toBe(true);
    expect(
      isChanged(before, { points: 750, choices: [choices[0]!, { criterionId: 'else', level: 1 }] }),
    ).toBe(true);
  });

  it('once for an override, each time for a change', () => {
    const over = { points: 800, choices };
    expect(reasonFor(null, over, rubric, 1_000)).toBe('override');
    expect(reasonFor(over, over, rubric, 1_000)).toBeNull();
    expect(reasonFor(over, { points: 750, choices }, rubric, 1_000)).toBe('change');
    expect(reasonFor(null, { points: 750, choices }, rubric, 1_000)).toBeNull();
  });

  it('not for the first thing that a finished mark says', () => {
    expect(reasonFor({ points: null, choices: [] }, { points: null, choices }, null, 0)).toBeNull();
  });

  it('finds the highest level that recordings show', () => {
    expect(highestShown([1, null, 3, 2])).toBe(3);
    expect(highestShown([null, null])).toBeNull();
    expect(highestShown([0])).toBe(0);
  });
});

describe('what stands in the way of a mark', () => {
  const of = (kind: 'points' | 'done' | 'rubric' | 'none', carries: number, finishes = true) => ({
    scoring: { kind, rubric: kind === 'rubric' ? rubric : null },
    carries,
    finishes,
  });
  const score = (points: number | null, reason = '') => ({ points, choices: [], reason });

  it('is said at its field, in words that fit the scheme', () => {
    expect(markProblem(null, score(null), of('points', 500))).toEqual({
      field: 'points',
      message: 'Give points before you finish this answer.',
    });
    expect(markProblem(null, score(null), of('done', 100))?.message).toMatch(/^Say done or not done/);
    expect(markProblem(null, score(null), of('none', 0))).toBeNull();
    expect(markProblem(null, score(600), of('points', 500))?.field).toBe('points');
    expect(markProblem(score(300), score(400), of('points', 500))).toMatchObject({ field: 'reason' });
    expect(markProblem(score(300), score(400, 'Heard again.'), of('points', 500))).toBeNull();
    expect(markProblem(null, { points: 800, choices, reason: ' ' }, of('rubric', 1_000))?.message).toMatch(
      /rubric gives/,
    );
  });

  it('lets what is not finished be kept, but for points that cannot be', () => {
    expect(markProblem(null, score(null), of('points', 500, false))).toBeNull();
    expect(markProblem(score(300), score(400), of('points', 500, false))).toBeNull();
    expect(markProblem(null, score(600), of('points', 500, false))?.field).toBe('points');
  });
});
