import fc from 'fast-check';
import { GateFinder, TICK_AMPLITUDE, TICK_HZ, TICK_SEC } from './gate';

const RATE = 16_000;

/** Silence, then a tick and some room noise. */
function take(silentMs: number, lengthMs: number, noise = 0.0004): Float32Array {
  const samples = new Float32Array(Math.round((lengthMs / 1000) * RATE));
  const from = Math.round((silentMs / 1000) * RATE);
  for (let i = from; i < samples.length; i++) {
    const t = (i - from) / RATE;
    const tick = t < TICK_SEC ? TICK_AMPLITUDE * Math.sin(2 * Math.PI * TICK_HZ * t) : 0;
    samples[i] = tick + noise * Math.sin(i * 12.9898) * Math.cos(i * 78.233);
  }
  return samples;
}

function openedAt(samples: Float32Array, piece = 512): number | null {
  const gate = new GateFinder(RATE);
  for (let i = 0; i < samples.length; i += piece) gate.push(samples.subarray(i, i + piece));
  return gate.openedAtMs;
}

describe('the gate of a take', () => {
  it('is found within a millisecond, wherever it is and however the sound comes in pieces', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 25, max: 900 }),
        fc.integer({ min: 1, max: 4_000 }),
        (silentMs, piece) => {
          const found = openedAt(take(silentMs, silentMs + 300), piece)!;
          expect(Math.abs(found - silentMs)).toBeLessThan(1);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('is found under what an encoder makes of silence, and in a loud room', () => {
    const whispering = take(200, 500).map((x, i) => x + 2e-34 * (i % 3));
    expect(openedAt(whispering)).toBeCloseTo(200, 0);
    expect(openedAt(take(200, 500, 0.2))).toBeCloseTo(200, 0);
  });

  it('has let something through up to where it shut, however long the recorder went on after that', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 3_000 }),
        fc.integer({ min: 1, max: 4_000 }),
        (afterMs, piece) => {
          const shut = Float32Array.of(...take(100, 400), ...new Float32Array((RATE * afterMs) / 1_000));
          const gate = new GateFinder(RATE);
          for (let i = 0; i < shut.length; i += piece) gate.push(shut.subarray(i, i + piece));
          expect(Math.abs(gate.soundsUntilMs - 400)).toBeLessThan(5);
        },
      ),
      { numRuns: 30 },
    );
    expect(new GateFinder(RATE).soundsUntilMs).toBe(0);
  });

  it('is not made up where a sound begins at once, or never', () => {
    expect(openedAt(take(0, 500))).toBeNull();
    expect(openedAt(take(10, 500))).toBeNull();
    expect(openedAt(new Float32Array(RATE))).toBeNull();
    expect(openedAt(new Float32Array(0))).toBeNull();
  });
});
