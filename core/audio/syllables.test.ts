import { describe, expect, it } from '@jest/globals';
import { analysed } from '../testing/analysed';
import { babble, overNoise } from '../testing/sounds';
import { soundingStretches } from './activity';
import { ANALYSIS_HZ } from './halves';
import { latticesOf, WEIGHTS } from './syllableLattice';
import { expectedCount, scoredBy, syllableNuclei } from './syllables';
import { SYLLABLE_WEIGHTS } from './syllableWeights';

function heard(samples: Float32Array) {
  const { bands, pitch } = analysed(samples);
  const stretches = soundingStretches(bands);
  return {
    nuclei: syllableNuclei(bands, pitch, stretches),
    lattices: [...latticesOf(bands, pitch, stretches)],
  };
}

/** Some 150 syllables of several voices, each changed, over a quiet room. @returns counted beside made */
function share(change: (samples: Float32Array, seed: number) => Float32Array): number {
  let counted = 0;
  let made = 0;
  for (let seed = 41; seed <= 48; seed++) {
    const { samples, syllables } = babble([6, 4, 9], seed, 0.5, 0.2);
    counted += heard(overNoise(change(samples, seed), -60, seed)).nuclei.length;
    made += syllables;
  }
  return counted / made;
}

/** One vowel whose level goes up and down, as the tongue's taps in a trill make it. */
function trilled(sec: number, tapsHz: number): Float32Array {
  const out = new Float32Array(Math.round((sec + 0.6) * ANALYSIS_HZ));
  const vowel = babble([1], 3, 0, 2).samples.subarray(Math.round(1.2 * ANALYSIS_HZ));
  for (let i = 0; i < sec * ANALYSIS_HZ; i++) {
    const edge = Math.min(1, i / 400, (sec * ANALYSIS_HZ - i) / 400);
    const tap = 1 - 0.45 * (0.5 + 0.5 * Math.cos((2 * Math.PI * tapsHz * i) / ANALYSIS_HZ));
    out[Math.round(0.3 * ANALYSIS_HZ) + i] = vowel[i % vowel.length]! * edge * tap;
  }
  return out;
}

describe('syllables', () => {
  it('are as many over the telephone, in a room with an echo, and beside a second voice far off', () => {
    expect(Math.abs(share(x => x) - 1)).toBeLessThan(0.07);
    const telephone = (x: Float32Array) => {
      // Two first-order low passes at 3.4 kHz and a high pass at 300 Hz.
      let [a, b, slow] = [0, 0, 0];
      return x.map(v => {
        a += 0.74 * (v - a);
        b += 0.74 * (a - b);
        slow += 0.11 * (b - slow);
        return b - slow;
      });
    };
    expect(Math.abs(share(telephone) - 1)).toBeLessThan(0.1);
    const room = (x: Float32Array) =>
      x.map((v, i) => v + 0.35 * (x[i - 560] ?? 0) + 0.25 * (x[i - 976] ?? 0) + 0.15 * (x[i - 1_424] ?? 0));
    expect(Math.abs(share(room) - 1)).toBeLessThan(0.12);
    const farOff = (x: Float32Array, seed: number) => {
      const other = babble([9, 4, 6], seed + 100, 0.5, 0.2).samples;
      return x.map((v, i) => v + 0.03 * (other[i] ?? 0));
    };
    expect(Math.abs(share(farOff) - 1)).toBeLessThan(0.12);
  });

  it('are not the taps of a trill', () => {
    for (const sec of [0.12, 0.2]) expect(heard(overNoise(trilled(sec, 26), -60)).nuclei).toHaveLength(1);
  });

  it('lie in order, within the stretches, and are as many as all ways have on average', () => {
    const { samples, spans } = babble([6, 4, 9], 5, 0.5, 0.2);
    const { nuclei, lattices } = heard(overNoise(samples, -60));
    const expected = lattices.reduce((sum, l) => sum + expectedCount(scoredBy(l, SYLLABLE_WEIGHTS)), 0);
    expect(nuclei).toHaveLength(Math.round(expected));
    expect([...nuclei].sort((a, b) => a - b)).toEqual(nuclei);
    for (const sec of nuclei)
      expect(spans.some(s => sec > s.startSec - 0.05 && sec < s.endSec + 0.05)).toBe(true);
    // One in each phrase at least, and by far the most where most was said.
    const within = spans.map(s => nuclei.filter(n => n > s.startSec - 0.05 && n < s.endSec + 0.05).length);
    expect(within[2]).toBeGreaterThan(within[0]!);
    expect(within[0]).toBeGreaterThan(within[1]!);
  });

  it('have a weight for each term, and each is used', () => {
    expect(SYLLABLE_WEIGHTS).toHaveLength(WEIGHTS);
    const used = new Set<number>();
    const { lattices } = heard(overNoise(babble([9, 9, 9, 9], 6, 0.4, 0.16).samples, -60));
    for (const l of lattices)
      for (const terms of l.tops.flatMap((_, j) => [
        l.seen(j),
        l.first(j),
        l.last(j),
        ...l.after(j).map(a => a.terms),
      ]))
        for (let k = 0; k < terms.length; k += 2) used.add(terms[k]!);
    // The square of what is always 1 is no term of its own.
    expect(used.size).toBeGreaterThanOrEqual(WEIGHTS - 6);
  });
});
