import 'fake-indexeddb/auto';
import { createHash } from 'node:crypto';
import type { KeptSound } from './soundStore';

/** The server as a delivery meets it: says what it is told to say, keeps the bytes that come. */
const server = {
  announced: [] as string[],
  cancelled: [] as string[],
  bytes: new Map<string, Uint8Array>(),
  ended: new Set<string>(),
  refuse: null as { status: number; message: string } | null,
  failing: 0,
  spoil: false,
  /** What the server says of single sounds in place of what follows from their bytes. */
  says: new Map<string, object>(),
  /** Sounds whose last byte came without the server noticing it. */
  unnoticed: new Set<string>(),
};

/** A tus upload reduced to what the delivery relies on: reads from the source until it says it is done. */
jest.mock('tus-js-client', () => ({
  Upload: class {
    private aborted = false;
    constructor(
      private readonly input: unknown,
      private readonly options: {
        uploadUrl: string;
        chunkSize: number;
        fileReader: {
          openFile(
            input: unknown,
          ): Promise<{ slice(a: number, b: number): Promise<{ value: Blob; done: boolean }> }>;
        };
        onChunkComplete(size: number, accepted: number): void;
        onSuccess(): void;
        onError(error: Error): void;
      },
    ) {}
    start() {
      void this.run();
    }
    async abort() {
      this.aborted = true;
    }
    private async run() {
      const id = this.options.uploadUrl.split('/').at(-1)!;
      const source = await this.options.fileReader.openFile(this.input);
      for (;;) {
        if (server.failing > 0) {
          server.failing -= 1;
          return this.options.onError(new Error('network'));
        }
        const held = server.bytes.get(id) ?? new Uint8Array();
        const { value, done } = await source.slice(held.length, held.length + this.options.chunkSize);
        const piece = new Uint8Array(await value.arrayBuffer());
        if (this.aborted) return;
        server.bytes.set(id, new Uint8Array([...held, ...piece]));
        this.options.onChunkComplete(piece.length, held.length + piece.length);
        if (done) {
          server.ended.add(id);
          return this.options.onSuccess();
        }
      }
    }
  },
}));

const held = new Set<string>();
Object.defineProperty(globalThis, 'navigator', {
  configurable: true,
  value: {
    locks: {
      request: (name: string, _options: object, work: (lock: object | null) => unknown) => {
        if (held.has(name)) return Promise.resolve(work(null));
        held.add(name);
        // Held until what was begun with it ends.
        return Promise.resolve(work({})).finally(() => held.delete(name));
      },
    },
  },
});

globalThis.fetch = (async (url: string, options?: { method?: string; body?: string }) => {
  const answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });
  if (server.failing > 0) {
    server.failing -= 1;
    throw new TypeError('Failed to fetch');
  }
  if (options?.method === 'POST') {
    if (url.endsWith('/cancel')) {
      server.cancelled.push(url.split('/').at(-2)!);
      return answer(200, {});
    }
    if (server.refuse) return answer(server.refuse.status, { code: 'x', message: server.refuse.message });
    server.announced.push((JSON.parse(options.body!) as { recordingId: string }).recordingId);
    return answer(200, {});
  }
  const id = url.split('/').at(-1)!;
  const bytes = server.bytes.get(id) ?? new Uint8Array();
  const isDone = server.ended.has(id) && !server.unnoticed.delete(id);
  return answer(200, {
    id,
    state: isDone ? 'stored' : 'arriving',
    problem: null,
    message: null,
    durationMs: 1_000,
    sha256: !isDone
      ? null
      : server.spoil
        ? 'something else'
        : createHash('sha256').update(bytes).digest('hex'),
    bytes: bytes.length,
    length: server.ended.has(id) ? bytes.length : null,
    quietMs: 0,
    cutShort: false,
    ...server.says.get(id),
  });
}) as unknown as typeof fetch;

import { desk } from './delivery';
import { keepPiece, keepSound, soundsOf } from './soundStore';

const sound = (id: string, personId = 'amara'): KeptSound => ({
  id,
  personId,
  mediaType: 'audio/webm',
  announce: { url: '/api/sittings/s/takes', body: { recordingId: id } },
  place: { sittingId: 's', itemId: 'i' },
  beganAt: '2026-11-24T10:00:00.000Z',
  ended: false,
  refusal: null,
});
const state = (id: string) => desk.all().find(d => d.sound.id === id);
const until = async (done: () => boolean) => {
  while (!done()) await new Promise(resolve => setTimeout(resolve, 10));
};
const text = (id: string) => Buffer.from(server.bytes.get(id) ?? []).toString();

describe('bringing a sound to the server', () => {
  jest.setTimeout(20_000);
  beforeEach(() => {
    server.refuse = null;
    server.failing = 0;
    server.spoil = false;
    server.says.clear();
    server.cancelled.length = 0;
  });

  it('sends while it is still being recorded, and lets go only when the server has the same bytes', async () => {
    await desk.begin(sound('a'));
    await desk.piece('a', 0, new Blob(['one ']));
    await until(() => text('a') === 'one ');
    expect(server.announced).toContain('a');
    expect(state('a')).toMatchObject({ state: 'sending', bytes: 4 });
    expect(await soundsOf('amara')).toHaveLength(1);
    await desk.piece('a', 1, new Blob(['two']));
    await desk.end('a');
    await until(() => state('a')?.state === 'delivered');
    expect(text('a')).toBe('one two');
    expect(await soundsOf('amara')).toEqual([]);
    expect(desk.settled()).toBe(true);
  });

  it('goes on trying while the network is away, from where it was', async () => {
    await desk.begin(sound('b'));
    await desk.piece('b', 0, new Blob(['first ']));
    await until(() => text('b') === 'first ');
    server.failing = 3;
    await desk.piece('b', 1, new Blob(['second']));
    await until(() => state('b')?.state === 'waitingForNetwork');
    expect(desk.settled()).toBe(false);
    await desk.end('b');
    await until(() => state('b')?.state === 'delivered');
    expect(text('b')).toBe('first second');
    expect(server.announced.filter(id => id === 'b')).toHaveLength(1);
  });

  it('keeps what the server refuses, with its words, until its person throws it away', async () => {
    server.refuse = { status: 409, message: 'All takes of this item are used.' };
    await desk.whole(sound('c', 'bram'), new Blob(['no']));
    await until(() => state('c')?.state === 'kept');
    expect(state('c')!.message).toBe('All takes of this item are used.');
    expect((await soundsOf('bram'))[0]).toMatchObject({
      id: 'c',
      refusal: 'All takes of this item are used.',
    });
    expect(await desk.blob('c')!.text()).toBe('no');
    await desk.discard('c');
    expect(state('c')).toBeUndefined();
    expect(await soundsOf('bram')).toEqual([]);
  });

  it('does not take a signed-out session for a refusal', async () => {
    server.refuse = { status: 401, message: 'You are signed out.' };
    await desk.whole(sound('d', 'chiyo'), new Blob(['wait']));
    await until(() => state('d')?.state === 'waitingForNetwork');
    expect(state('d')!.message).toContain('Sign in again in another tab');
    server.refuse = null;
    await until(() => state('d')?.state === 'delivered');
    expect(text('d')).toBe('wait');
  });

  it('keeps its copy when what arrived is not what was recorded', async () => {
    server.spoil = true;
    await desk.whole(sound('e', 'dilnoza'), new Blob(['precious']));
    await until(() => state('e')?.state === 'kept');
    expect(state('e')!.message).toContain('differs from what was recorded');
    expect(await soundsOf('dilnoza')).toHaveLength(1);
  });

  it('takes up what an earlier page left, ends it where it stopped, and drops what is empty', async () => {
    await keepSound(sound('f', 'emrys'));
    await keepPiece('f', 0, new TextEncoder().encode('left ').buffer);
    await keepPiece('f', 1, new TextEncoder().encode('behind').buffer);
    await keepSound(sound('g', 'emrys'));
    await desk.resume('emrys');
    await until(() => state('f')?.state === 'delivered');
    expect(text('f')).toBe('left behind');
    await until(() => state('g') === undefined);
    while ((await soundsOf('emrys')).length > 0) await new Promise(resolve => setTimeout(resolve, 20));
  });

  it('stops what is on its way when its person lets go of it, here and on the server', async () => {
    await desk.begin(sound('i', 'greta'));
    await desk.piece('i', 0, new Blob(['half a film']));
    await until(() => text('i') === 'half a film');
    await desk.discard('i');
    expect(state('i')).toBeUndefined();
    expect(server.cancelled).toEqual(['i']);
    expect(await soundsOf('greta')).toEqual([]);
    // What was let go of does not come back, whatever is still under way.
    await new Promise(resolve => setTimeout(resolve, 50));
    expect(state('i')).toBeUndefined();
  });

  it('lets go while there is no network, and tells the server when there is one', async () => {
    server.failing = 1_000;
    await desk.whole(sound('j', 'greta'), new Blob(['never mind']));
    await until(() => state('j')?.state === 'waitingForNetwork');
    void desk.discard('j');
    await new Promise(resolve => setTimeout(resolve, 100));
    expect(desk.all().some(d => d.sound.id === 'j')).toBe(false);
    // Kept as let go of until the server knows: nothing is left waiting there.
    expect((await soundsOf('greta')).map(s => [s.id, s.letGo])).toEqual([['j', true]]);
    server.failing = 0;
    desk.wake();
    await until(() => server.cancelled.includes('j'));
    while ((await soundsOf('greta')).length > 0) await new Promise(resolve => setTimeout(resolve, 20));
  });

  it('takes what is settled off the list, and nothing else', async () => {
    await desk.whole(sound('k', 'hamish'), new Blob(['kept']));
    await until(() => state('k')?.state === 'delivered');
    desk.forget('k');
    expect(state('k')).toBeUndefined();
    expect(text('k')).toBe('kept');
  });

  it('leaves alone what another tab is still recording, and other people’s sounds', async () => {
    await keepSound(sound('h', 'farid'));
    await keepPiece('h', 0, new TextEncoder().encode('still speaking').buffer);
    held.add('ecoute-sound-h');
    await desk.resume('farid');
    await desk.resume('greta');
    expect(state('h')).toBeUndefined();
    expect(await soundsOf('farid')).toHaveLength(1);
  });

  it('keeps a rehearsal on the page alone: not on the disk, not on the way, and gone when it is forgotten', async () => {
    const before = [server.announced.length, server.bytes.size];
    const began = new Date(Date.now() - 3_000).toISOString();
    await desk.begin({ ...sound('rehearsed'), announce: null, beganAt: began });
    await desk.piece('rehearsed', 0, new Blob(['some ', 'sound']));
    expect(state('rehearsed')).toMatchObject({ state: 'rehearsed', bytes: 10, recording: null });
    await desk.end('rehearsed');
    const { recording } = state('rehearsed')!;
    expect(recording).toMatchObject({ state: 'stored', problem: null, sizeBytes: 10 });
    expect(recording!.durationMs).toBeGreaterThanOrEqual(3_000);
    expect(await desk.blob('rehearsed')!.text()).toBe('some sound');
    expect((await soundsOf('amara')).map(s => s.id)).not.toContain('rehearsed');
    expect([server.announced.length, server.bytes.size]).toEqual(before);
    desk.forgetRehearsals();
    expect([state('rehearsed'), desk.blob('rehearsed')]).toEqual([undefined, null]);
  });

  describe('laid aside', () => {
    const aside = (id: string): KeptSound => ({
      ...sound(id, 'jovan'),
      announce: null,
      place: {},
      aside: 'my turn',
    });
    const to = (id: string) => ({
      announce: { url: '/api/together/j/turns', body: { recordingId: id } },
      place: { itemId: 'turn' },
    });
    /** The page closes, and is opened again. */
    const reload = async () => {
      await desk.belongTo(null);
      await desk.resume('jovan');
    };

    it('is kept on the device and goes nowhere until its speaker says so; what the server refuses stays', async () => {
      await desk.whole(aside('turn'), new Blob(['my turn']));
      expect([state('turn')?.state, desk.settled()]).toEqual(['aside', true]);
      await desk.belongTo('kamala');
      expect(state('turn')).toBeUndefined();
      await reload();
      expect(state('turn')?.state).toBe('aside');
      expect(await desk.blob('turn')!.text()).toBe('my turn');
      await expect(
        desk.sendAside('turn', to('turn'), () => Promise.reject(new Error('It is not your turn.'))),
      ).rejects.toThrow('not your turn');
      await reload();
      expect(state('turn')?.state).toBe('aside');
      expect(server.announced).not.toContain('turn');
      await desk.sendAside('turn', to('turn'), () => Promise.resolve());
      await until(() => state('turn')?.state === 'delivered');
      expect([text('turn'), await soundsOf('jovan')]).toEqual(['my turn', []]);
    });

    it('goes with the next visit when the page closes between telling the server and sending', async () => {
      await desk.whole(aside('told'), new Blob(['said']));
      let isTold = false;
      void desk.sendAside('told', to('told'), () => {
        isTold = true;
        return new Promise(() => undefined);
      });
      await until(() => isTold);
      await reload();
      await until(() => state('told')?.state === 'delivered');
      expect(text('told')).toBe('said');
    });

    it('is thrown away without a word to the server, and is nothing where nothing was spoken', async () => {
      await desk.whole(aside('dropped'), new Blob(['no']));
      await desk.discard('dropped');
      await keepSound(aside('silent'));
      await reload();
      expect([state('dropped'), state('silent'), await soundsOf('jovan')]).toEqual([
        undefined,
        undefined,
        [],
      ]);
      expect(server.cancelled).toEqual([]);
    });
  });

  it('tells the server of a take that a reload left without a sound', async () => {
    await keepSound(sound('empty', 'ines'));
    await desk.resume('ines');
    await until(() => server.cancelled.includes('empty'));
    while ((await soundsOf('ines')).length > 0) await new Promise(resolve => setTimeout(resolve, 20));
    expect(state('empty')).toBeUndefined();
  });

  it('asks the server about nothing too while its person is here: they are told', async () => {
    await desk.whole(sound('nothing', 'ines'), new Blob([]));
    await until(() => state('nothing')?.state === 'delivered');
    expect(server.announced).toContain('nothing');
    expect(server.cancelled).not.toContain('nothing');
  });

  it('offers again with each visit what was refused before, for that may have been so only then', async () => {
    await keepSound({ ...sound('again', 'joao'), ended: true, refusal: 'Not now.' });
    await keepPiece('again', 0, new TextEncoder().encode('once more').buffer);
    await desk.resume('joao');
    await until(() => state('again')?.state === 'delivered');
    expect(text('again')).toBe('once more');
    // And by hand.
    server.refuse = { status: 409, message: 'All takes of this item are used.' };
    await desk.whole(sound('hand', 'joao'), new Blob(['by hand']));
    await until(() => state('hand')?.state === 'kept');
    server.refuse = null;
    desk.again('hand');
    await until(() => state('hand')?.state === 'delivered');
  });

  it('is one person’s: what another one of this tab has on the way waits until they are back', async () => {
    await desk.belongTo('kofi');
    await desk.begin(sound('theirs', 'kofi'));
    await desk.piece('theirs', 0, new Blob(['first ']));
    await until(() => text('theirs') === 'first ');
    // Somebody else signs in while it is on its way: it is not sent as theirs, and not refused for good.
    await desk.resume('lena');
    expect(state('theirs')).toBeUndefined();
    await desk.piece('theirs', 1, new Blob(['second']));
    await desk.end('theirs');
    expect((await soundsOf('kofi')).map(s => s.refusal)).toEqual([null]);
    await desk.resume('kofi');
    await until(() => state('theirs')?.state === 'delivered');
    expect(text('theirs')).toBe('first second');
    await desk.belongTo(null);
  });

  it('tries again what is not there just now, and keeps it with ways out when it stays so', async () => {
    server.refuse = { status: 404, message: 'There is nothing here that you can open.' };
    await desk.whole(sound('gone', 'mara'), new Blob(['still here']));
    await until(() => state('gone')?.state === 'waitingForNetwork');
    server.refuse = null;
    await until(() => state('gone')?.state === 'delivered');
    expect(text('gone')).toBe('still here');
  });

  it('goes on when the last byte came and nobody noticed', async () => {
    server.unnoticed.add('last');
    await desk.whole(sound('last', 'nour'), new Blob(['every byte']));
    await until(() => state('last')?.state === 'delivered');
  });

  it('sends what the disk could not keep, and says so', async () => {
    await desk.begin(sound('full', 'omar'));
    const full = jest.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
      throw new Error('QuotaExceededError');
    });
    expect(await desk.piece('full', 0, new Blob(['nothing ']))).toBe(false);
    expect(state('full')!.isKept).toBe(false);
    await desk.piece('full', 1, new Blob(['is lost']));
    full.mockRestore();
    await desk.end('full');
    await until(() => state('full')?.state === 'delivered');
    expect(text('full')).toBe('nothing is lost');
  });

  it('comes back with the rest of what was ended without it; after the hand-in it keeps the whole', async () => {
    await keepSound({ ...sound('rest', 'pia'), ended: true });
    await keepPiece('rest', 0, new TextEncoder().encode('the whole').buffer);
    server.says.set('rest', { state: 'stored', cutShort: true, sha256: 'of a part' });
    server.bytes.set('rest', new TextEncoder().encode('the '));
    server.ended.add('rest');
    await desk.resume('pia');
    await until(() => state('rest')?.state === 'kept');
    expect(state('rest')!.message).toContain('handed in before all of it had come');
    expect(await desk.blob('rest')!.text()).toBe('the whole');
    server.says.clear();
    server.ended.delete('rest');
    server.bytes.set('rest', new TextEncoder().encode('the '));
    desk.again('rest');
    await until(() => state('rest')?.state === 'delivered');
    expect(text('rest')).toBe('the whole');
  });

  it('brings what was drawn after the sound it belongs to, also on a later visit, and lets go of neither before', async () => {
    const drawing = { height: 700, strokes: [{ pen: 0, points: [1, 2, 3, 40, 50, 60] }] };
    const whole = { height: 700, strokes: [...drawing.strokes, { pen: 1, points: [7, 8, 900] }] };
    const sent: [string, unknown][] = [];
    let away = true;
    const fetched = globalThis.fetch;
    globalThis.fetch = (async (url: string, options?: { body?: string }) => {
      if (!url.endsWith('/sheet')) return fetched(url, options);
      if (away) throw new TypeError('network');
      sent.push([url, JSON.parse(options!.body!)]);
      return new Response(null, { status: 204 });
    }) as typeof fetch;
    await desk.begin(sound('drawn', 'sana'));
    await desk.piece('drawn', 0, new Blob(['words']));
    desk.draw('drawn', drawing);
    // In mid-take, a second later: a page that goes away has left it on the disk.
    for (let n = 0; (await soundsOf('sana'))[0]?.sheet?.strokes.length !== 1; n++) {
      if (n > 100) throw new Error('never kept');
      await new Promise(resolve => setTimeout(resolve, 50));
    }
    desk.draw('drawn', whole);
    await desk.end('drawn');
    await until(() => state('drawn')?.state === 'waitingForNetwork' && text('drawn') === 'words');
    expect((await soundsOf('sana'))[0]).toMatchObject({ id: 'drawn', sheet: whole });
    // The page is closed; the next one brings it.
    await desk.belongTo(null);
    await desk.resume('sana');
    away = false;
    desk.wake();
    await until(() => state('drawn')?.state === 'delivered');
    expect(sent).toEqual([['/api/takes/drawn/sheet', whole]]);
    expect(await soundsOf('sana')).toEqual([]);
    // The server has it: nothing is shown from here any more.
    expect(desk.sheet('drawn')).toBeNull();
    // A drawing that comes too late is no reason against the sound: that stands, and it is said.
    globalThis.fetch = (async (url: string, options?: object) => {
      if (!url.endsWith('/sheet')) return fetched(url, options);
      return new Response(JSON.stringify({ code: 'feedbackGiven', message: 'Too late.' }), { status: 409 });
    }) as typeof fetch;
    await desk.begin(sound('late', 'sana'));
    await desk.piece('late', 0, new Blob(['words']));
    desk.draw('late', drawing);
    await desk.end('late');
    await until(() => state('late')?.state === 'delivered');
    expect(state('late')!.message).toBe('Too late.');
    expect(await soundsOf('sana')).toEqual([]);
    globalThis.fetch = fetched;
    await desk.belongTo(null);
  });

  it('asks no more often than it must: the word of the server wakes it', async () => {
    let asked = 0;
    server.says.set('quiet', { state: 'checking', sha256: null });
    const fetched = globalThis.fetch;
    globalThis.fetch = (async (url: string, options?: object) => {
      if (url === '/api/recordings/quiet') asked += 1;
      return fetched(url, options);
    }) as typeof fetch;
    await desk.whole(sound('quiet', 'rosa'), new Blob(['wait']));
    await until(() => state('quiet')?.state === 'checking');
    await new Promise(resolve => setTimeout(resolve, 2_000));
    expect(asked).toBeLessThan(5);
    server.says.clear();
    desk.wake('quiet');
    await until(() => state('quiet')?.state === 'delivered');
    globalThis.fetch = fetched;
  });
});
