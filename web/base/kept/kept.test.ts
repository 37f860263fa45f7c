import { pageOf } from '../own';
import type { Refusal } from '../refusal';
import { Kept, type KeptOptions, type Stored } from './kept';
import { deviceShelf, pageShelf } from './shelf';

const AWAY: Refusal = { status: 0, code: 'away', message: 'Nobody answers.' };
const PAUSE_MS = 500;
const RETRY_MS = 4_000;

/** A server that holds one text with its revision; `refuse` makes the next answers refusals, `slow` holds them back. */
function serverWith(value: string, revision = 1) {
  const server = {
    holds: { value, revision } as Stored<string>,
    sent: [] as string[],
    acts: [] as string[],
    refuse: null as Refusal | null,
    losesAnswers: false,
    slow: null as Promise<void> | null,
    send: async (text: string, of: number, act: string) => {
      server.sent.push(text);
      server.acts.push(act);
      if (server.slow) await server.slow;
      if (server.refuse) throw server.refuse;
      if (of !== server.holds.revision)
        throw { status: 409, code: 'stale', message: 'Changed meanwhile.', current: server.holds } as Refusal;
      server.holds = { value: text, revision: of + 1 };
      if (server.losesAnswers) throw AWAY;
      return server.holds;
    },
  };
  return server;
}

function keptOn(server: ReturnType<typeof serverWith>, more: Partial<KeptOptions<string, 'finish'>> = {}) {
  return new Kept<string, 'finish'>({
    stored: server.holds,
    send: server.send,
    theirs: ({ current }) => current as Stored<string>,
    shelf: pageShelf(),
    pauseMs: PAUSE_MS,
    retryMs: RETRY_MS,
    ...more,
  });
}

const wait = (ms: number) => jest.advanceTimersByTimeAsync(ms);

describe('what is typed', () => {
  beforeEach(() => {
    jest.useFakeTimers();
    pageOf('ines');
  });
  afterEach(() => {
    jest.useRealTimers();
    pageOf(undefined);
  });

  it('goes out once after a pause, and leaves the device when the server has it', async () => {
    const server = serverWith('');
    const shelf = pageShelf<string>();
    const kept = keptOn(server, { shelf });
    for (const text of ['a', 'ab', 'abc']) {
      kept.change(text);
      await wait(PAUSE_MS - 1);
      expect(shelf.get()).toEqual({ value: text, revision: 1 });
    }
    expect(server.sent).toEqual([]);
    await wait(1);
    expect(server.sent).toEqual(['abc']);
    expect(kept.now()).toMatchObject({ state: 'saved', value: 'abc' });
    expect(shelf.get()).toBeNull();
  });

  it('goes out again until somebody answers', async () => {
    const server = serverWith('');
    const kept = keptOn(server);
    server.refuse = AWAY;
    kept.change('a');
    await wait(PAUSE_MS);
    expect(kept.now()).toMatchObject({ state: 'away', value: 'a' });
    await wait(RETRY_MS);
    expect(server.sent).toHaveLength(2);
    server.refuse = null;
    await wait(RETRY_MS);
    expect(kept.now().state).toBe('saved');
    expect(server.holds.value).toBe('a');
    await wait(10 * RETRY_MS);
    expect(server.sent).toHaveLength(3);
  });

  it('is one request at a time: what is typed during a save follows it, with the revision that it made', async () => {
    const server = serverWith('');
    const kept = keptOn(server);
    let answer = () => {};
    server.slow = new Promise(resolve => (answer = resolve));
    kept.change('a');
    await wait(PAUSE_MS);
    kept.change('ab');
    await wait(10 * PAUSE_MS);
    const all = kept.flush();
    expect(server.sent).toEqual(['a']);
    server.slow = null;
    answer();
    expect(await all).toBe(true);
    expect(server.sent).toEqual(['a', 'ab']);
    expect(server.holds).toEqual({ value: 'ab', revision: 3 });
  });

  it('is there again after a crash between any two steps', async () => {
    const shelf = pageShelf<string>();
    const server = serverWith('old');
    keptOn(server, { shelf }).change('new');
    // The page is gone before the pause is over.
    jest.clearAllTimers();
    const typed = keptOn(server, { shelf });
    expect(typed.now()).toMatchObject({ state: 'changed', value: 'new' });
    // The page is gone with the request on its way; it arrives, its answer does not.
    server.losesAnswers = true;
    await typed.flush();
    jest.clearAllTimers();
    server.losesAnswers = false;
    expect(server.holds.value).toBe('new');
    const back = keptOn(server, { shelf });
    expect(back.now()).toMatchObject({ state: 'still', value: 'new' });
    back.change('newer');
    await wait(PAUSE_MS);
    expect(server.holds.value).toBe('newer');
  });

  it('whose answer was lost is no conflict with itself', async () => {
    const server = serverWith('');
    const kept = keptOn(server);
    server.losesAnswers = true;
    kept.change('a');
    await wait(PAUSE_MS);
    expect(kept.now().state).toBe('away');
    server.losesAnswers = false;
    await wait(RETRY_MS);
    expect(kept.now().state).toBe('saved');
    kept.change('ab');
    await wait(PAUSE_MS);
    expect(server.holds.value).toBe('ab');
  });

  it('and somebody else’s are both there until one is chosen', async () => {
    for (const keep of ['here', 'stored'] as const) {
      const shelf = pageShelf<string>();
      const server = serverWith('');
      const kept = keptOn(server, { shelf });
      kept.change('mine');
      server.holds = { value: 'theirs', revision: 5 };
      await wait(PAUSE_MS);
      expect(kept.now()).toMatchObject({ state: 'conflict', value: 'mine', theirs: 'theirs' });
      kept.change('mine, more');
      await wait(10 * RETRY_MS);
      expect(await kept.flush()).toBe(false);
      expect(server.sent).toEqual(['mine']);
      expect(shelf.get()!.value).toBe('mine, more');
      await kept.settle(keep);
      expect(kept.now().value).toBe(keep === 'here' ? 'mine, more' : 'theirs');
      expect(server.holds.value).toBe(kept.now().value);
      expect(shelf.get()).toBeNull();
      kept.change('next');
      await wait(PAUSE_MS);
      expect(server.holds.value).toBe('next');
    }
  });

  it('before somebody else’s came, and found only later, is a conflict at once', () => {
    const shelf = pageShelf<string>();
    const server = serverWith('');
    keptOn(server, { shelf }).change('mine');
    server.holds = { value: 'theirs', revision: 2 };
    expect(keptOn(server, { shelf }).now()).toMatchObject({
      state: 'conflict',
      value: 'mine',
      theirs: 'theirs',
    });
  });

  it('is not replaced by what comes in; what was not touched is', () => {
    const server = serverWith('');
    const kept = keptOn(server);
    expect(kept.offer({ value: 'theirs', revision: 2 })).toBe(true);
    expect(kept.now()).toMatchObject({ state: 'still', value: 'theirs' });
    expect(kept.offer({ value: 'older', revision: 1 })).toBe(false);
    kept.change('mine');
    expect(kept.offer({ value: 'newer', revision: 3 })).toBe(false);
    expect(kept.now().value).toBe('mine');
  });

  it('is asked of nobody while something is wrong with it, and is not lost', async () => {
    const server = serverWith('');
    const shelf = pageShelf<string>();
    const long: Refusal = { status: 0, code: 'invalid', message: 'Too long.' };
    const kept = keptOn(server, { shelf, problem: text => (text.length > 3 ? long : null) });
    kept.change('abcd');
    await wait(PAUSE_MS);
    expect(kept.now()).toMatchObject({ state: 'refused', refusal: long });
    expect(shelf.get()!.value).toBe('abcd');
    kept.change('abc');
    await wait(PAUSE_MS);
    expect(server.sent).toEqual(['abc']);
    expect(kept.now()).toMatchObject({ state: 'saved', refusal: null });
  });

  it('that the server refuses waits for a change; one that only comes too soon goes out again', async () => {
    for (const [status, tries] of [
      [422, 1],
      [403, 1],
      [401, 3],
      [429, 3],
      [503, 3],
    ] as const) {
      const server = serverWith('');
      const kept = keptOn(server);
      server.refuse = { status, code: 'invalid', message: 'No.' };
      kept.change('a');
      await wait(PAUSE_MS + 2 * RETRY_MS);
      expect([status, server.sent.length]).toEqual([status, tries]);
      expect(kept.isUnsent).toBe(true);
      kept.change('');
      jest.clearAllTimers();
    }
  });

  it('by one person never goes out under another’s name', async () => {
    const server = serverWith('');
    const kept = keptOn(server);
    server.refuse = AWAY;
    kept.change('Not for others');
    await wait(PAUSE_MS);
    server.refuse = null;
    pageOf('tobias');
    kept.nudge();
    await wait(10 * RETRY_MS);
    expect(await kept.flush()).toBe(false);
    expect(server.sent).toHaveLength(1);
    pageOf('ines');
    kept.nudge();
    await wait(0);
    expect(server.holds.value).toBe('Not for others');
  });

  it('comes with an act that is tried again until it is done, or until something else is typed', async () => {
    const server = serverWith('');
    const kept = keptOn(server, { isAutomatic: () => false });
    kept.change('a');
    await wait(10 * PAUSE_MS);
    kept.nudge();
    expect(server.sent).toEqual([]);
    server.refuse = AWAY;
    expect(await kept.push('finish')).toBe(false);
    await wait(RETRY_MS);
    expect(server.acts).toEqual(['finish', 'finish']);
    kept.change('ab');
    await wait(10 * RETRY_MS);
    expect(server.acts).toHaveLength(2);
    server.refuse = null;
    expect(await kept.push('finish')).toBe(true);
    expect(server.holds.value).toBe('ab');
    expect(await kept.push('finish')).toBe(true);
    expect(server.acts).toHaveLength(4);
  });
});

describe('the device’s own storage', () => {
  const held = new Map<string, string>();
  let full = false;
  const before = Object.getOwnPropertyDescriptor(globalThis, 'localStorage');
  beforeEach(() => {
    held.clear();
    full = false;
    Object.defineProperty(globalThis, 'localStorage', {
      configurable: true,
      value: {
        getItem: (k: string) => held.get(k) ?? null,
        setItem: (k: string, v: string) => {
          if (full) throw new Error('QuotaExceededError');
          held.set(k, v);
        },
        removeItem: (k: string) => void held.delete(k),
      },
    });
  });
  afterAll(() => {
    pageOf(undefined);
    if (before) Object.defineProperty(globalThis, 'localStorage', before);
  });

  it('has it again for whoever typed it, and for nobody else at the same browser', () => {
    pageOf('ines');
    deviceShelf<string>('lane 1').put({ value: 'Not for others', revision: 2 });
    pageOf('tobias');
    expect(deviceShelf<string>('lane 1').get()).toBeNull();
    deviceShelf<string>('lane 1').put({ value: 'Mine', revision: 0 });
    pageOf('ines');
    expect(deviceShelf<string>('lane 1').get()).toEqual({ value: 'Not for others', revision: 2 });
    deviceShelf<string>('lane 1').put(null);
    expect(deviceShelf<string>('lane 1').get()).toBeNull();
    pageOf('tobias');
    expect(deviceShelf<string>('lane 1').get()!.value).toBe('Mine');
  });

  it('may be full, or hold what is no draft', () => {
    pageOf('ines');
    full = true;
    expect(() => deviceShelf<string>('a').put({ value: 'x', revision: 1 })).not.toThrow();
    for (const nonsense of ['{half', '"text"', '{"value":1}', 'null', '{"value":1,"revision":"2"}']) {
      held.set('a@ines', nonsense);
      expect(deviceShelf<string>('a').get()).toBeNull();
    }
  });
});
