import { pageOf } from '../../base/own';
import { draftOf, keepDraft } from './markDrafts';

/** What the browser keeps; tests run without one. */
function storage(): Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> {
  const kept = new Map<string, string>();
  return {
    getItem: key => kept.get(key) ?? null,
    setItem: (key, value) => void kept.set(key, value),
    removeItem: key => void kept.delete(key),
  };
}

describe('what is typed on a lane and not sent yet', () => {
  beforeEach(() => Object.assign(globalThis, { localStorage: storage() }));
  afterAll(() => pageOf(undefined));

  it('is there again for whoever typed it, and for nobody else at the same browser', () => {
    pageOf('ines');
    keepDraft('lane 1', { points: '4', comment: 'Not for others' });
    pageOf('tobias');
    expect(draftOf('lane 1')).toBeNull();
    keepDraft('lane 1', { points: '2', comment: 'Mine' });
    pageOf('ines');
    expect(draftOf('lane 1')).toEqual({ points: '4', comment: 'Not for others' });
    keepDraft('lane 1', null);
    expect(draftOf('lane 1')).toBeNull();
    pageOf('tobias');
    expect(draftOf('lane 1')!.comment).toBe('Mine');
  });
});
