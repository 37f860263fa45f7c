import { describe, expect, it } from '@jest/globals';
import { pitchedStretches } from './activity';
import { HALF_HZ } from './halves';
import { MOST_PARTIALS, PartialReader } from './partials';
import { pausesBetween } from './speech';

/** Partials of a string at 8 kHz. */
function string(hz: number, stiffness: number, amplitudes: readonly number[]): Float32Array {
  return Float32Array.from({ length: 2_000 }, (_, i) =>
    amplitudes.reduce((sum, a, k) => {
      const n = k + 1;
      const f = n * hz * Math.sqrt(1 + stiffness * n * n);
      return sum + a * Math.sin((2 * Math.PI * f * i) / HALF_HZ + n);
    }, 0),
  );
}
const cents = (hz: number, truth: number) => 1_200 * Math.log2(hz / truth);
const read = (samples: Float32Array, about: number) =>
  new PartialReader(HALF_HZ).fundamental(samples, 1_000, about)!;

describe('the fundamental read from partials', () => {
  it('is exact for one sinusoid, also when it is looked for a little beside', () => {
    for (const about of [215, 220, 226])
      expect(Math.abs(cents(read(string(220, 0, [0.3]), about).hz, 220))).toBeLessThan(0.5);
    expect(read(string(220, 0, [0.3]), 220).amplitude).toBeCloseTo(0.3, 2);
  });

  it.each([1e-4, 5e-4, 1.5e-3])(
    'is the first partial of a string of stiffness %d, not its mean',
    stiffness => {
      const truth = 130 * Math.sqrt(1 + stiffness);
      const found = read(string(130, stiffness, [0.2, 0.3, 0.3, 0.2, 0.1]), 131).hz;
      expect(Math.abs(cents(found, truth))).toBeLessThan(1.5);
      // The partials themselves lie higher.
      expect(cents((5 * 130 * Math.sqrt(1 + 25 * stiffness)) / 5, truth)).toBeGreaterThan(1.9);
    },
  );

  it('is found where it is hardly there', () => {
    expect(Math.abs(cents(read(string(110, 0, [0.005, 0.3, 0.2, 0.2]), 110).hz, 110))).toBeLessThan(0.5);
  });

  it('is told to lie an octave or a twelfth higher where nothing lies between', () => {
    const multiple = (amplitudes: number[], hz = 110) => read(string(hz, 0, amplitudes), hz).multiple;
    expect(multiple([0, 0.3, 0, 0.2, 0, 0.1])).toBe(2);
    expect(multiple([0.002, 0.3, 0.001, 0.2, 0.002, 0.1])).toBe(2);
    expect(multiple([0, 0, 0.3, 0, 0, 0.2])).toBe(3);
    // Two tones whose common measure it is: the stronger counts.
    expect(multiple([0, 0, 0, 0.1, 0.3, 0])).toBe(5);
    // A weak first partial, a hollow tone, a telephone, one partial alone: all as they are.
    for (const whole of [
      [0.01, 0.3, 0.2, 0.2],
      [0.3, 0, 0.2, 0, 0.1],
      [0, 0, 0.2, 0.2, 0.1, 0.1],
      [0, 0, 0, 0.3, 0, 0],
    ])
      expect(multiple(whole)).toBe(1);
    // Higher than any pitch that is looked for.
    expect(multiple([0, 0.3, 0, 0.2, 0, 0.1], 1_200)).toBe(1);
  });

  it('has not the partial of another tone that sounds beside where its own would lie', () => {
    // 208 Hz, an octave below which is looked, and 165 Hz dying away: its second lies near three times 104.
    const own = string(207.7, 0, [0.3, 0.2, 0.1]);
    const other = string(164.8, 0, [0.06, 0.06]);
    const found = read(
      own.map((x, i) => x + other[i]!),
      103.8,
    );
    expect(found.multiple).toBe(2);
    expect(found.shares[2]).toBe(0);
    expect([...found.shares].reduce((a, b) => a + b)).toBeCloseTo(1);
  });

  it('is none in silence, and none beyond the ends of the sound', () => {
    const reader = new PartialReader(HALF_HZ);
    expect(reader.fundamental(new Float32Array(500), 250, 200)).toBeNull();
    expect(reader.fundamental(string(200, 0, [0.2]), 20_000, 200)).toBeNull();
    // Half inside is enough.
    expect(Math.abs(cents(reader.fundamental(string(200, 0, [0.2]), 0, 200)!.hz, 200))).toBeLessThan(20);
  });
});

describe('where a pitch is heard', () => {
  const pitch = (hz: number[]) => ({
    hopSec: 0.01,
    hz: Float32Array.from(hz),
    confidence: new Float32Array(hz.length),
    partials: new Uint8Array(hz.length * MOST_PARTIALS),
  });
  const run = (value: number, count: number) => new Array<number>(count).fill(value);

  it('is one stretch over short gaps and two over a pause', () => {
    const hz = [...run(200, 50), ...run(0, 20), ...run(210, 40), ...run(0, 30), ...run(190, 30)];
    const found = pitchedStretches(pitch(hz), 1.7);
    expect(found).toHaveLength(2);
    expect(found[0]!.startSec).toBe(0);
    expect(found[1]!.endSec).toBeCloseTo(1.695);
    const [pause] = pausesBetween(found);
    expect(pause!.endSec - pause!.startSec).toBeCloseTo(0.3);
  });

  it('is nowhere where only some of it has one', () => {
    expect(pitchedStretches(pitch([...run(200, 20), ...run(0, 80)]), 1)).toEqual([]);
    expect(pitchedStretches(pitch([]), 0)).toEqual([]);
  });
});
