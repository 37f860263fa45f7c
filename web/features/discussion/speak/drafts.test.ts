import type { Contribution } from '@ecoute/contract/discussions';
import type { Delivery } from '../../../parts/recorder/delivery';
import { draftsOf } from './drafts';
import type { Going } from './puttingIn';

const contribution = (id: string, over: Partial<Contribution> = {}) =>
  ({ id, isMine: true, state: 'draft', topicId: null, parentId: 'p', ...over }) as Contribution;
const delivery = (id: string, releaseId = 'r') =>
  ({ sound: { id, place: { discussion: { releaseId, place: { parentId: 'p' } } } } }) as unknown as Delivery;
const going = (id: string, releaseId = 'r') =>
  ({ id, releaseId, said: { place: { topicId: 't' } } }) as unknown as Going;

describe('what is recorded and not in yet', () => {
  it('is one thing, wherever it is known from', () => {
    const drafts = draftsOf('r', [contribution('a')], [delivery('a')], [going('a')], null);
    expect(drafts).toHaveLength(1);
    expect(drafts[0]).toMatchObject({ id: 'a', place: { parentId: 'p' } });
    expect([drafts[0]!.contribution, drafts[0]!.delivery, drafts[0]!.going]).not.toContain(null);
  });

  it('is nothing any more once the server has it in, is of this discussion alone, and not what is being recorded', () => {
    const seen = [contribution('in', { state: 'here' }), contribution('other', { isMine: false })];
    const here = [delivery('in'), delivery('elsewhere', 'x'), delivery('running'), delivery('mine')];
    expect(draftsOf('r', seen, here, [going('in'), going('words')], 'running').map(d => d.id)).toEqual([
      'mine',
      'words',
    ]);
  });
});
