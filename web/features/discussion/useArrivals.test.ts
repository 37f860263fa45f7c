import type { Contribution } from '@ecoute/contract/discussions';

jest.mock('../../base/api', () => ({ api: {} }));
jest.mock('../../base/store', () => ({ store: {} }));
jest.mock('./endpoints', () => ({ discussionApi: {}, doorUrl: () => '' }));
import { withArrival } from './useArrivals';

const said = (id: string, at: string, over: Partial<Contribution> = {}) =>
  ({ id, at, author: id, parentId: null, mayTakeBack: true, ...over }) as Contribution;

describe('a contribution that comes while a discussion is open', () => {
  it('stands in its place by time, once however often it is told of', () => {
    const all = [said('a', '1'), said('c', '3')];
    withArrival(all, said('b', '2'));
    withArrival(all, said('b', '2', { title: 'now whole' }));
    withArrival(all, said('d', '4'));
    expect(all.map(c => c.id)).toEqual(['a', 'b', 'c', 'd']);
    expect(all[1]!.title).toBe('now whole');
  });

  it('keeps what it replies to where it is, but for one’s own words on', () => {
    const all = [said('a', '1')];
    withArrival(all, said('b', '2', { parentId: 'a', author: 'a' }));
    expect(all[0]!.mayTakeBack).toBe(true);
    withArrival(all, said('c', '3', { parentId: 'a' }));
    expect(all[0]!.mayTakeBack).toBe(false);
  });
});
