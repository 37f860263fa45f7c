import { describe, expect, it } from '@jest/globals';
import { tone, TONES, withNoise } from '../testing/sounds';
import { ANALYSIS_HZ } from './halves';
import { resampled } from './resample';
import { heardNow } from './tuner';

/** A sine at any rate. */
function sine(hz: number, rateHz: number, sec: number, amplitude = 0.3) {
  return Float32Array.from(
    { length: Math.round(rateHz * sec) },
    (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / rateHz),
  );
}

describe('a sound at another rate', () => {
  it.each([
    [48_000, 16_000],
    [44_100, 16_000],
    [8_000, 16_000],
  ])('from %i to %i Hz is the same sound', (from, to) => {
    const out = resampled(sine(440, from, 0.2), from, to);
    const truth = sine(440, to, 0.2);
    expect(out).toHaveLength(Math.floor((0.2 * from) / (from / to)));
    // Away from the edges, where there is nothing to reckon with.
    for (let i = 400; i < out.length - 400; i++) expect(Math.abs(out[i]! - truth[i]!)).toBeLessThan(0.003);
  });

  it('loses what the lower rate cannot hold, and refuses rates that are none', () => {
    const high = resampled(sine(10_000, 48_000, 0.1), 48_000, 16_000);
    expect(Math.max(...high.subarray(200, -200).map(Math.abs))).toBeLessThan(0.01);
    expect(() => resampled(high, 0, 16_000)).toThrow(RangeError);
    expect(resampled(high, 16_000, 16_000)).toBe(high);
  });
});

describe('the tuner', () => {
  it.each([
    ['a low string', 82.41, TONES.stiffString!, 40],
    ['a voice', 220 * 2 ** (20 / 1200), TONES.rich!, 57],
    ['a recorder', 1046.5, TONES.hollow!, 84],
  ])('hears %s', (_, hz, kind, midi) => {
    const { samples } = tone(hz, 0.6, kind);
    const heard = heardNow(withNoise(samples, 25), ANALYSIS_HZ);
    expect(heard.midi).toBe(midi);
    expect(Math.abs(1200 * Math.log2(heard.hz! / hz))).toBeLessThan(6);
  });

  it('hears at the rate of a microphone, and says how far from the note it is', () => {
    const heard = heardNow(sine(440 * 2 ** (-30 / 1200), 44_100, 0.5), 44_100);
    expect(heard.midi).toBe(69);
    expect(heard.cents).toBeCloseTo(-30, 0);
    expect(heard.dbfs).toBeCloseTo(20 * Math.log10(0.3 / Math.SQRT2), 0);
  });

  it('hears no tone in silence, in noise, and in next to nothing', () => {
    expect(heardNow(new Float32Array(8_000), ANALYSIS_HZ)).toEqual({
      dbfs: -120,
      hz: null,
      midi: null,
      cents: null,
    });
    expect(heardNow(withNoise(new Float32Array(8_000).fill(1e-9), -60), ANALYSIS_HZ).hz).toBeNull();
    const noise = Float32Array.from({ length: 8_000 }, (_, i) => 0.2 * Math.sin(i * i * 0.37));
    expect(heardNow(noise, ANALYSIS_HZ).hz).toBeNull();
    expect(heardNow(new Float32Array(10), ANALYSIS_HZ).hz).toBeNull();
  });
});
