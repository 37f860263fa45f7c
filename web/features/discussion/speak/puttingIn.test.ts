import type { Refusal } from '../../../base/refusal';
import { PuttingIn, type Going } from './puttingIn';

const refusal = (status: number, code = 'invalid') => ({ status, code, message: code }) as Refusal;
const one = (id: string) =>
  ({
    door: 'discussion',
    releaseId: 'r',
    id,
    said: { place: {}, title: '', words: id, isSpoken: true },
  }) as const;

/** A device and a server whose answers are given one after the other; then everything is taken. */
function world(answers: (Refusal | null)[], keeps = true) {
  let kept: Going[] = [];
  let person = 'ana';
  const sent: string[] = [];
  const means = {
    shelf: {
      get: () => kept,
      put: (all: Going[]) => {
        if (keeps) kept = JSON.parse(JSON.stringify(all)) as Going[];
      },
    },
    whose: () => person,
    send: ({ said }: Going) => {
      sent.push(said.words);
      const answer = answers.shift() ?? null;
      return answer ? Promise.reject(answer as unknown as Error) : Promise.resolve();
    },
  };
  return {
    sent,
    kept: () => kept,
    signIn: (name: string) => {
      person = name;
      kept = [];
    },
    page: () => new PuttingIn(means),
  };
}

describe('putting in', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());
  const settle = () => jest.advanceTimersByTimeAsync(0);

  it('goes at once, and is forgotten when it is in', async () => {
    const { sent, kept, page } = world([]);
    const going = page();
    going.add(one('a'));
    await settle();
    expect([sent, kept(), going.now()]).toEqual([['a'], [], []]);
  });

  it('is kept back with what was written, and goes once its author says so again', async () => {
    const { sent, kept, page } = world([refusal(0, 'away')]);
    const going = page();
    going.add(one('a'));
    await settle();
    going.hold('a');
    await jest.advanceTimersByTimeAsync(10_000);
    expect([sent, kept()]).toMatchObject([['a'], [{ said: { words: 'a' }, isHeld: true }]]);
    // Also on a later visit.
    const later = page();
    later.resume();
    await settle();
    expect([sent.length, later.now().length]).toEqual([1, 1]);
    later.add(one('a'));
    await settle();
    expect([sent, kept(), later.now()]).toEqual([['a', 'a'], [], []]);
    // Kept back when it was on the line already: it is in.
    later.add(one('b'));
    later.hold('b');
    await settle();
    expect([sent.length, later.now()]).toEqual([3, []]);
  });

  it('waits for a network, or for its sound to be announced, and goes again by itself', async () => {
    const { sent, kept, page } = world([refusal(0, 'away'), refusal(409, 'unfinished')]);
    const going = page();
    going.add(one('a'));
    await settle();
    expect(kept()).toHaveLength(1);
    await jest.advanceTimersByTimeAsync(4_500);
    expect([sent, going.now()]).toEqual([['a', 'a', 'a'], []]);
  });

  it('outlives its page', async () => {
    const { sent, page } = world([refusal(0)]);
    page().add(one('a'));
    await settle();
    jest.clearAllTimers();
    const next = page();
    next.resume();
    expect(next.now()).toHaveLength(1);
    await settle();
    expect([sent, next.now()]).toEqual([['a', 'a'], []]);
  });

  it('keeps what is refused, with why, until it is changed or let go of', async () => {
    const { sent, page } = world([refusal(409, 'releaseClosed')]);
    const going = page();
    going.add(one('a'));
    await settle();
    await jest.advanceTimersByTimeAsync(10_000);
    expect([sent, going.now()[0]?.refusal?.code]).toEqual([['a'], 'releaseClosed']);
    going.add({ ...one('a'), said: { ...one('a').said, words: 'better' } });
    await settle();
    expect([sent, going.now()]).toEqual([['a', 'better'], []]);
    going.add(one('b'));
    going.letGo('b');
    expect(going.now()).toEqual([]);
  });

  it('is one person’s: under another session nothing of it goes, and nothing is kept', async () => {
    const { sent, kept, signIn, page } = world([refusal(0), refusal(0)]);
    const going = page();
    going.add(one('a'));
    await settle();
    signIn('ben');
    await jest.advanceTimersByTimeAsync(10_000);
    expect([sent, kept()]).toEqual([['a'], []]);
    going.resume();
    expect(going.now()).toEqual([]);
    going.add(one('b'));
    await settle();
    expect(sent).toEqual(['a', 'b']);
  });

  it('stays on a page whose device keeps nothing, also when it is looked at again', async () => {
    const { sent, page } = world([refusal(0)], false);
    const going = page();
    going.add(one('a'));
    await settle();
    going.resume();
    expect(going.now().map(g => g.id)).toEqual(['a']);
    await jest.advanceTimersByTimeAsync(2_500);
    expect([sent.length > 1, going.now()]).toEqual([true, []]);
  });

  it('holds no other back', async () => {
    const { sent, page } = world([refusal(422)]);
    const going = page();
    going.add(one('a'));
    going.add(one('b'));
    await jest.advanceTimersByTimeAsync(2_500);
    expect(sent).toContain('b');
    expect(going.now().map(g => g.id)).toEqual(['a']);
  });
});
