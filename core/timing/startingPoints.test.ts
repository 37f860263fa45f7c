import { differences, policiesOf, STARTING_POINTS, timeProblems } from './startingPoints';

describe('starting points', () => {
  it('differ in nothing from themselves, and each from every other', () => {
    for (const a of STARTING_POINTS)
      for (const b of STARTING_POINTS) expect(differences(policiesOf(a), b).length === 0).toBe(a === b);
  });

  it('are what they are called', () => {
    expect(policiesOf('exam')).toMatchObject({
      takesAllowed: 1,
      hearingsAllowed: 1,
      pauseAllowed: false,
      startsBy: 'itself',
    });
    expect(policiesOf('practice')).toMatchObject({ takesAllowed: 0, required: false });
    expect(policiesOf('placement')).toMatchObject({ passAllowed: true, required: true });
  });

  it('name what was changed, in the order of the strip', () => {
    expect(differences({ ...policiesOf('homework'), takesAllowed: 1, prepareMs: 0 }, 'homework')).toEqual([
      'prepareMs',
      'takesAllowed',
    ]);
  });

  it('hand out copies: changing one item’s policies changes no other’s', () => {
    policiesOf('exam').takesAllowed = 9;
    expect(policiesOf('exam').takesAllowed).toBe(1);
  });

  it('say when the shortest answer is longer than the limit', () => {
    const policies = { ...policiesOf('homework'), shortestAnswerMs: 46_000 };
    expect(timeProblems(policies)).toEqual({ shortestAnswerMs: expect.stringContaining('longer') });
    expect(timeProblems({ ...policies, shortestAnswerMs: 45_000 })).toEqual({});
  });
});
