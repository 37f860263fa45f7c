import fc from 'fast-check';
import { chirp, CHIRP_SEC, findChirp } from './chirp';
import { checkSound } from './soundCheck';

const RATE = 48_000;

/** Noise that is the same in every run. */
function noise(n: number, loud: number, seed = 1): Float32Array {
  let state = seed;
  return Float32Array.from({ length: n }, () => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648;
    return loud * (state / 1_073_741_824 - 1);
  });
}

/** A room of a second and a half, with the chirp coming in at a moment. */
function room(atSec: number, loud: number, noisy: number): Float32Array {
  const samples = noise(RATE * 1.5, noisy);
  chirp(RATE).forEach((x, i) => (samples[Math.round(atSec * RATE) + i]! += loud * x));
  return samples;
}

describe('the chirp that is listened for', () => {
  it('is found to a fifth of a millisecond, soft or upside down, in a noisy room', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 0.4, noNaN: true }),
        fc.constantFrom(0.3, 0.05, -0.1),
        (delay, loud) => {
          const found = findChirp(room(0.3 + delay, loud, 0.02), RATE, 0.3, 0.8)!;
          expect(Math.abs(found.atMs - delay * 1000)).toBeLessThan(0.2);
        },
      ),
      { numRuns: 6 },
    );
  });

  it('is not made up in noise, in silence, or in somebody’s vowel', () => {
    expect(findChirp(noise(RATE, 0.3), RATE, 0.1, 0.6)).toBeNull();
    expect(findChirp(new Float32Array(RATE), RATE, 0.1, 0.6)).toBeNull();
    const vowel = Float32Array.from({ length: RATE }, (_, i) =>
      [1, 2, 3, 5, 8].reduce((s, k) => s + Math.sin((2 * Math.PI * 140 * k * i) / RATE) / (5 * k), 0),
    );
    expect(findChirp(vowel, RATE, 0.1, 0.6)).toBeNull();
    expect(findChirp(new Float32Array(100), RATE, 0, 1)).toBeNull();
  });

  it('is short, and neither begins nor ends with a click', () => {
    const samples = chirp(RATE);
    expect(samples).toHaveLength(CHIRP_SEC * RATE);
    expect(Math.abs(samples[0]!)).toBeLessThan(1e-3);
    expect(Math.abs(samples.at(-1)!)).toBeLessThan(1e-3);
  });
});

describe('a test recording', () => {
  const speech = (loud: number, room_: number) =>
    noise(RATE * 2, room_).map((x, i) => {
      const speaking = Math.floor(i / (RATE / 4)) % 2 === 0;
      return x + (speaking ? loud * Math.sin((2 * Math.PI * 180 * i) / RATE) : 0);
    });

  it('says whether anything is heard, too loud, or drowned by the room', () => {
    expect(checkSound(speech(0.3, 0.001), RATE).verdict).toBe('good');
    expect(checkSound(new Float32Array(RATE), RATE)).toMatchObject({
      verdict: 'silent',
      peakDbfs: -Infinity,
    });
    expect(checkSound(speech(0.001, 0.0005), RATE).verdict).toBe('silent');
    const distorted = speech(1.6, 0.001).map(x => Math.max(-1, Math.min(1, x)));
    expect(checkSound(distorted, RATE)).toMatchObject({ verdict: 'clipped' });
    expect(checkSound(speech(0.3, 0.05), RATE).verdict).toBe('noisy');
    expect(checkSound(new Float32Array(0), RATE).verdict).toBe('silent');
  });

  it('tells legato playing and held vowels from a noisy room, and a noisy room from them', () => {
    const tone = (hz: number, loud: number, partials: number) =>
      Float32Array.from({ length: RATE * 2 }, (_, i) => {
        let sum = 0;
        for (let n = 1; n <= partials; n++) sum += Math.sin((2 * Math.PI * hz * n * i) / RATE) / n;
        return loud * sum;
      });
    for (const [hz, partials] of [
      [110, 12],
      [262, 6],
      [440, 3],
      [1_046, 1],
    ] as const)
      expect([hz, checkSound(tone(hz, 0.15, partials), RATE).verdict]).toEqual([hz, 'good']);
    // A scale, note upon note without a gap.
    const scale = Float32Array.from({ length: RATE * 2 }, (_, i) => {
      const hz = 262 * 2 ** ([0, 2, 4, 5, 7, 9, 11, 12][Math.floor((4 * i) / RATE)]! / 12);
      return 0.2 * Math.sin((2 * Math.PI * hz * i) / RATE);
    });
    expect(checkSound(scale, RATE).verdict).toBe('good');
    for (const loud of [0.03, 0.1, 0.3])
      expect(checkSound(noise(RATE * 2, loud), RATE).verdict).toBe('noisy');
    // Noise without its high parts, as fans and streets are.
    let last = 0;
    const rumble = noise(RATE * 2, 0.2).map(x => (last = 0.97 * last + 0.06 * x) * 3);
    expect(checkSound(rumble, RATE).verdict).toBe('noisy');
  });

  it('says what is so soft that it will be drowned', () => {
    expect(checkSound(speech(0.012, 0.0002), RATE).verdict).toBe('faint');
    expect(checkSound(speech(0.05, 0.0002), RATE).verdict).toBe('good');
  });

  it('measures the room between the words, not the words', () => {
    const { noiseDbfs } = checkSound(speech(0.5, 0.002), RATE);
    expect(noiseDbfs).toBeGreaterThan(-62);
    expect(noiseDbfs).toBeLessThan(-55);
  });
});
