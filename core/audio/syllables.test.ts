import { describe, expect, it } from '@jest/globals';
import { analysed } from '../testing/analysed';
import { babble, overNoise } from '../testing/sounds';
import { soundingStretches } from './activity';
import { ANALYSIS_HZ } from './halves';
import { framesAfter, through, type Layer } from './layers';
import { SYLLABLE_NETWORK } from './syllableNetwork';
import { seenIn, SHARE_SEC, sharesOf, syllableNuclei } from './syllables';

function heard(samples: Float32Array) {
  const { bands, pitch } = analysed(samples);
  const stretches = soundingStretches(bands);
  return {
    nuclei: syllableNuclei(bands, pitch, stretches),
    seen: [...seenIn(bands, pitch, stretches)],
    stretches,
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

  it('lie in order, within the stretches, and are as many as all shares make together', () => {
    const { samples, spans } = babble([6, 4, 9], 5, 0.5, 0.2);
    const { nuclei, seen } = heard(overNoise(samples, -60));
    const sum = seen.reduce((all, s) => all + sharesOf(s).reduce((a, b) => a + b, 0), 0);
    expect(nuclei).toHaveLength(Math.round(sum));
    expect([...nuclei].sort((a, b) => a - b)).toEqual(nuclei);
    for (const sec of nuclei)
      expect(spans.some(s => sec > s.startSec - 0.05 && sec < s.endSec + 0.05)).toBe(true);
    // One in each phrase at least, and by far the most where most was said.
    const within = spans.map(s => nuclei.filter(n => n > s.startSec - 0.05 && n < s.endSec + 0.05).length);
    expect(within[2]).toBeGreaterThan(within[0]!);
    expect(within[0]).toBeGreaterThan(within[1]!);
  });

  it('pass as fast wherever a recording is cut for it to be gone through', () => {
    const { samples } = babble([300], 7, 0.5, 0.16);
    const { seen, stretches } = heard(overNoise(samples, -60));
    expect(seen.length).toBeGreaterThan(2);
    const whole = seen.flatMap(s => Array.from(sharesOf(s)));
    // The same stretch in two that touch: what lies beside a share is looked at on both sides of the cut.
    const { bands, pitch } = analysed(overNoise(samples, -60));
    const { startSec, endSec } = stretches[0]!;
    const cut = startSec + 31 * SHARE_SEC;
    const parted = [
      ...seenIn(bands, pitch, [
        { startSec, endSec: cut },
        { startSec: cut, endSec },
      ]),
    ];
    const others = new Map(parted.flatMap(p => Array.from(sharesOf(p), (x, k) => [p.first + k, x] as const)));
    whole.forEach((share, k) => expect(others.get(seen[0]!.first + k)).toBeCloseTo(share, 6));
  });

  it('of silence and of nothing are none, and of what is over at once there is no trouble', () => {
    expect(heard(new Float32Array(0)).nuclei).toEqual([]);
    expect(heard(overNoise(new Float32Array(ANALYSIS_HZ), -60)).nuclei).toEqual([]);
    const { bands, pitch } = analysed(babble([4], 4).samples);
    for (const endSec of [0.001, 0.004, 0.012]) {
      const short = [{ startSec: 0, endSec }];
      expect(syllableNuclei(bands, pitch, short)).toEqual([]);
      for (const seen of seenIn(bands, pitch, short))
        expect(sharesOf(seen).every(share => share >= 0 && share <= 1)).toBe(true);
    }
    for (const samples of [1, 30, 90, 200]) {
      const { bands: few, pitch: hardly } = analysed(
        Float32Array.from({ length: samples }, (_, i) => 0.5 * Math.sin(i / 3)),
      );
      const found = syllableNuclei(few, hardly, [{ startSec: 0, endSec: 0.01 }]);
      expect(found.length).toBeLessThanOrEqual(1);
      for (const seen of seenIn(few, hardly, [{ startSec: 0, endSec: 0.01 }]))
        expect(sharesOf(seen).every(share => share >= 0 && share <= 1)).toBe(true);
    }
  });
});

describe('the layers of the network', () => {
  it('sum what lies in reach, by tap, and nothing beyond', () => {
    const layer: Layer = {
      ...{ inputs: 2, outputs: 5, taps: 2, spread: 3, stride: 2 },
      weights: Float64Array.from({ length: 20 }, (_, k) => k + 1),
      own: Float64Array.from([0, 1, 2, 3, -1e6]),
    };
    const input = Float64Array.from({ length: 16 }, (_, k) => k);
    expect(framesAfter(layer, 8)).toBe(3);
    const out = through(layer, input, true);
    const byHand = [0, 2, 4].flatMap(t =>
      [0, 1, 2, 3, 4].map(o => {
        const [a, b, c, d] = [4 * o + 1, 4 * o + 2, 4 * o + 3, 4 * o + 4];
        const sum = a * input[2 * t]! + b * input[2 * t + 1]! + c * input[2 * t + 6]! + d * input[2 * t + 7]!;
        return Math.max(0, layer.own[o]! + sum);
      }),
    );
    expect(Array.from(out)).toEqual(byHand);
    expect(framesAfter(layer, 3)).toBe(0);
  });

  it('fit into each other', () => {
    SYLLABLE_NETWORK.forEach((layer, i) => {
      expect(layer.weights).toHaveLength(layer.outputs * layer.taps * layer.inputs);
      expect(layer.own).toHaveLength(layer.outputs);
      expect(layer.outputs).toBe(SYLLABLE_NETWORK[i + 1]?.inputs ?? 1);
    });
  });
});
