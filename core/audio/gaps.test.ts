import { envelopeOf, soundStretches } from './gaps';
import { PeakMeter } from './peaks';

const RATE = 16_000;

/** Noise-like speech with syllables of 150 ms, at a level. */
function speech(seconds: number, amplitude: number, seed = 1): Float32Array {
  let state = seed;
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0;
    const syllable = 0.35 + 0.65 * Math.abs(Math.sin((Math.PI * i) / (0.15 * RATE)));
    return amplitude * syllable * (state / 2 ** 31 - 1);
  });
}
const noise = (seconds: number, amplitude: number) => {
  let state = 7;
  return Float32Array.from({ length: Math.round(seconds * RATE) }, () => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0;
    return amplitude * (state / 2 ** 31 - 1);
  });
};

function stretches(parts: Float32Array[], shortestGapMs = 1_000, marginMs = 0) {
  const meter = new PeakMeter(RATE);
  parts.forEach(p => meter.push(p));
  return soundStretches(envelopeOf(meter.finish().peaks), 10, { shortestGapMs, marginMs });
}
const near = (found: { startMs: number; endMs: number }[], wanted: [number, number][]) => {
  expect(found).toHaveLength(wanted.length);
  found.forEach((s, i) => {
    expect(Math.abs(s.startMs - wanted[i]![0])).toBeLessThanOrEqual(60);
    expect(Math.abs(s.endMs - wanted[i]![1])).toBeLessThanOrEqual(60);
  });
};

describe('the gaps of a track', () => {
  const track = (loud: number, room: number) => [
    noise(0.5, room),
    speech(2, loud),
    noise(1.5, room),
    speech(1, loud, 5),
    noise(0.4, room),
    speech(0.8, loud, 9),
    noise(2, room),
    speech(1.2, loud, 3),
    noise(0.5, room),
  ];
  const wanted: [number, number][] = [
    [500, 2_500],
    [4_000, 6_200],
    [8_200, 9_400],
  ];

  it.each([
    ['a clean track', 0.5, 0],
    ['a noisy room', 0.5, 0.03],
    ['a quiet track', 0.06, 0.004],
  ])('are the silences, and pauses inside a turn are not: %s', (_, loud, room) => {
    near(stretches(track(loud, room)), wanted);
  });

  it('are more where shorter silences count', () => {
    expect(stretches(track(0.5, 0), 300)).toHaveLength(4);
    expect(stretches(track(0.5, 0), 1_800)).toHaveLength(2);
  });

  it('leave a margin around what is said, but never reach into a neighbour', () => {
    const [plain, wide] = [stretches(track(0.5, 0), 300), stretches(track(0.5, 0), 300, 300)];
    expect(plain[0]!.startMs - wide[0]!.startMs).toBe(300);
    for (let i = 1; i < wide.length; i++) expect(wide[i]!.startMs).toBeGreaterThanOrEqual(wide[i - 1]!.endMs);
    expect(wide.at(-1)!.endMs).toBeLessThanOrEqual(9_900);
  });

  it('take no click for a turn', () => {
    near(stretches([noise(1, 0.002), speech(0.03, 0.6), noise(2, 0.002), speech(1, 0.5), noise(1, 0.002)]), [
      [3_030, 4_030],
    ]);
  });

  it('are none in silence, and one stretch where nothing is silent', () => {
    expect(stretches([noise(3, 0)])).toEqual([]);
    expect(stretches([noise(3, 0.4)])).toEqual([{ startMs: 0, endMs: 3_000 }]);
    expect(() => soundStretches(new Float32Array(3), 0, { shortestGapMs: 1 })).toThrow(RangeError);
  });
});
