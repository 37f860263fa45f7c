import { signedRanks } from '@ecoute/core/statistics/signedRanks';
import type { Compared, ComparedSide, ComparedSitting } from '@ecoute/contract/results';
import { cameTo, likelyPair, shiftWords } from './compared';

const side = (over: Partial<ComparedSide> = {}) =>
  ({ scheme: 'level', scale: ['A1', 'A2'], carries: null, ...over }) as ComparedSide;
const sitting = (over: Partial<ComparedSitting> = {}) =>
  ({ level: null, points: null, isMarked: true, ...over }) as ComparedSitting;
const moved = (differences: number[], by: 'levels' | 'points' = 'levels') =>
  ({
    before: side(),
    after: side(),
    shift: { ...signedRanks(differences.map(d => ({ before: 0, after: d }))), by },
  }) as Compared;

describe('before and after', () => {
  it('says what each came to, with no number where there is none', () => {
    expect(cameTo(side(), sitting({ level: 1 }))).toBe('A2');
    expect(cameTo(side(), sitting())).toBe('no level yet');
    expect(cameTo(side({ scheme: 'points', carries: 20 }), sitting({ points: 15 }))).toBe('75 %');
    expect(cameTo(side({ scheme: 'none' }), sitting())).toBe('marked');
  });

  it('says of the group what can be said, and plainly what cannot', () => {
    expect(shiftWords(moved([1, 1, 1, 1, 2, 1]))).toEqual([
      'Of 6 students with a level in both, 6 rose, 0 fell and 0 stayed.',
      'As uneven a change would come about by chance alone about once in 32 times (signed ranks, p = 0.031, exact).',
      'So the group as a whole very likely moved upwards.',
    ]);
    expect(shiftWords(moved([1, 1, 1]))[2]).toContain('with fewer than six students it never can');
    expect(shiftWords(moved([1, -1, 1, -1, 1, -1, 1, -1]))[2]).toContain('cannot be told from chance');
    expect(shiftWords(moved([0, 0]))[1]).toContain('Nobody moved');
    expect(shiftWords(moved([], 'points'))).toEqual(['Nobody has a share of points in both yet.']);
    expect(shiftWords({ ...moved([]), shift: null })[0]).toContain('different scales');
  });

  it('offers the placement that was given twice', () => {
    const column = (releaseId: string, assessmentId: string, startingPoint = 'homework') => ({
      releaseId,
      assessmentId,
      startingPoint,
      dueAt: '',
    });
    expect(likelyPair([column('1', 'a'), column('2', 'b')])).toBeNull();
    expect(
      likelyPair([
        column('1', 'p', 'placement'),
        column('2', 'a'),
        column('3', 'p', 'placement'),
        column('4', 'a'),
      ]),
    ).toEqual({
      before: '1',
      after: '3',
    });
  });
});
