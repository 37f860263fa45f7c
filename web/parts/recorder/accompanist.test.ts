import { blankMusic } from '@ecoute/contract/blank';
import { accompanist } from './accompanist';

interface Sounding {
  kind: 'tone' | 'track';
  from: number;
  to: number;
  hz: number;
  cut: boolean;
}

/** Just enough of an audio context to see what is scheduled when. */
function fakeContext() {
  const sounding: Sounding[] = [];
  const param = () => ({
    value: 0,
    setValueAtTime: () => undefined,
    linearRampToValueAtTime: () => undefined,
    exponentialRampToValueAtTime: () => undefined,
  });
  const node = (kind: Sounding['kind']) => {
    const own: Sounding = { kind, from: NaN, to: NaN, hz: 0, cut: false };
    const frequency = {
      set value(hz: number) {
        own.hz = hz;
      },
    };
    return {
      frequency,
      buffer: null,
      onended: null,
      setPeriodicWave: () => undefined,
      connect: (to: unknown) => to,
      disconnect: () => (own.cut = true),
      start(when: number, _offset?: number, length?: number) {
        own.from = when;
        if (length !== undefined) own.to = when + length;
        sounding.push(own);
      },
      stop: (when: number) => (own.to = when),
    };
  };
  const context = {
    currentTime: 10,
    outputLatency: 0.02,
    destination: {},
    createGain: () => ({ gain: param(), connect: (to: unknown) => to, disconnect: () => undefined }),
    createOscillator: () => node('tone'),
    createBufferSource: () => node('track'),
    createPeriodicWave: () => ({}),
    decodeAudioData: async () => ({ duration: 30 }),
  };
  return { context: context as unknown as AudioContext, clock: context, sounding };
}

const metronome = { bpm: 120, beats: 3, countInBars: 1, heard: true };

describe('what sounds along with a take', () => {
  beforeEach(() => void jest.useFakeTimers());
  afterEach(() => void jest.useRealTimers());

  it('counts in and keeps the beat, each click at its own place on the clock', async () => {
    const { context, clock, sounding } = fakeContext();
    const band = await accompanist(context, blankMusic({ metronome }));
    band.begin(10.5, 4_000);
    // Only a little ahead of the clock; the rest is scheduled as it comes nearer.
    const early = sounding.length;
    expect(early).toBeLessThan(8);
    clock.currentTime = 14;
    jest.advanceTimersByTime(600);
    const clicks = sounding.map(s => s.from);
    // Three beats of the count-in, then eight of the answer's four seconds.
    expect(clicks).toHaveLength(11);
    clicks.forEach((at, i) => expect(at).toBeCloseTo(10.6 + i * 0.5, 9));
    // The first beat of each bar is higher.
    expect(sounding.map(s => s.hz > 1_500)).toEqual(Array.from({ length: 11 }, (_, i) => i % 3 === 0));
    band.stop();
  });

  it('is only seen after the count-in where it is not to be heard', async () => {
    const { context, clock, sounding } = fakeContext();
    const band = await accompanist(context, blankMusic({ metronome: { ...metronome, heard: false } }));
    band.begin(10.5, 4_000);
    clock.currentTime = 14;
    jest.advanceTimersByTime(600);
    expect(sounding).toHaveLength(3);
    // The beat goes on to be shown, by what is heard now.
    expect(band.beatPositionMs()).toBeCloseTo((14 - 0.02 - 10.6) * 1000, 6);
    band.stop();
    expect(band.beatPositionMs()).toBeNull();
  });

  it('gives the note before the gate, and holds a drone from the first to the last moment', async () => {
    const { context, sounding } = fakeContext();
    const band = await accompanist(context, blankMusic({ startingNote: 69, drone: 57 }));
    expect(band.beforeSec).toBe(1.5);
    band.giveNote(10.1);
    band.begin(12, 5_000);
    expect(sounding.map(s => [s.hz, s.from])).toEqual([
      [440, 10.1],
      [220, 12.1],
    ]);
    expect(sounding[0]!.to).toBeLessThan(11.6);
    expect(sounding[1]!.to).toBeCloseTo(17, 9);
    band.stop();
    expect(sounding[1]!.cut).toBe(true);
  });

  it('begins a backing track with the answer, and says in words when it cannot be had', async () => {
    const { context, sounding } = fakeContext();
    const backing = { recordingId: 'b', durationMs: 30_000, isVideo: false };
    globalThis.fetch = jest.fn(async () => ({
      ok: true,
      arrayBuffer: async () => new ArrayBuffer(8),
    })) as never;
    const band = await accompanist(context, blankMusic({ metronome, backing }));
    band.begin(10.5, 4_000);
    const track = sounding.find(s => s.kind === 'track')!;
    expect(track.from).toBeCloseTo(10.5 + band.layout.answerFromMs / 1000, 9);
    expect(track.to - track.from).toBeCloseTo(4, 9);
    band.stop();
    globalThis.fetch = jest.fn(async () => ({ ok: false })) as never;
    await expect(accompanist(context, blankMusic({ backing }))).rejects.toThrow(/could not be fetched/);
  });
});
