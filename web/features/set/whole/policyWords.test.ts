import { policiesOf, STARTING_POINTS, type PolicyName } from '@ecoute/core/timing/startingPoints';
import { POINT_WORDS, policyInWords } from './policyWords';

describe('policies in plain words', () => {
  const names = Object.keys(policiesOf('exam')) as PolicyName[];

  it('have words for every policy of every starting point', () => {
    for (const point of STARTING_POINTS) {
      expect(POINT_WORDS[point].name).toBeTruthy();
      for (const name of names) expect(policyInWords(name, policiesOf(point))).toMatch(/\S/);
    }
  });

  it('say limits as numbers and no limit as words', () => {
    const exam = policiesOf('exam');
    const practice = policiesOf('practice');
    expect(policyInWords('hearingsAllowed', exam)).toBe('once');
    expect(policyInWords('hearingsAllowed', { ...exam, hearingsAllowed: 3 })).toBe('3 times');
    expect(policyInWords('hearingsAllowed', practice)).toBe('as often as they like');
    expect(policyInWords('takesAllowed', exam)).toBe('one only');
    expect(policyInWords('takesAllowed', practice)).toBe('no limit');
    expect(policyInWords('prepareMs', exam)).toBe('2:00');
    expect(policyInWords('prepareMs', practice)).toBe('no time to prepare');
    expect(policyInWords('startsBy', exam)).toBe('automatically');
    expect(policyInWords('pauseAllowed', practice)).toBe('may pause');
  });
});
