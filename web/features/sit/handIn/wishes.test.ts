import { HandInWishes, type HandInWish } from './wishes';

const AWAY = { status: 0, code: 'away', message: '' };

function device() {
  const kept = { wishes: [] as HandInWish[] };
  const world = {
    coming: 0,
    refusedIds: [] as string[],
    rest: null as object | null,
    answer: null as object | null,
    /** What is asked is held back until this resolves. */
    slow: null as Promise<void> | null,
    handedIn: [] as HandInWish[],
    now: 1_000_000,
  };
  const page = () =>
    new HandInWishes({
      shelf: {
        get: () => structuredClone(kept.wishes),
        put: wishes => void (kept.wishes = structuredClone(wishes)),
      },
      soundsOf: () => Promise.resolve({ coming: world.coming, refusedIds: world.refusedIds }),
      sendRest: async () => {
        if (world.rest) throw world.rest as Error;
      },
      handIn: async wish => {
        if (world.slow) await world.slow;
        if (world.answer) throw world.answer as Error;
        world.handedIn.push(wish);
      },
      now: () => world.now,
    });
  return { kept, world, page };
}
const WISH = {
  sittingId: 's',
  releaseId: 'r',
  title: 'Sunday',
  withGaps: false,
  asTheyCame: false,
  known: [],
};
const wait = (ms: number) => jest.advanceTimersByTimeAsync(ms);

describe('a hand-in that is wanted', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  it('is done at once where nothing stands against it', async () => {
    const { world, page, kept } = device();
    const wishes = page();
    wishes.want(WISH);
    await wait(0);
    expect(world.handedIn).toHaveLength(1);
    expect(kept.wishes).toEqual([]);
    expect(wishes.now().done).toHaveLength(1);
    wishes.seen();
    expect(wishes.now()).toEqual({ wishes: [], done: [] });
  });

  it('waits for recordings, words, the account and the server, in this order, and keeps its first instant', async () => {
    const { world, page, kept } = device();
    Object.assign(world, { coming: 1, rest: AWAY, answer: AWAY });
    const wishes = page();
    wishes.want(WISH);
    await wait(5_000);
    world.now += 60_000;
    wishes.want({ ...WISH, withGaps: true });
    world.coming = 0;
    await wait(5_000);
    world.rest = null;
    await wait(5_000);
    expect(world.handedIn).toEqual([]);
    expect(kept.wishes).toHaveLength(1);
    world.answer = null;
    await wait(5_000);
    expect(world.handedIn).toMatchObject([{ at: new Date(1_000_000).toISOString(), withGaps: true }]);
  });

  it('outlives its page at each of its steps, and is nobody else’s', async () => {
    for (const step of ['coming', 'rest', 'answer'] as const) {
      const { world, page, kept } = device();
      Object.assign(world, { [step]: step === 'coming' ? 1 : AWAY });
      page().want(WISH);
      await wait(3_000);
      jest.clearAllTimers();
      const other = page();
      other.belongTo(false);
      expect(other.now().wishes).toEqual([]);
      Object.assign(world, { [step]: step === 'coming' ? 0 : null });
      const later = page();
      later.belongTo(true);
      await wait(5_000);
      expect(world.handedIn).toHaveLength(1);
      expect(kept.wishes).toEqual([]);
    }
  });

  it('that is taken back is not done, also while words for it go out', async () => {
    const { world, page } = device();
    const wishes = page();
    world.coming = 1;
    wishes.want(WISH);
    await wait(100);
    wishes.takeBack('s');
    world.coming = 0;
    await wait(10_000);
    expect(world.handedIn).toEqual([]);
  });

  it('stops with the reason at a refusal, and at a recording that was not taken since', async () => {
    const refused = device();
    refused.world.answer = { status: 409, code: 'wentOnElsewhere', message: 'It went on.' };
    const wishes = refused.page();
    wishes.want(WISH);
    await wait(10_000);
    expect(wishes.now().wishes[0]!.refusal).toMatchObject({ code: 'wentOnElsewhere' });
    // Also for the next visit; wanted again after a look it is a new wish.
    const next = refused.page();
    next.belongTo(true);
    refused.world.answer = null;
    await wait(10_000);
    expect(refused.world.handedIn).toEqual([]);
    refused.world.now += 5;
    next.want(WISH);
    await wait(0);
    expect(refused.world.handedIn).toMatchObject([{ at: new Date(1_000_005).toISOString(), refusal: null }]);

    const silent = device();
    silent.world.refusedIds = ['known', 'new'];
    const other = silent.page();
    other.want({ ...WISH, known: ['known', 'new'] });
    await wait(0);
    expect(silent.world.handedIn).toHaveLength(1);
    other.want({ ...WISH, known: ['known'] });
    await wait(0);
    expect(silent.world.handedIn).toHaveLength(1);
    expect(other.now().wishes[0]!.refusal!.message).toMatch(/was not taken/);
  });

  it('of whoever was signed in before says nothing to the next', async () => {
    const { world, page, kept } = device();
    let answer = () => {};
    world.slow = new Promise(resolve => (answer = resolve));
    const wishes = page();
    wishes.want(WISH);
    await wait(0);
    kept.wishes = [];
    wishes.belongTo(true);
    answer();
    await wait(10_000);
    expect(wishes.now()).toEqual({ wishes: [], done: [] });
  });
});
