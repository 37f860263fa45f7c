import { GateFinder } from '@ecoute/core/audio/gate';
import { takeGraph } from './takeGraph';

/** A context that notes what a gate and a tick are told, and what is joined with what. */
function fakeContext() {
  const gain: [string, number, number][] = [];
  const ticks: { at: number; samples: Float32Array }[] = [];
  const ended: string[] = [];
  const gate = {
    gain: {
      value: 1,
      setValueAtTime: (value: number, at: number) => gain.push(['set', value, at]),
      cancelScheduledValues: (at: number) => gain.push(['cancel', 0, at]),
    },
    connect: (to: unknown) => to,
    disconnect: () => ended.push('gate'),
  };
  const track = { stop: () => ended.push('track') };
  globalThis.MediaStreamAudioDestinationNode = class {
    stream = { getTracks: () => [track], getAudioTracks: () => [track] };
  } as never;
  globalThis.MediaStream = class {
    constructor(readonly tracks: unknown[]) {}
  } as never;
  const context = {
    currentTime: 5,
    sampleRate: 48_000,
    createGain: () => gate,
    createBuffer: (_channels: number, length: number) => {
      const samples = new Float32Array(length);
      return { samples, getChannelData: () => samples };
    },
    createBufferSource: () => {
      const source = {
        buffer: null as null | { samples: Float32Array },
        connect: () => undefined,
        start: (at: number) => ticks.push({ at, samples: source.buffer!.samples }),
      };
      return source;
    },
  };
  const source = { connect: (to: unknown) => to, disconnect: () => ended.push('source') };
  return { context: context as never, source: source as never, gate, gain, ticks, ended };
}

describe('the way from the microphone to the recorder', () => {
  it('is shut at first, and opens at its moment with a tick that is found again', () => {
    const { context, source, gate, gain, ticks } = fakeContext();
    const graph = takeGraph(context, source, null);
    expect(gate.gain.value).toBe(0);
    graph.openAt(6.25);
    expect(gain).toEqual([['set', 1, 6.25]]);
    expect(ticks.map(t => t.at)).toEqual([6.25]);
    const recorded = new Float32Array(48_000);
    recorded.set(ticks[0]!.samples, 12_000);
    const finder = new GateFinder(48_000);
    finder.push(recorded);
    expect(Math.abs(finder.openedAtMs! - 250)).toBeLessThan(0.5);
  });

  it('shuts at the limit; a later limit replaces an earlier one, and none takes it back', () => {
    const { context, source, gain } = fakeContext();
    const graph = takeGraph(context, source, null);
    graph.shutAt(9);
    graph.shutAt(null);
    graph.shutAt(12);
    // A limit that has passed is now, not in the past.
    graph.shutAt(3);
    expect(gain).toEqual([
      ['cancel', 0, 5],
      ['set', 0, 9],
      ['cancel', 0, 5],
      ['cancel', 0, 5],
      ['set', 0, 12],
      ['cancel', 0, 5],
      ['set', 0, 5],
    ]);
  });

  it('opens also where a busy card’s clock has not reached its moment when the end is decided', () => {
    const { context, source, gain } = fakeContext();
    const graph = takeGraph(context, source, null);
    graph.openAt(6.25);
    // By the wall clock it is open; the card's stands at 5.
    graph.shutAt(26.25);
    expect(gain).toEqual([
      ['set', 1, 6.25],
      ['cancel', 0, 6.251],
      ['set', 0, 26.25],
    ]);
    // Nor is what is stopped at once shut before it was open.
    graph.shutAt(5);
    expect(gain.at(-1)).toEqual(['set', 0, 6.251]);
  });

  it('records a picture along, and lets go of everything it made', () => {
    const { context, source, ended } = fakeContext();
    const film = { kind: 'video' };
    const graph = takeGraph(context, source, film as never);
    expect((graph.stream as unknown as { tracks: unknown[] }).tracks).toContain(film);
    graph.close();
    expect(ended.sort()).toEqual(['gate', 'source', 'track']);
  });
});
