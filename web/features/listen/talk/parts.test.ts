import type { Lane, SaidInTalk } from '@ecoute/contract/marking';

jest.mock('../../../parts/player/PlayButton', () => ({
  trackOf: (id: string, title: string) => ({ id, title }),
}));
import { inContext, nextPart, partOf, withPart } from './parts';

const said = (id: string, over: Partial<SaidInTalk> = {}) =>
  ({
    id,
    takeId: id,
    words: `words of ${id}`,
    title: '',
    notes: [],
    to: null,
    ...over,
  }) as unknown as SaidInTalk;
const lane = (...contributions: SaidInTalk[]) =>
  ({ takeId: 'a', written: null, note: '', talk: { contributions } }) as unknown as Lane;

describe('a part in a discussion on a lane', () => {
  const whole = lane(said('w', { takeId: null }), said('a'), said('b'));

  it('shows the first that can be heard, or whichever was chosen', () => {
    expect(partOf(whole, undefined)!.id).toBe('a');
    expect(withPart(whole, 'b')).toMatchObject({ takeId: 'b', note: 'words of b', written: null });
    expect(withPart(whole, 'w')).toMatchObject({ takeId: null, written: 'words of w', note: '' });
    expect(withPart(whole, 'gone since')).toMatchObject({ takeId: 'a' });
    expect(partOf(lane(said('w', { takeId: null })), undefined)!.id).toBe('w');
  });

  it('leaves every other lane as it is', () => {
    const other = { takeId: 'x' } as Lane;
    expect(withPart(other, 'a')).toBe(other);
    expect(nextPart(other, undefined, 1)).toBeNull();
  });

  it('goes on and back, and no further than the ends', () => {
    expect(nextPart(whole, undefined, 1)!.id).toBe('b');
    expect(nextPart(whole, 'a', -1)!.id).toBe('w');
    expect([nextPart(whole, 'b', 1), nextPart(whole, 'w', -1)]).toEqual([null, null]);
  });

  it('is heard after what it replies to, or the moment of it', () => {
    const to = { authorName: 'Ben', takeId: 'p', durationMs: 9, words: '', fromMs: 2, toMs: 5 };
    expect(inContext(said('a', { to }), 'Ana').map(t => [t.id, t.stretch ?? null])).toEqual([
      ['p', { fromMs: 2, toMs: 5 }],
      ['a', null],
    ]);
    expect(inContext(said('a', { to: { ...to, takeId: null } }), 'Ana').map(t => t.id)).toEqual(['a']);
  });
});
