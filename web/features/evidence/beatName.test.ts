import { beatName } from './beatName';

describe('the beat of a stroke', () => {
  it('is counted from one, with its part', () => {
    expect([0, 1, 2.5, 3.25, 1.75].map(beatName)).toEqual(['1', '2', '3½', '4¼', '2¾']);
    expect([1 / 3, 2 / 3, 4 / 3].map(beatName)).toEqual(['1⅓', '1⅔', '2⅓']);
    // As divisions of a score are rounded.
    expect([0.999, 2.333, 0.5001].map(beatName)).toEqual(['2', '3⅓', '1½']);
  });
});
