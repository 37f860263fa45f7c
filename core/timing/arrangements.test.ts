import { arranged, extended, HALF_AGAIN, ORDINARY } from './arrangements';

describe('access arrangements', () => {
  const item = {
    id: 'a',
    prepareMs: 15_000,
    answerLimitMs: 45_000,
    hearingsAllowed: 2,
    turns: [{ gapMs: 20_000 }],
  };

  it('leave everything as it is for everybody else', () => {
    expect(arranged(item, ORDINARY)).toEqual(item);
  });

  it('stretch preparing and answering, to whole seconds, and add hearings where these are counted', () => {
    expect(arranged(item, HALF_AGAIN)).toEqual({
      id: 'a',
      prepareMs: 23_000,
      answerLimitMs: 68_000,
      hearingsAllowed: 3,
      turns: [{ gapMs: 30_000 }],
    });
    expect(arranged({ ...item, hearingsAllowed: 0 }, HALF_AGAIN).hearingsAllowed).toBe(0);
    expect(extended(0, HALF_AGAIN)).toBe(0);
  });
});
