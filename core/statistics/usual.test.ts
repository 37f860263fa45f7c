import { describe, expect, it } from '@jest/globals';
import { usualOf } from './usual';

describe('what is usual', () => {
  it('is the middle half, with quartiles as the textbook has them', () => {
    expect(usualOf([7, 1, 3, 5, 9])).toEqual({
      count: 5,
      lowest: 1,
      low: 3,
      middle: 5,
      high: 7,
      highest: 9,
    });
    expect(usualOf([1, 2, 3, 4, 5, 6])).toMatchObject({ low: 2.25, middle: 3.5, high: 4.75 });
  });

  it('is not said of a few, and one outlier does not move it', () => {
    expect(usualOf([1, 2, 3, 4])).toBeNull();
    expect(usualOf([2, 2, 3, 4, 900])).toMatchObject({ low: 2, middle: 3, high: 4 });
  });
});
