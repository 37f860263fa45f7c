import { describe, expect, it } from '@jest/globals';
import { LevelMeter } from './level';

const sine = (amplitude: number, hz: number, rate: number, sec: number) =>
  Float32Array.from({ length: rate * sec }, (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / rate));

describe('level', () => {
  it('of a sine follows from its amplitude', () => {
    const meter = new LevelMeter(48_000, 1);
    meter.push([sine(0.1, 997, 48_000, 4)]);
    const { peakDbfs, rmsDbfs, loudnessLufs, clippedSamples } = meter.finish();
    expect(peakDbfs).toBeCloseTo(-20, 2);
    expect(rmsDbfs).toBeCloseTo(-23.01, 2);
    // BS.1770: a full-scale sine of 997 Hz in one channel reads −3.01.
    expect(loudnessLufs).toBeCloseTo(-23.01, 1);
    expect(clippedSamples).toBe(0);
  });

  it.each([16_000, 44_100, 96_000])('is the same at %i samples a second', rate => {
    const meter = new LevelMeter(rate, 1);
    meter.push([sine(0.25, 500, rate, 3)]);
    const { loudnessLufs, rmsDbfs } = meter.finish();
    expect(rmsDbfs).toBeCloseTo(-15.05, 2);
    // The weighting at 500 Hz, by the filters of the recommendation.
    expect(Math.abs(loudnessLufs! - rmsDbfs! + 0.66)).toBeLessThan(0.1);
  });

  it('leaves what is much softer out of the loudness, and a dead channel in the power', () => {
    const loud = new LevelMeter(48_000, 2);
    loud.push([sine(0.5, 997, 48_000, 2), new Float32Array(96_000)]);
    loud.push([sine(0.002, 997, 48_000, 10), new Float32Array(480_000)]);
    const { loudnessLufs, peakDbfs, rmsDbfs } = loud.finish();
    // Blocks of 400 ms that lie across the change count, so it is a little less than −9.03.
    expect(loudnessLufs).toBeLessThan(-9);
    expect(loudnessLufs).toBeGreaterThan(-9.6);
    expect(peakDbfs).toBeCloseTo(-6.02, 2);
    expect(rmsDbfs).toBeCloseTo(-9.03 - 3.01 - 10 * Math.log10(6), 1);
  });

  it('counts samples that stand at full scale, but not a peak that just fits', () => {
    const meter = new LevelMeter(8_000, 1);
    const samples = new Float32Array(8_000);
    samples[10] = 1;
    samples.fill(1, 100, 104);
    samples.fill(-1, 200, 202);
    // Also across the edge of two pieces.
    meter.push([samples.subarray(0, 102)]);
    meter.push([samples.subarray(102)]);
    expect(meter.finish().clippedSamples).toBe(6);
  });

  it('of digital silence is none', () => {
    const meter = new LevelMeter(16_000, 1);
    meter.push([new Float32Array(16_000)]);
    expect(meter.finish()).toEqual({ peakDbfs: null, rmsDbfs: null, loudnessLufs: null, clippedSamples: 0 });
    expect(meter.noiseFloorDbfs([])).toBeNull();
    expect(new LevelMeter(16_000, 1).finish().rmsDbfs).toBeNull();
  });

  it('of the room is what lies between', () => {
    const meter = new LevelMeter(16_000, 1);
    const room = sine(0.001 * Math.SQRT2, 300, 16_000, 3);
    room.set(sine(0.3, 300, 16_000, 1), 16_000);
    meter.push([room]);
    expect(meter.noiseFloorDbfs([{ startSec: 1, endSec: 2 }])).toBeCloseTo(-60, 1);
  });

  it('of the room lies between all of many stretches, and in all of it where nobody sounds', () => {
    const meter = new LevelMeter(16_000, 1);
    const room = sine(0.001 * Math.SQRT2, 300, 16_000, 9);
    for (const sec of [0, 2, 4, 8]) room.set(sine(0.3, 300, 16_000, 1), sec * 16_000);
    meter.push([room]);
    const stretches = [0, 2, 4, 8].map(sec => ({ startSec: sec, endSec: sec + 1 }));
    expect(meter.noiseFloorDbfs(stretches)).toBeCloseTo(-60, 1);
    for (const missing of [0, 1, 2, 3])
      expect(meter.noiseFloorDbfs(stretches.filter((_, i) => i !== missing))!).toBeGreaterThan(-40);
    expect(meter.noiseFloorDbfs([])!).toBeGreaterThan(-40);
  });
});
