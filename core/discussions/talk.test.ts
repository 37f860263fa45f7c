import {
  contributeByMs,
  exchangesOf,
  givenBy,
  inHearingOrder,
  isEnough,
  threadsOf,
  unanswered,
  type Said,
} from './talk';

const said = (id: string, authorId: string, over: Partial<Said> = {}): Said => ({
  id,
  authorId,
  parentId: null,
  topicId: null,
  atMs: Number(id.replace(/\D/g, '')),
  durationMs: 10_000,
  ...over,
});

describe('the order in which a discussion is heard', () => {
  it('goes through the starting points, then through each thread with what replies to each', () => {
    const all = [
      said('1', 'ana', { topicId: 'page 2' }),
      said('2', 'ben'),
      said('3', 'cora', { parentId: '1' }),
      said('4', 'dario', { parentId: '1' }),
      said('5', 'ana', { parentId: '3' }),
      said('6', 'ben', { topicId: 'page 1' }),
    ];
    expect(inHearingOrder(all.toReversed(), ['page 1', 'page 2']).map(s => s.id)).toEqual([
      '2',
      '6',
      '1',
      '3',
      '5',
      '4',
    ]);
    expect(threadsOf(all, ['page 1', 'page 2'])[2]!.in.map(p => p.depth)).toEqual([0, 1, 2, 1]);
  });

  it('keeps what replies to something that is not there, and what is about a page that was taken out', () => {
    const all = [said('1', 'ana', { topicId: 'gone' }), said('2', 'ben', { parentId: 'taken back' })];
    const threads = threadsOf(all, ['page 1']);
    expect(threads.map(t => [t.root.id, t.topicId])).toEqual([
      ['1', null],
      ['2', null],
    ]);
  });

  it('puts two of the same moment in one order for everybody', () => {
    const twice = [said('b', 'ana', { atMs: 5 }), said('a', 'ben', { atMs: 5 })];
    expect(inHearingOrder(twice, []).map(s => s.id)).toEqual(['a', 'b']);
    expect(inHearingOrder(twice.toReversed(), []).map(s => s.id)).toEqual(['a', 'b']);
  });

  it('holds a dialogue of a thousand replies', () => {
    const all = Array.from({ length: 1_000 }, (_, i) =>
      said(`n${i}`, i % 2 ? 'ana' : 'ben', { parentId: i === 0 ? null : `n${i - 1}`, atMs: i }),
    );
    const [thread] = threadsOf(all, []);
    expect(thread!.in).toHaveLength(1_000);
    expect(thread!.in.at(-1)).toMatchObject({ depth: 999, said: { id: 'n999' } });
  });
});

describe('what somebody gave', () => {
  const all = [
    said('1', 'ana'),
    said('2', 'ben', { parentId: '1', durationMs: 4_000 }),
    said('3', 'ben', { parentId: '2', durationMs: null }),
    said('4', 'ben', { parentId: 'hidden since', durationMs: 2_000 }),
  ];

  it('counts replies to others only, and what was spoken', () => {
    expect(givenBy(all, 'ben')).toEqual({ contributions: 0, replies: 2, spokenMs: 6_000 });
    expect(givenBy(all, 'nobody')).toEqual({ contributions: 0, replies: 0, spokenMs: 0 });
  });

  it('is enough when both are there, and never where nothing is asked', () => {
    const asked = { contributionsAsked: 1, repliesAsked: 2 };
    expect(isEnough({ contributions: 1, replies: 2, spokenMs: 0 }, asked)).toBe(true);
    expect(isEnough({ contributions: 3, replies: 1, spokenMs: 0 }, asked)).toBe(false);
    expect(
      isEnough({ contributions: 3, replies: 3, spokenMs: 0 }, { contributionsAsked: 0, repliesAsked: 0 }),
    ).toBe(false);
  });

  it('shows who answers whom', () => {
    expect(exchangesOf(all).map(e => [e.from, e.to, e.replies.map(r => r.id)])).toEqual([
      ['ben', 'ana', ['2']],
    ]);
  });
});

describe('time', () => {
  it('finds threads that nobody answered, once they have waited', () => {
    const day = 24 * 3_600_000;
    const threads = threadsOf(
      [
        said('1', 'ana', { atMs: 0 }),
        said('2', 'ben', { atMs: 0 }),
        said('3', 'cora', { parentId: '2', atMs: 1 }),
        said('4', 'dario', { atMs: 2 * day }),
      ],
      [],
    );
    expect(unanswered(threads, 3 * day).map(t => t.root.id)).toEqual(['1']);
    expect(unanswered(threads, day)).toEqual([]);
  });

  it('asks for contributions days before the replies', () => {
    const due = Date.parse('2026-12-12T18:00:00Z');
    expect(new Date(contributeByMs(due, 3)).toISOString()).toBe('2026-12-09T18:00:00.000Z');
    expect(contributeByMs(due, 0)).toBe(due);
  });
});
