import { describe, expect, it } from '@jest/globals';
import { BandMeter, bandDb, BANDS, BAND_HOP_SEC } from './bands';
import { ANALYSIS_HZ, HalfSplitter } from './halves';
import { overNoise, tone, TONES } from '../testing/sounds';

const sine = (hz: number, sec = 1) =>
  Float32Array.from(
    { length: ANALYSIS_HZ * sec },
    (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / ANALYSIS_HZ),
  );
const power = (x: Float32Array) => x.slice(500, -500).reduce((sum, v) => sum + v * v, 0) / (x.length - 1_000);

function split(samples: Float32Array, piece = samples.length) {
  const splitter = new HalfSplitter();
  const low: number[] = [];
  const high: number[] = [];
  const put = (halves: { low: Float32Array; high: Float32Array }) => {
    low.push(...halves.low);
    high.push(...halves.high);
  };
  for (let i = 0; i < samples.length; i += piece) put(splitter.push(samples.subarray(i, i + piece)));
  put(splitter.finish());
  return { low: Float32Array.from(low), high: Float32Array.from(high) };
}

describe('the halves of a sound', () => {
  it.each([
    [200, 'low'],
    [3_000, 'low'],
    [5_500, 'high'],
    [7_500, 'high'],
  ] as const)('part at 4 kHz: %i Hz lies in the %s one', (hz, where) => {
    const { low, high } = split(sine(hz));
    const [own, other] = where === 'low' ? [low, high] : [high, low];
    expect(power(own)).toBeCloseTo(0.125, 3);
    expect(10 * Math.log10(power(other) / power(own))).toBeLessThan(-60);
  });

  it('keep each sample in its place', () => {
    const samples = new Float32Array(2_000);
    samples[700] = 1;
    const { low } = split(samples);
    expect(low).toHaveLength(1_000);
    expect(low.indexOf(Math.max(...low))).toBe(350);
  });

  it('are the same in whatever pieces the sound comes, odd ones too', () => {
    const { samples } = tone(313, 0.4, TONES.rich!);
    const whole = split(samples);
    for (const piece of [1, 7, 1_000, 4_095]) {
      const pieces = split(samples, piece);
      expect(pieces.low).toEqual(whole.low);
      expect(pieces.high).toEqual(whole.high);
    }
  });
});

function bandsOf(samples: Float32Array, piece = samples.length) {
  const splitter = new HalfSplitter();
  const meter = new BandMeter();
  for (let i = 0; i < samples.length; i += piece) meter.push(splitter.push(samples.subarray(i, i + piece)));
  meter.push(splitter.finish());
  return meter.finish();
}

describe('bands', () => {
  it('have the level of what lies in them, and together that of the whole', () => {
    for (const [hz, band] of [
      [250, 1],
      [700, 3],
      [1_100, 4],
      [3_100, 6],
      [6_000, 7],
    ] as const) {
      const bands = bandsOf(sine(hz));
      // A sine of amplitude one half: −9 dBFS.
      expect(Math.abs(bandDb(bands, 100, band) + 9)).toBeLessThan(0.6);
      expect(Math.abs(bands.total[100]! + 9)).toBeLessThan(0.6);
      for (let other = 0; other < BANDS; other++)
        if (Math.abs(other - band) > 1) expect(bandDb(bands, 100, other)).toBeLessThan(-35);
    }
  });

  it('have a hop for each 5 ms, in whatever pieces the sound comes', () => {
    const sound = overNoise(sine(440), -40);
    const whole = bandsOf(sound);
    expect(whole.count).toBe(1 / BAND_HOP_SEC);
    for (const piece of [333, 8_000]) expect(bandsOf(sound, piece)).toEqual(whole);
    expect(bandsOf(new Float32Array(0)).count).toBe(0);
  });

  it('rise where something begins, and not where a tone only wavers', () => {
    const { samples } = tone(440, 1, { ...TONES.rich!, vibratoCents: 50 });
    const sound = new Float32Array(2 * ANALYSIS_HZ);
    sound.set(samples, ANALYSIS_HZ / 2);
    const { rise } = bandsOf(overNoise(sound, -60));
    const at = rise.indexOf(Math.max(...rise));
    expect(Math.abs(at * BAND_HOP_SEC - 0.5)).toBeLessThan(0.02);
    expect(rise[at]!).toBeGreaterThan(5);
    expect(Math.max(...rise.slice(120, 290))).toBeLessThan(2);
  });
});
