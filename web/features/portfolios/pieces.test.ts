import { moved, pieceOf, putBack, titleOf } from './pieces';

const [a, b, c] = ['a', 'b', 'c'].map(id => ({ ...pieceOf(`take ${id}`), id })) as [
  ReturnType<typeof pieceOf>,
  ReturnType<typeof pieceOf>,
  ReturnType<typeof pieceOf>,
];
const ids = (pieces: { id: string }[]) => pieces.map(p => p.id).join('');

describe('pieces of a portfolio', () => {
  it('move by one place, and stay at the ends', () => {
    expect(ids(moved([a, b, c], 'b', -1))).toBe('bac');
    expect(ids(moved([a, b, c], 'b', 1))).toBe('acb');
    expect(ids(moved([a, b, c], 'a', -1))).toBe('abc');
    expect(ids(moved([a, b, c], 'c', 1))).toBe('abc');
    expect(ids(moved([a, b, c], 'gone', 1))).toBe('abc');
  });

  it('come back to their place, once, also where others have gone meanwhile', () => {
    expect(ids(putBack([a, c], b, 1))).toBe('abc');
    expect(ids(putBack([a], c, 2))).toBe('ac');
    expect(ids(putBack([], c, 2))).toBe('c');
    expect(ids(putBack([a, b], b, 0))).toBe('ab');
  });

  it('are called what they were recorded for until they are named', () => {
    const take = { assessment: 'The market' } as Parameters<typeof titleOf>[1];
    expect(titleOf(a, take)).toBe('The market');
    expect(titleOf({ ...a, title: ' My best ' }, take)).toBe('My best');
    expect(titleOf(a, undefined)).toBe('');
  });
});
