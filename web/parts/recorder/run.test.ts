import { loadTurns, playRun } from './run';

interface Started {
  buffer: unknown;
  when: number;
  offset: number;
  duration: number;
  stopped: boolean;
}

/** A context whose clock stands still, and that remembers what was scheduled on it. */
function contextAt(currentTime: number) {
  const started: Started[] = [];
  const context = {
    currentTime,
    destination: {},
    createBufferSource() {
      const own: Started = { buffer: null, when: 0, offset: 0, duration: 0, stopped: false };
      return {
        set buffer(b: unknown) {
          own.buffer = b;
        },
        connect: () => undefined,
        disconnect: () => undefined,
        start(when: number, offset: number, duration: number) {
          Object.assign(own, { when, offset, duration });
          started.push(own);
        },
        stop: () => (own.stopped = true),
      };
    },
    decodeAudioData: async (data: ArrayBuffer) => ({ decoded: data.byteLength }),
  };
  return { context: context as unknown as AudioContext, started, clock: context };
}

const turn = (id: string, recordingId: string, fromMs: number, toMs: number, gapMs: number) => ({
  id,
  recordingId,
  fromMs,
  toMs,
  gapMs,
});

describe('a conversation on the audio clock', () => {
  const turns = [
    turn('a', 'r', 500, 2_500, 20_000),
    turn('b', 'r', 4_000, 5_000, 10_000),
    turn('c', 's', 0, 1_000, 0),
  ];
  const sounds = new Map([
    ['r', { name: 'track' }],
    ['s', { name: 'other' }],
  ]) as never;

  it('schedules every turn at once, at its place in the run', () => {
    const { context, started } = contextAt(100);
    playRun(context, sounds, turns, 100.25);
    expect(started.map(s => [s.when, s.offset, s.duration])).toEqual([
      [100.25, 0.5, 2],
      [122.25, 4, 1],
      [133.25, 0, 1],
    ]);
    expect(started[2]!.buffer).toEqual({ name: 'other' });
  });

  it('tells where it is, and stops whatever still sounds', () => {
    const { context, started, clock } = contextAt(10);
    const run = playRun(context, sounds, turns, 10.5);
    expect(run.positionMs()).toBeCloseTo(-500);
    clock.currentTime = 13;
    expect(run.positionMs()).toBeCloseTo(2_500);
    run.stop();
    expect(started.every(s => s.stopped)).toBe(true);
  });

  it('leaves out a turn of no length and keeps the others in their places', () => {
    const { context, started } = contextAt(0);
    playRun(context, sounds, [turn('x', 'r', 3_000, 3_000, 5_000), turns[2]!], 0);
    expect(started.map(s => s.when)).toEqual([5]);
  });

  it('fetches each sound once, and says so when one cannot be had', async () => {
    const { context } = contextAt(0);
    const asked: string[] = [];
    globalThis.fetch = (async (url: string) => {
      asked.push(url);
      return new Response(new Uint8Array(8), { status: url.includes('/s/') ? 404 : 200 });
    }) as typeof fetch;
    await expect(loadTurns(context, turns)).rejects.toThrow('could not be fetched');
    expect(asked.sort()).toEqual(['/api/recordings/r/sound', '/api/recordings/s/sound']);
    expect([...(await loadTurns(context, turns.slice(0, 2))).keys()]).toEqual(['r']);
  });
});
